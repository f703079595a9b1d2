import type { Page } from 'puppeteer-core';
import { DEMO_PORT, demoRig } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { openPage, pressButton, textIs, until, useApp } from './support/app';
import { bindPort, FAKE_SOURCE, hexOf, openRoom } from './support/ports';

const running = useApp();

/** Two equal interfaces, each with an input and an output, all of one name. */
const EQUAL = { inputs: ['Box', 'Box'], outputs: ['Box', 'Box'] };

async function opened(
  path: string,
  names: typeof EQUAL,
  bindings: Record<string, string>,
): ReturnType<typeof openPage> {
  return openPage(running.browser, running.app.base, path, async (page) => {
    await page.evaluateOnNewDocument((ports) => void Object.assign(window, { midiNames: ports }), names);
    await page.evaluateOnNewDocument(FAKE_SOURCE);
    await page.evaluateOnNewDocument((ports) => {
      localStorage.setItem('idle-step.ports', ports);
      localStorage.setItem('idle-step.ports-wanted', 'true');
    }, JSON.stringify(bindings));
  });
}

/** How many lines the monitor has recorded. */
const lineCount = (page: Page): Promise<number> =>
  page.$eval('[aria-label="Monitor"]', (e) => Number((e as HTMLElement).dataset['recorded']));

const sentBy = async (page: Page, name: string): Promise<string[]> =>
  hexOf(
    await page.evaluate(
      (n) => (window as never as { midiFake: { sent(n: string): number[][] } }).midiFake.sent(n),
      name,
    ),
  );

const deliver = (page: Page, name: string, ...bytes: number[]): Promise<void> =>
  page.evaluate(
    (n, b) =>
      (window as never as { midiFake: { deliver(n: string, b: number[]): void } }).midiFake.deliver(n, b),
    name,
    bytes,
  );

describe('interfaces whose ports all have one name, two of them', () => {
  const bindings = {
    [DEMO_PORT.crossbarIn1]: 'Box',
    [DEMO_PORT.crossbarOutA]: 'Box',
    [DEMO_PORT.twigUsb]: 'Box (2)',
  };

  it('a press is one message, heard once and sent by the right one', async () => {
    const page = await opened('/floor', EQUAL, bindings);
    await textIs(page, '.ports-word', (t) => t === '2 in, 1 out');
    // Plank 10 far 1 toggles Drive.
    await deliver(page, 'Box', 0xbf, 0x24, 0x7f);
    await until(
      'sent',
      () => sentBy(page, 'Box'),
      (s) => s.length > 0,
    );
    await deliver(page, 'Box', 0xbf, 0x24, 0x00);
    expect(await sentBy(page, 'Box')).toEqual(['B2 18 7F']);
    expect(await sentBy(page, 'Box (2)')).toEqual([]);
    await deliver(page, 'Box (2)', 0xbf, 0x24, 0x7f);
    expect(await sentBy(page, 'Box')).toEqual(['B2 18 7F']);
    expect(page.troubles).toEqual([]);
    await page.close();
  });

  it('binding one input to two ports is said, and still counts once in learning and in the monitor', async () => {
    const page = await opened('/rig', EQUAL, bindings);
    await bindPort(page, 'Crossbar', 'In 2', 'Box');
    await textIs(page, '[aria-label="Ports of Crossbar"]', (t) =>
      t.includes('Box is bound to Crossbar In 1 too: each message counts at both'),
    );
    const before = await until(
      'counted',
      () => lineCount(page),
      (n) => n >= 0,
    );
    await deliver(page, 'Box', 0xbf, 0x63, 0x05);
    await until(
      'a line',
      () => lineCount(page),
      (n) => n > before,
    );
    expect(await lineCount(page)).toBe(before + 1);
    expect(page.troubles).toEqual([]);
    await page.close();
  });
});

it('a hub that the computer hears is offered inputs, so that keys can be fed', async () => {
  const page = await opened('/rig', EQUAL, {});
  await openRoom(page, 'Bollard', 'Ports');
  const { name } = demoRig.devices.flatMap((d) => d.ports).find((p) => p.id === DEMO_PORT.bollardUsb)!;
  await bindPort(page, 'Bollard', name, 'Box (2)');
  await textIs(page, '.ports-word', (t) => t.startsWith('1 in'));
  expect(page.troubles).toEqual([]);
  await page.close();
});

it('one rig in two windows: the one that plays hears and sends, once', async () => {
  const bindings = { [DEMO_PORT.crossbarIn1]: 'Box', [DEMO_PORT.crossbarOutA]: 'Box' };
  const first = await opened('/floor', EQUAL, bindings);
  await textIs(first, '.ports-word', (t) => t === '1 in, 1 out');
  const second = await opened('/floor', EQUAL, bindings);
  await deliver(first, 'Box', 0xbf, 0x24, 0x7f);
  await deliver(second, 'Box', 0xbf, 0x24, 0x7f);
  const counts = async () =>
    [(await sentBy(first, 'Box')).length, (await sentBy(second, 'Box')).length].sort();
  await until('sent once', counts, (c) => c.join() === '0,1');
  await second.close();
  await first.close();
});

it('two rigs on one interface: only the one in play is bound to it', async () => {
  const bindings = {
    [DEMO_PORT.crossbarIn1]: 'Box',
    [DEMO_PORT.crossbarOutA]: 'Box',
    'a-port-of-another-rig': 'Box',
  };
  const page = await opened('/floor', EQUAL, bindings);
  await textIs(page, '.ports-word', (t) => t === '1 in, 1 out');
  await deliver(page, 'Box', 0xbf, 0x24, 0x7f);
  await until(
    'sent',
    () => sentBy(page, 'Box'),
    (s) => s.length > 0,
  );
  expect(await sentBy(page, 'Box')).toEqual(['B2 18 7F']);
  await page.close();
});

it('pads struck one right after the other are each learned along the row', async () => {
  const page = await opened('/floor', EQUAL, {});
  await pressButton(page, 'Add a board');
  await page.locator('.dropdown-item::-p-text(Three switches in a row)').click();
  await page.locator('[aria-label="switch 1 CC 20"]').click();
  await page.keyboard.down('Shift');
  await page.locator('[aria-label="switch 2 CC 21"]').click();
  await page.locator('[aria-label="switch 3 CC 22"]').click();
  await page.keyboard.up('Shift');
  await pressButton(page, 'Learn 3 in a row');
  await textIs(page, '.learn-ask', (t) => t.startsWith('Press switch 1'));
  // Each message bears the time at which the foot moved, however late a busy machine brings it.
  await page.evaluate(
    async (notes) => {
      const { midiFake } = window as never as {
        midiFake: { deliver(name: string, bytes: number[], atMs: number): void };
      };
      const begunMs = performance.now();
      const moves = notes.flatMap((note, i) => [
        { atMs: begunMs + 300 * i, bytes: [0x99, note, 90] },
        { atMs: begunMs + 300 * i + 60, bytes: [0x89, note, 64] },
      ]);
      for (const { atMs, bytes } of moves) {
        await new Promise((done) => setTimeout(done, atMs - performance.now()));
        midiFake.deliver('Box (2)', bytes, atMs);
      }
    },
    [50, 52, 54],
  );
  await textIs(page, '.learn-said', (t) =>
    [50, 52, 54].every((n) => t.includes(`sends note ${n} on channel 10`)),
  );
  expect(page.troubles).toEqual([]);
  await page.close();
});
