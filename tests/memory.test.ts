import type { FullRig } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import type { GearRecord, Kept } from '@idle-step/contract';
import { PLAIN_PORT } from '@idle-step/core/gear';
import { readMemory, memoryOf } from '@idle-step/core/memory';
import { demoPresets, demoRig } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { fill, openPage, pressButton, textIs, until, useApp } from './support/app';

const running = useApp();
const board = demoRig.boards[0]!;
const preset = demoPresets.find((p) => p.id === board.presetId)!;

const put = async <T extends { id: string }>(path: string, change: (doc: T) => T): Promise<void> => {
  const { doc, version } = await running.app.get<Kept<T>>(path);
  const answer = await fetch(`${running.app.base}/api${path}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"` },
    body: JSON.stringify(change(doc)),
  });
  expect(answer.status).toBe(200);
};

/** How the four places stand, in words. */
const places = (page: Page, ...wanted: readonly string[]) =>
  until(
    'the four places',
    () => page.$$eval('.memory-states strong', (all) => all.map((e) => (e as HTMLElement).innerText.trim())),
    (texts) => JSON.stringify(texts) === JSON.stringify([preset.name, ...wanted]),
  );
const said = (page: Page, text: string) => textIs(page, '.transfer .notice', (t) => t.includes(text));

