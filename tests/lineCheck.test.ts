import type { GearRecord, Kept } from '@idle-step/contract';
import type { FullRig } from '@idle-step/core/routing';
import { demoRig } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { bindPort, fake, FAKE_SOURCE, openWithPorts, type Fake } from './support/ports';
import { HeldRequests, openPage, pressButton, textIs, until, useApp } from './support/app';

const running = useApp();
const controls = demoRig.boards.flatMap((b) => b.controls);

/** What the check waits for, by its name. */
const due = (page: Page): Promise<string | null> =>
  page.evaluate(() => document.querySelector('.due')?.getAttribute('data-control') ?? null);
const checked = (page: Page, count: number) =>
  until(
    `${count} checked`,
    () => page.$$eval('.check-list tbody tr:not(.open)', (rows) => rows.length),
    (n) => n === count,
  );
const records = () => running.app.get<GearRecord[]>(`/records?rigId=${demoRig.id}`);

/** A foot on a control of the dock, as its hardware sends it. */
async function touch(page: Page, name: string): Promise<void> {
  const control = await page.$(`.dock [data-control="${name}"]`);
  if (!name.startsWith('pedal')) {
    await control!.click({ delay: 40 });
    return;
  }
  await control!.focus();
  await page.keyboard.press('End');
  await page.keyboard.press('Home');
  await page.keyboard.press('End');
}

