import { writeFileSync } from 'node:fs';
import type { Page } from 'puppeteer-core';
import { expect, it } from 'vitest';
import { openPage, useApp } from '../tests/support/app';
import { bindPort, FAKE_SOURCE, openPorts } from '../tests/support/ports';

/**
 * From a press to its bytes, in every place, while the monitor takes 500 messages a second: from the stamp that a
 * worker gives the press to the return of the port's `send`; and how even the frames are meanwhile.
 *
 * Each figure is the median of some rounds, since the machine itself holds up a page now and then; for how long is
 * measured beside it, on a page with nothing in it that gets the same flood.
 */
const ROUNDS = Number(process.env['BENCH_PRESS_ROUNDS'] ?? 3);
const PLACES = (process.env['BENCH_PLACES']?.split(',') ?? [
  '/stage',
  '/floor',
  '/rig',
  '/routes',
  '/songs',
  '/sets',
]) as readonly string[];
const PRESSES = Number(process.env['BENCH_PRESSES'] ?? 150);

const running = useApp();

/** What the worker does: a flood of other messages, and a press now and then, each with its stamp. */
const WORKER = `
  let n = 0, presses = 0, begun = performance.now();
  const timer = setInterval(() => {
    const due = Math.floor((performance.now() - begun) / 2);
    for (; n < due; n++) {
      const at = performance.timeOrigin + performance.now();
      postMessage({ at, bytes: [0xb0, (n >> 7) & 31, n & 127] });
      if (n % 47 === 0) postMessage({ at: performance.timeOrigin + performance.now(), bytes: [0xbf, 31 + (presses++ % 4), 127], isPress: true });
      if (n % 47 === 20) postMessage({ at, bytes: [0xbf, 31 + ((presses - 1) % 4), 0] });
    }
  }, 1);
`;

type Figures = { late: number[]; frames: number[]; came: number };

const measure = (page: Page, presses: number): Promise<Figures> =>
  page.evaluate(
    (source, wanted) =>
      new Promise<Figures>((resolve) => {
        const { midiFake } = window as unknown as {
          midiFake: {
            deliver(name: string, bytes: number[], atMs?: number): void;
            onSent: (() => void) | null;
          };
        };
        const late: number[] = [];
        const frames: number[] = [];
        let came = 0;
        let last = performance.now();
        let isOn = true;
        const frame = (now: number) => {
          frames.push(now - last);
          last = now;
          if (isOn) requestAnimationFrame(frame);
        };
        requestAnimationFrame(frame);
        let pressedAt: number | null = null;
        midiFake.onSent = () => {
          if (pressedAt !== null) late.push(performance.now() - pressedAt);
          pressedAt = null;
        };
        const worker = new Worker(URL.createObjectURL(new Blob([source])));
        worker.onmessage = ({ data }: MessageEvent<{ at: number; bytes: number[]; isPress?: boolean }>) => {
          const at = data.at - performance.timeOrigin;
          if (data.isPress) pressedAt = at;
          else came++;
          midiFake.deliver('Blue box 1', data.bytes, at);
          if (late.length >= wanted && isOn) {
            isOn = false;
            worker.terminate();
            midiFake.onSent = null;
            resolve({ late, frames: frames.slice(1), came });
          }
        };
      }),
    WORKER,
    presses,
  );

/** How late the same stamps are read on a page that does nothing with them. */
const measureEmpty = (page: Page, presses: number): Promise<number[]> =>
  page.evaluate(
    (source, wanted) =>
      new Promise<number[]>((resolve) => {
        const late: number[] = [];
        const worker = new Worker(URL.createObjectURL(new Blob([source])));
        worker.onmessage = ({ data }: MessageEvent<{ at: number; isPress?: boolean }>) => {
          if (data.isPress) late.push(performance.timeOrigin + performance.now() - data.at);
          if (late.length < wanted) return;
          worker.terminate();
          resolve(late);
        };
      }),
    WORKER,
    presses,
  );

const at = (list: readonly number[], share: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))]!;
const median = (list: readonly number[]): number => at(list, 0.5);

it(
  'a press in every place',
  async () => {
    const page = await openPage(running.browser, running.app.base, '/rig', async (p) => {
      await p.setBypassCSP(true);
      await p.evaluateOnNewDocument(FAKE_SOURCE);
    });
    await openPorts(page);
    await bindPort(page, 'Crossbar', 'In 1', 'Blue box 1');
    await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
    const figures: Record<string, number> = {};
    for (const place of PLACES) {
      await page.evaluate((path) => {
        window.history.pushState(null, '', path);
        window.dispatchEvent(new PopStateEvent('popstate'));
      }, place);
      await new Promise((resolve) => setTimeout(resolve, 1500));
      await measure(page, Math.min(40, PRESSES));
      const rounds: Figures[] = [];
      for (let i = 0; i < ROUNDS; i++) rounds.push(await measure(page, PRESSES));
      const name = `press${place.slice(1, 2).toUpperCase()}${place.slice(2)}`;
      const late = rounds.map((r) => r.late);
      figures[`${name}P50Ms`] = median(late.map((l) => at(l, 0.5)));
      figures[`${name}P99Ms`] = median(late.map((l) => at(l, 0.99)));
      figures[`${name}WorstMs`] = median(late.map((l) => at(l, 1)));
      figures[`${name}P99OfAllMs`] = at(late.flat(), 0.99);
      figures[`${name}WorstOfAllMs`] = at(late.flat(), 1);
      figures[`${name}FrameP95Ms`] = median(rounds.map((r) => at(r.frames, 0.95)));
      for (const l of late) expect(l).toHaveLength(PRESSES);
    }
    const empty = await running.browser.newPage();
    await empty.setBypassCSP(true);
    await empty.goto(`${running.app.base}/api/health`);
    const alone: number[][] = [];
    for (let i = 0; i < 3; i++) alone.push(await measureEmpty(empty, Math.min(150, PRESSES)));
    await empty.close();
    figures['pressEmptyP99Ms'] = median(alone.map((l) => at(l, 0.99)));
    figures['pressEmptyWorstMs'] = median(alone.map((l) => at(l, 1)));
    const cold: number[] = [];
    for (let i = 0; i < 3; i++) {
      const fresh = await openPage(running.browser, running.app.base, '/stage');
      await fresh.waitForSelector('.stage-now');
      cold.push(
        await fresh.evaluate(
          () => performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? performance.now(),
        ),
      );
      await fresh.close();
    }
    figures['stageFirstPictureMs'] = Math.max(...cold);
    if (process.env['BENCH_OUT']) writeFileSync(`${process.env['BENCH_OUT']}.press`, JSON.stringify(figures));
    else console.log(figures);
  },
  600_000 + PLACES.length * ROUNDS * PRESSES * 200,
);
