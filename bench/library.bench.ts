import { writeFileSync } from 'node:fs';
import type { Page } from 'puppeteer-core';
import { expect, it } from 'vitest';
import { openPage, textIs, textOf, until, useApp } from '../tests/support/app';
import { addBigLibrary } from '../tests/support/bigLibrary';
import { Pace } from './pace';
import { untilCalm } from './stolen';
import { doing } from './doing';

/** A library of thousands of songs: how soon lists, songs, search and stage are there, against the demo alone. */
const SONGS = Number(process.env['BENCH_SONGS'] ?? 5000);
const SETS = Number(process.env['BENCH_SETS'] ?? 300);
const ROUNDS = Number(process.env['BENCH_ROUNDS'] ?? 5);
const EDITS = Number(process.env['BENCH_EDITS'] ?? 200);

const running = useApp();
const median = (list: readonly number[]): number =>
  list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)]!;

/** From the start of a cold page to what is wanted in it, in ms: the median of some. */
async function cold(path: string, selector: string): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    const page = await openPage(running.browser, running.app.base, path);
    await page.waitForSelector(selector);
    times.push(await page.evaluate(() => performance.now()));
    await page.close();
  }
  return median(times);
}

/** From a request to its whole answer, in ms. */
async function answered(path: string): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    const begun = performance.now();
    await (await fetch(`${running.app.base}/api${path}`)).json();
    times.push(performance.now() - begun);
  }
  return median(times);
}

/** From something done in the page to its being drawn, in ms. */
const untilDrawn = (page: Page, act: string, then: string): Promise<number> =>
  page.evaluate(
    async (does, holds) => {
      const isDone = new Function(`return ${holds}`) as () => boolean;
      const begun = performance.now();
      (new Function(does) as () => void)();
      while (!isDone()) {
        if (performance.now() - begun > 20_000) throw new Error(`Not drawn: ${holds}`);
        await new Promise((resolve) => requestAnimationFrame(resolve));
      }
      await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve)));
      return performance.now() - begun;
    },
    act,
    then,
  );

const heapMb = async (page: Page): Promise<number> => {
  const session = await page.createCDPSession();
  await session.send('HeapProfiler.collectGarbage');
  const { usedSize } = await session.send('Runtime.getHeapUsage');
  await session.detach();
  return usedSize / 1_000_000;
};

it('a library of thousands of songs', async () => {
  doing('a library of thousands of songs');
  const rigId = (await running.app.get<{ doc: { id: string } }[]>('/rigs'))[0]!.doc.id;
  const figures: Record<string, number> = { librarySongs: SONGS };
  const pace = new Pace();
  figures['libraryStageFewMs'] = await cold('/stage', '.stage-now');
  const { songIds, setIds } = await addBigLibrary(running.app, { songs: SONGS, sets: SETS });
  figures['libraryListServerMs'] = await answered(`/songs/summaries?rigId=${rigId}&from=0&count=500`);
  figures['libraryStageManyMs'] = await cold('/stage', '.stage-now');
  figures['libraryUsableMs'] = await cold('/songs', '.song-rows a');

  const page = await openPage(running.browser, running.app.base, '/songs');
  await page.bringToFront();
  await until(
    'whole list',
    () => textOf(page, '.song-list-foot'),
    (t) => Number(t?.split(' ')[0]) >= SONGS,
    60_000,
  );
  const list = await page.evaluate((id) => {
    const entries = performance
      .getEntriesByType('resource')
      .filter((e) => e.name.includes('songs/summaries'));
    const first = entries.find((e) => e.name.includes(id))!;
    return first.duration;
  }, rigId);
  figures['libraryListMs'] = list;
  // A key in the search until the shorter list is drawn.
  await untilCalm();
  pace.look();
  const typed: number[] = [];
  await page.evaluate(() => {
    (window as unknown as { type: (t: string) => void }).type = (text) => {
      const field = document.querySelector<HTMLInputElement>('.song-search input')!;
      const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!;
      set.call(field, text);
      field.dispatchEvent(new Event('input', { bubbles: true }));
    };
  });
  for (const text of ['f', 'fe', 'fer', 'ferr', 'ferry'])
    typed.push(
      await untilDrawn(
        page,
        `window.type(${JSON.stringify(text)})`,
        `document.querySelector('.song-name')?.textContent.toLowerCase().includes(${JSON.stringify(text)})`,
      ),
    );
  figures['librarySearchMs'] = median(typed);
  await page.evaluate(() => (window as unknown as { type: (t: string) => void }).type(''));
  await untilCalm();
  pace.look();
  // Songs that were not open yet.
  const opened: number[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    const number = SONGS - 1 - i * 3;
    const id = songIds[number]!;
    opened.push(
      await untilDrawn(
        page,
        `history.pushState(null, '', '/songs/${id}'); dispatchEvent(new PopStateEvent('popstate'))`,
        `document.querySelector('.cue-grid')?.getAttribute('aria-label').endsWith(' ${number}') && document.querySelector('.cue-grid tbody tr')`,
      ),
    );
  }
  figures['librarySongOpenedMs'] = median(opened);
  pace.look();
  // A set of sixty songs, moved by the keyboard.
  await page.goto(`${running.app.base}/sets/${setIds[0]!}`);
  await page.waitForSelector('.order-song');
  await until(
    'songs',
    () => page.$$('.order-song'),
    (l) => l.length === 60,
    30_000,
  );
  await untilCalm();
  pace.look();
  const moved: number[] = [];
  for (let i = 0; i < ROUNDS; i++)
    moved.push(
      await untilDrawn(
        page,
        `window.first = document.querySelectorAll('.order-song')[${i}].textContent; document.querySelectorAll('.order .handle')[${i}].dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', altKey: true, bubbles: true }))`,
        `document.querySelectorAll('.order-song')[${i} + 1].textContent === window.first`,
      ),
    );
  figures['libraryReorderMs'] = median(moved);
  pace.look();
  figures['libraryPaceUs'] = pace.us;
  await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
  // Many edits of one song.
  await page.goto(`${running.app.base}/songs/${songIds[0]!}`);
  await page.waitForSelector('.cue-grid tbody tr');
  const edit = async (count: number) => {
    for (let i = 0; i < count; i++)
      await page.evaluate(
        (bpm) => {
          const label = [...document.querySelectorAll('label')].find((l) => l.textContent === 'Tempo, bpm')!;
          const field = document.getElementById(label.getAttribute('for')!) as HTMLInputElement;
          const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!;
          field.focus();
          set.call(field, String(bpm));
          field.dispatchEvent(new Event('input', { bubbles: true }));
          field.blur();
        },
        60 + (i % 50),
      );
  };
  // The steps that can be undone are full before it is looked at.
  await edit(EDITS);
  await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
  figures['libraryHeapBeforeMb'] = await heapMb(page);
  await edit(EDITS);
  await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
  figures['libraryHeapAfterMb'] = await heapMb(page);
  if (process.env['BENCH_OUT']) writeFileSync(`${process.env['BENCH_OUT']}.library`, JSON.stringify(figures));
  else console.log(figures);
  expect(page.troubles).toEqual([]);
}, 900_000);
