import { writeFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { addBigPreset } from '../tests/support/bigPreset';
import { openPage, textIs, useApp } from '../tests/support/app';
import { doing } from './doing';

/** A preset of 10 banks × 16 controls × 3 gestures as a table: how soon it stands, and how soon an edit is seen. */
const ROUNDS = 7;

const running = useApp();

it('the table of a large preset', async () => {
  doing('the table of a large preset');
  const { boardId, presetId } = await addBigPreset(running.app);
  const page = await openPage(running.browser, running.app.base, `/floor/${boardId}`);
  await page.waitForSelector('.control-editor');
  const saves: string[] = [];
  page.on('request', (r) => r.method() === 'PUT' && saves.push(r.url()));
  /** From the click until the page has been drawn with what it leads to, in ms. */
  const clickUntilDrawn = (selector: string, text: string, then: string) =>
    page.evaluate(
      async (s, t, wanted) => {
        const found = [...document.querySelectorAll<HTMLElement>(s)].find((e) =>
          e.textContent?.trim().startsWith(t),
        )!;
        const begun = performance.now();
        found.click();
        while (!document.querySelector(wanted))
          await new Promise((resolve) => requestAnimationFrame(resolve));
        await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
        return performance.now() - begun;
      },
      selector,
      text,
      then,
    );
  const opened: number[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    opened.push(await clickUntilDrawn('.rooms a', 'Table', '.preset-grid tbody tr:nth-child(48)'));
    if (i < ROUNDS - 1) await clickUntilDrawn('.rooms a', 'Controls', '.control-editor');
  }
  expect(await page.$$eval('.preset-grid td', (cells) => cells.length)).toBe(480);
  // One gesture of every bank in hand: 160 cells.
  await page.locator('#shown-release').click();
  await page.locator('#shown-hold').click();
  await page.locator('[data-cell="0/0"]').click();
  await page.keyboard.down('Control');
  await page.keyboard.press('a');
  await page.keyboard.up('Control');
  await textIs(page, '.fill-panel button[type="submit"]', (t) => t === 'Fill 160 cells');
  const filledMs = await clickUntilDrawn(
    '.fill-panel button',
    'Fill 160',
    '[data-cell="15/9"][title^="note 127"]',
  );
  await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
  const figures = {
    tableOpenFirstMs: opened[0],
    tableOpenMedianMs: [...opened].sort((a, b) => a - b)[Math.floor(ROUNDS / 2)],
    tableFill160Ms: filledMs,
    tableFillRequests: saves.filter((url) => url.includes(presetId)).length,
  };
  if (process.env['BENCH_OUT']) writeFileSync(`${process.env['BENCH_OUT']}.table`, JSON.stringify(figures));
  expect(figures.tableFillRequests).toBe(1);
});