describe('a board that works by itself', () => {
  it('is sent its preset, read back, stored, and says what differs', async () => {
    await put<FullRig>(`/rigs/${demoRig.id}`, (rig) => ({
      ...rig,
      boards: rig.boards.map((b) => (b.id === board.id ? { ...b, mode: 'standalone' } : b)),
    }));
    const page = await openPage(running.browser, running.app.base, `/floor/${board.id}/memory`);
    await places(page, 'as it is here', 'nothing known', 'nothing known');
    await pressButton(page, 'Send and read back');
    await textIs(page, '.transfer .field-error', (t) =>
      t.includes('No cable leads from the computer to Plank 10'),
    );
    // With an in by USB.
    await put<FullRig>(`/rigs/${demoRig.id}`, (rig) => ({
      ...rig,
      devices: rig.devices.map((d) =>
        d.id === board.deviceId
          ? {
              ...d,
              ports: [
                ...d.ports,
                {
                  ...PLAIN_PORT,
                  id: crypto.randomUUID(),
                  name: 'In',
                  direction: 'in',
                  link: 'usb',
                  atComputer: true,
                },
              ],
            }
          : d,
      ),
    }));
    await page.reload();
    // The way in is written down with the board, and ticked off.
    await pressButton(page, 'Write the steps');
    expect(await page.$eval('#receive-steps', (e) => (e as HTMLTextAreaElement).value)).toContain(
      'Hold far 1 and far 2',
    );
    await pressButton(page, 'Keep');
    await page.locator('.receive-steps li.next input').click();
    await textIs(page, '.receive-steps li.next', (t) => t.includes('Hold far 1 and far 2'));
    expect(await axeViolations(page)).toEqual([]);
    // The board is there and not ready: it is deaf.
    await page
      .locator('.simulated-board input[role="switch"], .simulated-board input[type="checkbox"]')
      .click();
    await pressButton(page, 'Switch on');
    await textIs(page, '.simulated-panel [role="status"]', (t) => t === 'plays by what it keeps');
    await pressButton(page, 'Send and read back');
    await said(page, 'Plank 10 does not answer');
    await pressButton(page, 'Switch off');
    for (const key of ['far 1', 'far 2'])
      await page.locator(`.simulated-keys button ::-p-text(${key})`).click();
    await pressButton(page, 'Switch on');
    await textIs(page, '.simulated-panel [role="status"]', (t) => t.startsWith('ready to receive'));
    await page.locator('.simulated-panel summary').click();
    await fill(page, 'Lost, %', '2');
    await fill(page, 'Damaged, %', '5');
    await pressButton(page, 'Send and read back');
    await said(page, 'Sent and read back');
    await places(page, 'as it is here', 'as it is here', 'nothing known');
    expect(await axeViolations(page)).toEqual([]);
    // What the board has by its bytes is what the preset says.
    const [record] = await until(
      'the record',
      () => running.app.get<GearRecord[]>(`/records?rigId=${demoRig.id}`),
      (all) => all.length === 1,
    );
    const { what } = record!;
    if (what.kind !== 'board' || what.sent === null || what.sent === 'unknown') throw new Error('not sent');
    const { doc: rig } = await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
    const wanted = memoryOf(
      rig,
      rig.boards.find((b) => b.id === board.id)!,
      preset,
    ).memory;
    expect(readMemory(Uint8Array.from(Buffer.from(what.sent.bytes, 'base64')))).toEqual({
      ok: true,
      value: wanted,
    });
    // Switched off before it is stored, it has forgotten, and that is said when it is looked at.
    await pressButton(page, 'Switch off');
    for (const key of ['far 1', 'far 2'])
      await page.locator(`.simulated-keys button ::-p-text(${key})`).click();
    for (const key of ['far 1', 'far 2'])
      await page.locator(`.simulated-keys button ::-p-text(${key})`).click();
    await pressButton(page, 'Switch on');
    await pressButton(page, 'See what is in it');
    await places(page, 'as it is here', 'nothing known', 'nothing known');
    await pressButton(page, 'Send and read back');
    await said(page, 'Sent and read back');
    await pressButton(page, 'Store in the board');
    await pressButton(page, 'Store it');
    await said(page, 'Stored: the board keeps it');
    await places(page, 'as it is here', 'as it is here', 'as it is here');
    // An edit shows at once where it is not yet.
    await put<Preset>(`/presets/${preset.id}`, (doc) => ({
      ...doc,
      banks: doc.banks.map((b, i) => (i === 0 ? { ...b, name: 'Other' } : b)),
    }));
    await page.reload();
    await places(page, 'as it is here', 'differs in 1 place', 'differs in 1 place');
    await textIs(page, '.memory-differences', (t) => t.includes('name of the bank') && t.includes('Other'));
    await textIs(page, '.board-states', (t) => t === 'sent: differs in 1 place; stored: differs in 1 place');
    // It plays by what it kept, and what it plays arrives.
    await pressButton(page, 'Switch on');
    await textIs(page, '.simulated-panel [role="status"]', (t) => t === 'plays by what it keeps');
    await page.locator('.simulated-keys button ::-p-text(far 1)').click();
    await textIs(page, '.simulated-memory', (t) => t.includes('ch 3') || t.includes('CC 24'));
  });

  it('is sent its preset while the server is away, which is told once it is back', async () => {
    const page = await openPage(running.browser, running.app.base, `/floor/${board.id}/memory`);
    await page.waitForSelector('.memory-room');
    if (!(await page.$('.simulated-panel')))
      await page.locator('.simulated-board input[type="checkbox"]').click();
    for (const key of ['far 1', 'far 2'])
      await page.locator(`.simulated-keys button ::-p-text(${key})`).click();
    await pressButton(page, 'Switch on');
    await running.app.kill();
    await pressButton(page, 'Send and read back');
    await said(page, 'Sent and read back');
    await textIs(page, '.memory-room', (t) => t.includes('The server has not taken this yet'));
    await textIs(page, '.memory-states li:nth-child(3)', (t) => t.includes('as it is here'));
    // It is told again, also by the page that was loaded anew meanwhile.
    await running.app.up();
    await until(
      'the record',
      () => running.app.get<GearRecord[]>(`/records?rigId=${demoRig.id}`),
      ([record]) =>
        record?.what.kind === 'board' &&
        record.what.sent !== null &&
        record.what.sent !== 'unknown' &&
        Date.parse(record.what.sent.at) > Date.now() - 60_000,
    );
    await textIs(page, '.memory-room', (t) => !t.includes('The server has not taken this yet'));
  });
});
