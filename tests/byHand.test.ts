import type { Preset } from '@idle-step/core/floor';
import type { Kept } from '@idle-step/contract';
import { demoPresets } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { choose, openPage, pressButton, textIs, useApp } from './support/app';

const running = useApp();
const ferryTour = demoPresets[0]!;

describe('a board without a wire in', () => {
  it('is set by hand: ticked off, kept, told of what changed since, and printed', async () => {
    const page = await openPage(running.browser, running.app.base, '/floor');
    await page.locator('.rooms a::-p-text(Board)').click();
    expect(await page.$('.rooms a[href$="/by-hand"]')).toBeNull();
    await choose(page, 'While playing', 'the board by itself (standalone)');
    await page.locator('.rooms a::-p-text(By hand)').click();
    const left = (of: Page, text: string) => textIs(of, '.hand-left', (t) => t === text);
    const rows = () =>
      page.$$eval('.hand-list tbody tr', (all) => all.map((r) => (r as HTMLElement).innerText));
    await left(page, '31 steps to set');
    expect((await rows())[1]!.replace(/\s+/g, ' ')).toContain(
      'far 1 press controller 24, value 127, 0 in turn, channel 3 Kelpline: toggles Drive',
    );
    expect(await axeViolations(page)).toEqual([]);
    // By the keyboard, from one box to the next.
    await page.focus('.hand-list input');
    await page.keyboard.press('Space');
    await page.keyboard.press('Tab');
    await page.keyboard.press('Space');
    await left(page, '29 still to do of 31 steps');
    await page.reload();
    await left(page, '29 still to do of 31 steps');
    // Another window ticks too, and both keep it.
    const other = await page.browserContext().newPage();
    await other.goto(page.url());
    await left(other, '29 still to do of 31 steps');
    await other.locator('.hand-list tr.next input').click();
    await page.bringToFront();
    await left(page, '28 still to do of 31 steps');
    await other.close();
    await pressButton(page, 'Untick all');
    await left(page, '31 steps to set');
    await pressButton(page, 'Take the ticks back');
    await left(page, '28 still to do of 31 steps');
    // What is edited afterwards says what the board has; what is taken away is taken out of the board.
    const far1 = ferryTour.banks[0]!.assignments.find((a) => a.press.some((x) => x.kind === 'toggle'))!;
    const change = async (press: unknown[]) => {
      const { doc, version } = await running.app.get<Kept<Preset>>(`/presets/${ferryTour.id}`);
      const [first, ...rest] = doc.banks;
      const assignments = first!.assignments.map((a) =>
        a.controlId === far1.controlId ? { ...a, press } : a,
      );
      const answer = await fetch(`${running.app.base}/api/presets/${doc.id}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"` },
        body: JSON.stringify({ ...doc, banks: [{ ...first!, assignments }, ...rest] }),
      });
      expect(answer.status).toBe(200);
      await page.reload();
    };
    const [action] = far1.press;
    await change([
      { id: action!.id, kind: 'set', functionId: (action as { functionId: string }).functionId, value: 1 },
    ]);
    await textIs(page, '.hand-list tr.changed', (t) =>
      t.includes('changed since it was set: was controller 24, value 127, 0 in turn, channel 3'),
    );
    await left(page, '29 still to do of 31 steps');
    await change([]);
    await textIs(page, '.hand-list tr.changed', (t) => t.includes('take out controller 24'));
    expect(await axeViolations(page)).toEqual([]);
    await page.locator('.hand-list tr.changed input').click();
    await left(page, '28 still to do of 30 steps');
    await pressButton(page, 'Print view');
    await page.waitForSelector('.hand-print table');
    expect(await page.$$eval('.hand-print td[aria-label="set"]', (all) => all.length)).toBe(2);
    expect(await page.$$eval('.hand-print td[aria-label="to set"]', (all) => all.length)).toBe(28);
    expect(await axeViolations(page)).toEqual([]);
    await page.locator('.print-tools a').click();
    // What the board cannot do leads to where it is assigned.
    await page.locator('.hand-left-out summary').click();
    await page.locator('.hand-left-out li:nth-child(2) button').click();
    await page.waitForSelector('[aria-label="What near 2 does"]');
    await page.locator('.rooms a::-p-text(Board)').click();
    await choose(page, 'While playing', 'this application (hosted)');
    await page.waitForFunction(() => !document.querySelector('.rooms a[href$="/by-hand"]'));
    expect(page.troubles).toEqual([]);
  });
});
