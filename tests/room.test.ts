import { DEMO_PORT, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { describe, expect, it } from 'vitest';
import { ask } from './support/api';
import { openPage, pressButton, textIs, until, useApp } from './support/app';
import { axeViolations } from './support/axe';
import { addBigPreset } from './support/bigPreset';
import { footPress, plugIn } from './support/ports';

const running = useApp();

const firstVisit = (path: string) =>
  openPage(
    running.browser,
    running.app.base,
    path,
    (page) => plugIn(page, { [DEMO_PORT.crossbarIn1]: 'Blue box 1' }),
    { isFirstVisit: true },
  );
/** Presses and lets go of a switch of the large board by its bytes: the near ones are controllers 31 to 35. */
const foot = (page: Page, near: 1 | 2 | 3) => footPress(page, 'Blue box 1', 0xbf, 30 + near);
const isThere = (page: Page, selector: string) => page.$(selector).then((e) => e !== null);
const OPEN_FLOOR = '.dock:not(.folded)';
const OPEN_MONITOR = '[aria-label="Monitor"]';
const bothOpen = async (page: Page) => [await isThere(page, OPEN_FLOOR), await isThere(page, OPEN_MONITOR)];

/** How many of some elements are in sight as a whole, in the place and in whatever scrolls in it. */
const wholeRows = (page: Page, selector: string) =>
  page.$$eval(
    selector,
    (rows) =>
      rows.filter((row) => {
        const r = row.getBoundingClientRect();
        for (let e = row.parentElement; e; e = e.parentElement) {
          const scrolls = getComputedStyle(e).overflowY !== 'visible';
          const box = e.getBoundingClientRect();
          if (scrolls && (r.top < box.top - 1 || r.bottom > box.bottom + 1)) return false;
        }
        return true;
      }).length,
  );

describe('room to work at 1280 by 800, on a first visit', () => {
  it('14 lines by 6 scenes of a sheet', async () => {
    const [scene] = demoSongs[0]!.scenes;
    const functions = demoRig.devices.flatMap((d) => d.chart.map((f) => f.id));
    expect(functions.length).toBeGreaterThanOrEqual(14);
    const song = {
      ...demoSongs[0]!,
      id: crypto.randomUUID(),
      name: 'Fourteen Lines',
      parts: [],
      line: { ...demoSongs[0]!.line, cues: [] },
      scenes: Array.from({ length: 6 }, (_, i) => ({
        ...scene!,
        id: crypto.randomUUID(),
        name: `Scene ${i + 1}`,
        values: functions.slice(0, 14).map((functionId) => ({ functionId, value: i % 2 })),
      })),
    };
    const made = await ask(`${running.app.base}/api`, 'POST', '/songs', song);
    expect(made.status, JSON.stringify(made.body)).toBe(201);
    const page = await firstVisit(`/songs/${song.id}`);
    await page.waitForSelector('.cue-grid tbody tr');
    expect(await wholeRows(page, '.cue-grid tbody tr')).toBeGreaterThanOrEqual(14);
    expect(await page.$eval('.cue-room', (e) => e.scrollWidth - e.clientWidth)).toBe(0);
    expect(page.troubles).toEqual([]);
  });

  it('14 songs of an order', async () => {
    const entries = Array.from({ length: 14 }, (_, i) => ({
      ...demoSets[0]!.entries[0]!,
      id: crypto.randomUUID(),
      songId: demoSongs[i % demoSongs.length]!.id,
    }));
    const set = { ...demoSets[0]!, id: crypto.randomUUID(), name: 'Fourteen', entries };
    expect((await ask(`${running.app.base}/api`, 'POST', '/sets', set)).status).toBe(201);
    const page = await firstVisit(`/sets/${set.id}`);
    await page.waitForSelector('.order > li');
    expect(await wholeRows(page, '.order > li')).toBeGreaterThanOrEqual(14);
  });

  it('14 rows of a chart, with the map folded to a strip', async () => {
    const page = await firstVisit(`/rig/${demoRig.devices.find((d) => d.name === 'Kelpline')!.id}`);
    await page.locator('[aria-label="Fold the map to a strip"]').click();
    await page.waitForSelector('.device-strip');
    expect(await wholeRows(page, '.chart-scroll tbody tr')).toBeGreaterThanOrEqual(14);
  });
});

it('labels of pads that begin alike show what tells them apart', async () => {
  const { boardId } = await addBigPreset(running.app);
  const page = await firstVisit(`/floor/${boardId}`);
  await page.waitForSelector('.board.full-size .cloth.parted');
  const labels = await page.$$eval('.board.full-size .cloth.parted', (cloths) =>
    cloths.map((cloth) => {
      const [head, tail] = [...cloth.querySelectorAll('span')];
      return {
        head: head!.textContent,
        tail: tail!.textContent,
        isWhole: tail!.scrollWidth <= tail!.clientWidth,
      };
    }),
  );
  expect(labels).toHaveLength(16);
  expect(new Set(labels.map((l) => l.head)).size).toBe(1);
  expect(new Set(labels.map((l) => l.tail)).size).toBe(16);
  expect(labels.filter((l) => !l.isWhole)).toEqual([]);
  expect(page.troubles).toEqual([]);
});

describe('the floor and the monitor', () => {
  it('open by themselves when a switch is pressed, and stay as one leaves them', async () => {
    const page = await firstVisit(`/songs/${demoSongs[0]!.id}`);
    await textIs(page, '.dock', (t) => t.includes('opens when a switch is pressed'));
    expect(await bothOpen(page)).toEqual([false, false]);
    expect(await axeViolations(page)).toEqual([]);
    await textIs(page, '.ports-word', (t) => t.startsWith('1 in'));
    await foot(page, 2);
    await until(
      'open',
      () => bothOpen(page),
      ([floor, monitor]) => floor! && monitor!,
    );
    await textIs(page, '.dock .last-press', (t) => t.includes('Verse'));
    await page.waitForSelector('[aria-label="Monitor"] ::-p-text(near 2)');

    await pressButton(page, 'Fold the floor');
    await pressButton(page, 'Fold the monitor');
    await textIs(page, '.dock', (t) => t.includes('folded; feet still work'));
    await foot(page, 3);
    await textIs(page, '.dock .last-press', (t) => t.includes('Outro'));
    // Longer than what comes is looked at.
    await new Promise((resolve) => setTimeout(resolve, 600));
    expect(await bothOpen(page)).toEqual([false, false]);

    await page.reload();
    await textIs(page, '.dock', (t) => t.includes('folded; feet still work'));
    await pressButton(page, 'The floor opens and folds by itself');
    await textIs(page, '.ports-word', (t) => t.startsWith('1 in'));
    await foot(page, 1);
    await until(
      'open',
      () => bothOpen(page),
      ([floor, monitor]) => floor! && !monitor,
    );
    // Let be as it is now.
    await pressButton(page, 'The floor opens and folds by itself');
    await page.reload();
    await page.waitForSelector(OPEN_FLOOR);
    expect(page.troubles).toEqual([]);
  });

  it('leave in sight what is being typed when they open', async () => {
    const page = await firstVisit(`/rig/${demoRig.devices.find((d) => d.name === 'Deckhouse')!.id}`);
    await textIs(page, '.ports-word', (t) => t.startsWith('1 in'));
    const cells = await page.$$('.chart-scroll tbody tr td:nth-child(1)');
    const seen = await Promise.all(cells.map((cell) => cell.isIntersectingViewport({ threshold: 1 })));
    const lowest = cells[seen.lastIndexOf(true)]!;
    await lowest.click();
    const isSeen = () =>
      page.evaluate(() => {
        const focused = document.querySelector(':focus')!.getBoundingClientRect();
        return focused.bottom <= document.querySelector('.dock')!.getBoundingClientRect().top + 1;
      });
    expect(await isSeen()).toBe(true);
    await foot(page, 2);
    await page.waitForSelector(OPEN_FLOOR);
    await until('in sight', isSeen, (is) => is);
    expect(page.troubles).toEqual([]);
  });
});

/**
 * Has the browser write down what can be pressed and moved up or down by itself, by the W3C draft "Layout Instability" (from memory). Runs in
 * the page.
 */
function watchMoves(): void {
  const moved: string[] = [];
  Object.assign(window, { moved });
  const pressed = 'a, button, input, select, [role="gridcell"]';
  type Shift = PerformanceEntry & {
    sources: { node: Node | null; previousRect: DOMRect; currentRect: DOMRect }[];
  };
  new PerformanceObserver((list) => {
    for (const { sources } of list.getEntries() as Shift[])
      for (const { node, previousRect, currentRect } of sources) {
        const by = Math.round(currentRect.top - previousRect.top);
        const element = node instanceof Element ? node : node?.parentElement;
        if (Math.abs(by) >= 4 && (element?.closest(pressed) ?? element?.querySelector(pressed)))
          moved.push(`${element.tagName} ${element.className} by ${by}`);
      }
  }).observe({ type: 'layout-shift', buffered: true });
}

describe('answers that come late', () => {
  const song = demoSongs.find((s) => s.name === 'Slow Ferry')!;
  const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
  it.each([
    ['a set', `/sets/${demoSets[1]!.id}`, '.order li', '.set-times'],
    ['a song', `/songs/${song.id}`, '.cue-grid', '.song-rows a'],
    ['a song in time', `/songs/${song.id}/time`, '.line-cue', '.glide-row'],
    ['a chart', `/rig/${kelpline.id}/chart`, '[role="gridcell"]', '.where b'],
    ['routes', '/routes', '.route-head', '.where b'],
  ])('move nothing of %s that is there already', async (_, path, early, late) => {
    const page = await openPage(running.browser, running.app.base, path, async (p) => {
      await p.evaluateOnNewDocument(watchMoves);
      await p.setRequestInterception(true);
      p.on('request', (request) => {
        // What is shown comes at once, and what else is asked for a while later.
        const { pathname } = new URL(request.url());
        const waits = /\/api\/(presets|records|evenings)/.test(pathname) || pathname.endsWith('/songs/some');
        setTimeout(() => void request.continue().catch(() => undefined), waits ? 1500 : 0);
      });
    });
    await page.waitForSelector(early);
    await page.waitForSelector(late);
    await new Promise((resolve) => setTimeout(resolve, 500));
    expect(await page.evaluate(() => (window as never as { moved: string[] }).moved)).toEqual([]);
    expect(page.troubles).toEqual([]);
  });
});

describe('the line that says what a place is for', () => {
  it('stays through a first edit, and is gone the next time; put away it is gone at once', async () => {
    const { id } = demoSets[0]!;
    const page = await openPage(running.browser, running.app.base, `/sets/${id}`);
    const isSaid = () => isThere(page, '.place-hint');
    const top = () => page.$eval('.order li', (li) => li.getBoundingClientRect().top);
    await page.waitForSelector('.set-times');
    const before = await top();
    await page.locator('.order li:nth-child(2) [aria-label="Not tonight"]').click();
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    expect([await isSaid(), await top()]).toEqual([true, before]);
    await page.reload();
    await page.waitForSelector('.set-times');
    expect(await isSaid()).toBe(false);
    await page.goto(`${running.app.base}/routes`);
    await page.locator('[aria-label="Put this line away"]').click();
    await until('put away', isSaid, (is) => !is);
    await page.reload();
    await page.waitForSelector('.route-head');
    expect(await isSaid()).toBe(false);
    expect(page.troubles).toEqual([]);
  });
});
