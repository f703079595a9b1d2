import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { choose, fill, openBrowser, pressButton, textIs, until, useApp } from './support/app';
import { bindPort, fake, hexOf, openWithPorts } from './support/ports';

const running = useApp();

const rest = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const sent = (page: Page) => fake(page, (f) => f.sent('Blue box A')).then(hexOf);
/** Far 1 of the foot board: controller 36 on channel 16. */
const down = (page: Page) => fake(page, (f) => f.deliver('Blue box 1', [0xbf, 0x24, 0x7f]));
/** Two presses, 60 ms apart by the foot, however busy the machine is. */
const twice = (page: Page) =>
  page.evaluate(() => {
    const { midiFake } = window as unknown as {
      midiFake: { deliver(name: string, bytes: number[], atMs: number): void };
    };
    const from = performance.now() - 75;
    for (const [after, value] of [
      [0, 0x7f],
      [15, 0],
      [60, 0x7f],
      [75, 0],
    ] as const)
      midiFake.deliver('Blue box 1', [0xbf, 0x24, value], from + after);
  });
const up = (page: Page) => fake(page, (f) => f.deliver('Blue box 1', [0xbf, 0x24, 0x00]));

describe('hold and double press, assigned in the page, from bytes to bytes', () => {
  it('each fires what it was given, and a press says that it waits', async () => {
    const page = await openWithPorts(running.browser, running.app.base, '/rig');
    await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
    await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
    await page.locator('.rail a[href="/floor"]').click();
    await page.locator('[data-control="far 1"]').click();
    const before = (await sent(page)).length;

    await pressButton(page, 'Add an action on hold');
    await choose(page, 'Function', 'Snapshot');
    await choose(page, 'Value', '3 Full');
    await pressButton(page, 'Add an action on double press');
    await choose(page, 'Value', '2 Body');
    await textIs(page, '.gesture', (t) => t.includes('waits 300 ms for a second press'));
    await fill(page, 'Second press within, ms', '200');
    await textIs(page, '.gesture-line', (t) => t.includes('press at 200 ms') && t.includes('hold at 600 ms'));
    expect(await axeViolations(page)).toEqual([]);
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));

    const fresh = async (count: number) =>
      (
        await until(
          'sent',
          () => sent(page),
          (s) => s.length >= before + count,
        )
      ).slice(before);
    // A tap: the toggle of Drive, once the second press did not come. The click above opened it and pressed nothing.
    await down(page);
    await up(page);
    expect(await fresh(1)).toEqual(['B2 18 7F']);
    await textIs(page, '.dock', (t) => t.endsWith('1 message'));
    // A double press: snapshot 2, sent as 1, and no toggle.
    await twice(page);
    expect(await fresh(2)).toEqual(['B2 18 7F', 'B2 16 01']);
    // A hold: the press after its wait, then snapshot 3, sent as 2, while the foot is still down.
    await down(page);
    expect(await fresh(4)).toEqual(['B2 18 7F', 'B2 16 01', 'B2 18 00', 'B2 16 02']);
    await up(page);
    // With the hold in place of the press only the hold is left.
    await pressButton(page, 'Wait for the hold');
    await textIs(page, '.gesture', (t) => t.includes('waits until you let go'));
    await down(page);
    await rest(750);
    await up(page);
    expect((await fresh(5)).slice(4)).toEqual(['B2 16 02']);
    expect(page.troubles).toEqual([]);
  });
});

describe('a window that is hidden', () => {
  it('holds fire at their time, while its own timers are slowed down to one a second', async () => {
    const browser = await openBrowser({ isThrottled: true });
    try {
      const page = await openWithPorts(browser, running.app.base, '/rig');
      await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
      await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
      await page.locator('.rail a[href="/floor"]').click();
      await page.locator('[data-control="near 4"]').click();
      await pressButton(page, 'Add an action on hold');
      await choose(page, 'Function', 'Snapshot');
      await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
      const other = await page.browserContext().newPage();
      await other.bringToFront();
      await until(
        'hidden',
        () => page.evaluate(() => document.visibilityState),
        (v) => v === 'hidden',
      );
      // The browser lets a hidden window run on for a moment before it slows it down.
      await rest(1500);
      const { timers, late } = await page.evaluate(async () => {
        const { midiFake } = window as unknown as {
          midiFake: { deliver(name: string, bytes: number[]): void; onSent: (() => void) | null };
        };
        const timed: number[] = [];
        for (let i = 0; i < 3; i++) {
          const from = performance.now();
          await new Promise((resolve) => setTimeout(resolve, 50));
          timed.push(performance.now() - from);
        }
        const waits: number[] = [];
        for (let i = 0; i < 3; i++) {
          const from = performance.now();
          midiFake.deliver('Blue box 1', [0xbf, 34, 127]);
          await new Promise<void>((resolve) => (midiFake.onSent = resolve));
          waits.push(performance.now() - from - 600);
          midiFake.deliver('Blue box 1', [0xbf, 34, 0]);
          midiFake.onSent = null;
          await new Promise((resolve) => setTimeout(resolve, 50));
        }
        return { timers: timed, late: waits };
      });
      // The last two timers waited for the next whole second; the holds did not.
      expect(Math.min(...timers.slice(1))).toBeGreaterThan(900);
      expect(Math.min(...late)).toBeGreaterThanOrEqual(-20);
      expect(Math.max(...late)).toBeLessThan(350);
    } finally {
      await browser.close();
    }
  });
});