describe('a line check', () => {
  it('of a sound rig passes by feet alone, is kept, and is shown with the set', async () => {
    const page = await openPage(running.browser, running.app.base, '/check');
    await textIs(page, '.check-place', (t) => t.includes('No line check was made yet.'));
    expect(await axeViolations(page)).toEqual([]);
    if (!(await page.$('.dock [data-control]'))) await page.locator('.dock button').click();
    await page.waitForSelector('.dock [data-control="far 1"]');
    await pressButton(page, 'Check everything');
    for (const [i, { name }] of controls.entries()) {
      await until(
        'what is due',
        () => due(page),
        (now) => now === name,
      );
      await touch(page, name);
      await checked(page, i + 1);
    }
    await textIs(page, '.check-sum', (t) => t === `All ${controls.length} are right.`);
    expect(await axeViolations(page)).toEqual([]);
    const [record] = await until('the record', records, (all) => all.length === 1);
    const { what } = record!;
    if (what.kind !== 'line-check') throw new Error(what.kind);
    expect(what.results.map((r) => [r.found, r.presses])).toEqual(controls.map(() => ['right', 1]));
    // Nothing was played meanwhile: no message left.
    expect(await page.$$eval('.monitor .out, .monitor [data-way="out"]', (rows) => rows.length)).toBe(0);
    await page.goto(`${running.app.base}/sets`);
    await textIs(page, '.last-check', (t) =>
      t.startsWith(`Line check: ${controls.length} of ${controls.length} right`),
    );
  });

  it('begins only once the rig is played, however slow the server is', async () => {
    const lists = new HeldRequests(/\/api\/(presets|sets)\b/);
    const page = await openPage(running.browser, running.app.base, '/check', lists.hold);
    const isOpen = () =>
      page.evaluate(() => {
        const all = [...document.querySelectorAll<HTMLButtonElement>('.check-place button')];
        return all.find((b) => b.textContent === 'Check everything')?.disabled === false;
      });
    await page.waitForSelector('.check-place button');
    expect(await isOpen()).toBe(false);
    lists.letCome();
    await until('the rig is played', isOpen, (is) => is);
    await pressButton(page, 'Check everything');
    await until(
      'what is due',
      () => due(page),
      (now) => now === controls[0]!.name,
    );
    expect(page.troubles).toEqual([]);
  });

  it('says what is wrong with real bytes and learns it anew; on the stage it says what is due', async () => {
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
    await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
    await page.goto(`${running.app.base}/check`);
    const say = (...bytes: number[]) =>
      page.evaluate(
        (b) =>
          (window as unknown as { midiFake: { deliver(n: string, bytes: number[]): void } }).midiFake.deliver(
            'Blue box 1',
            b,
          ),
        bytes,
      );
    const row = (name: string, text: string) =>
      until(
        name,
        () => page.$$eval('.check-list tbody tr', (rows) => rows.map((r) => (r as HTMLElement).innerText)),
        (rows) => rows.some((r) => r.includes(name) && r.includes(text)),
      );
    await pressButton(page, 'Check everything');
    const before = (await fake(page, (f) => f.sent('Blue box A'))).length;
    await say(0xbf, 36, 127);
    await say(0xbf, 36, 0);
    await row('far 1', 'right');
    // Another number than is written down, and then another channel.
    await say(0xbf, 90, 127);
    await say(0xbf, 90, 0);
    await row('far 2', 'It sends controller 90 in place of controller 37');
    await say(0xb0, 38, 127);
    await say(0xb0, 38, 0);
    await row('far 3', 'on channel 1 in place of 16');
    // Nothing of all that was played.
    expect(await fake(page, (f) => f.sent('Blue box A'))).toHaveLength(before);
    await pressButton(page, 'Stop the check');
    await page.locator('.check-list tr.wrong button::-p-text(Learn it anew)').click();
    await row('far 2', 'right');
    await until(
      'the rig',
      () => running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`),
      ({ doc }) => doc.boards[0]!.controls[1]!.sends.number === 90,
    );
    await page.goto(`${running.app.base}/stage`);
    await pressButton(page, 'Line check');
    await textIs(page, '.check-now', (t) => t.includes('Press on Plank 10') && t.includes('far 1'));
    expect(await due(page)).toBe('far 1');
    await say(0xbf, 36, 127);
    await say(0xbf, 36, 0);
    await until(
      'what is due',
      () => due(page),
      (now) => now === 'far 2',
    );
    await pressButton(page, 'Stop the check');
    await page.waitForSelector('.check-now', { hidden: true });
  });

  it('goes on in a hidden window, over a cable that is pulled out, and is of one window alone', async () => {
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
    await page.goto(`${running.app.base}/check`);
    const say = (...bytes: number[]) =>
      page.evaluate(
        (b) => (window as unknown as { midiFake: Fake }).midiFake.deliver('Blue box 1', b),
        bytes,
      );
    await pressButton(page, 'Check everything');
    await page.waitForSelector('.due');
    // Another window is in front, and may not begin one of its own.
    const other = await page.browserContext().newPage();
    await other.evaluateOnNewDocument(FAKE_SOURCE);
    await other.goto(`${running.app.base}/check`);
    await other.bringToFront();
    await textIs(other, '.check-place', (t) => t.includes('Check everything'));
    await pressButton(other, 'Check everything');
    await textIs(other, '.check-place .field-error', (t) =>
      t.includes('Another window of this browser plays'),
    );
    const row = (name: string) =>
      page.$$eval(
        '.check-list tbody tr',
        (rows, n) => rows.map((r) => (r as HTMLElement).innerText).find((t) => t.includes(n)) ?? '',
        name,
      );
    await say(0xbf, 36, 127);
    await say(0xbf, 36, 0);
    await until(
      'far 1',
      () => row('far 1'),
      (t) => t.includes('right'),
    );
    // Pulled out while a foot is on far 2, which was learned anew above, and put in again: it is asked for once more.
    await say(0xbf, 90, 127);
    await fake(page, (f) => f.unplug('Blue box 1'));
    await fake(page, (f) => f.plug('Blue box 1'));
    await textIs(page, '.check-place', (t) => t.includes('far 2'));
    await say(0xbf, 90, 127);
    await say(0xbf, 90, 0);
    await until(
      'far 2',
      () => row('far 2'),
      (t) => t.includes('right'),
    );
    await other.close();
  });
});
