import { writeFileSync } from 'node:fs';
import type { Page } from 'puppeteer-core';
import { expect, it } from 'vitest';
import { openPage, useApp } from '../tests/support/app';
import { doing } from './doing';
import { at, FLOOD, type Flood } from './flood';
import { openBound } from './openBound';
import { Pace } from './pace';
import { calmRounds, timeStolen, untilCalm, watchStolen } from './stolen';

/**
 * From a press to its bytes, in every place, while the monitor takes 500 messages a second: from the stamp that a
 * worker gives the press to the return of the port's `send`; and how even the frames are meanwhile.
 *
 * A shared machine stands still now and then, and goes slower for a while: each round waits a while for a calm host, rounds
 * are made until enough were calm, and the least disturbed ones count, without the presses during which the host took something
 * from the machine. Beside them stand the figures of all presses, and of an empty page that gets the same flood, and how long
 * a fixed piece of work took before and after the rounds: who shares a processor's core or its memory slows down both and is
 * counted nowhere.
 * Ten thousand presses on the stage: `BENCH_PLACES=/stage BENCH_PRESS_ROUNDS=20 BENCH_PRESSES=500`.
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
/** Rounds that are made at most beside those that count, while fewer were calm. */
const MORE_ROUNDS = Number(process.env['BENCH_MORE_ROUNDS'] ?? 9);
/** Share of the presses of a calm round that the host may disturb. */
const CALM_SHARE = 0.2;
/**
 * Presses after a place was opened, about twenty seconds of them: the browser sweeps up the place before then, which takes two
 * to three times as long as what playing leaves.
 */
const OPENED = 320;
const PRESSES = Number(process.env['BENCH_PRESSES'] ?? 300);

const running = useApp();

/** `late`: when each press was made, in ms of the epoch, and after how many ms its bytes were out. */
type Figures = { late: [atMs: number, afterMs: number][]; frames: number[] };

/** Sixteen presses a second: more than two feet can. With `BENCH_EVERY_MS=250` as fast as one foot taps. */
const PRESSED = { numbers: [31, 32, 33, 34], everyMs: Number(process.env['BENCH_EVERY_MS'] ?? 62) };

const measure = (page: Page, presses: number): Promise<Figures> =>
  page.evaluate(
    (wanted, pressed) =>
      new Promise<Figures>((resolve) => {
        const { midiFake, flood } = window as unknown as {
          flood: Flood;
          midiFake: {
            deliver(name: string, bytes: number[], atMs?: number): void;
            onSent: (() => void) | null;
          };
        };
        const late: [number, number][] = [];
        const frames: number[] = [];
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
          if (pressedAt !== null)
            late.push([performance.timeOrigin + pressedAt, performance.now() - pressedAt]);
          pressedAt = null;
        };
        const worker = flood(pressed, (atMs, bytes, isPress) => {
          if (isPress) pressedAt = atMs;
          midiFake.deliver('Blue box 1', bytes, atMs);
          if (late.length >= wanted && isOn) {
            isOn = false;
            worker.terminate();
            midiFake.onSent = null;
            resolve({ late, frames: frames.slice(1) });
          }
        });
      }),
    presses,
    PRESSED,
  );

/** How late the same stamps are read on a page that does nothing with them. */
const measureEmpty = (page: Page, presses: number): Promise<number[]> =>
  page.evaluate(
    (wanted, pressed) =>
      new Promise<number[]>((resolve) => {
        const { flood } = window as unknown as { flood: Flood };
        const late: number[] = [];
        const worker = flood(pressed, (atMs, _bytes, isPress) => {
          if (isPress) late.push(performance.now() - atMs);
          if (late.length < wanted) return;
          worker.terminate();
          resolve(late);
        });
      }),
    presses,
    PRESSED,
  );

const median = (list: readonly number[]): number => at(list, 0.5);
it(
  'a press in every place',
  async () => {
    const page = await openBound(
      running,
      '/rig',
      [
        ['Crossbar', 'In 1', 'Blue box 1'],
        ['Crossbar', 'Out A', 'Blue box A'],
      ],
      async (p) => {
        await p.setBypassCSP(true);
        await p.evaluateOnNewDocument(FLOOD);
      },
    );
    const figures: Record<string, number> = {};
    const stolen = watchStolen();
    const undisturbed = (late: Figures['late']) =>
      late.filter(([atMs, afterMs]) => !stolen.isStolen(atMs, atMs + afterMs));
    const empty = await running.browser.newPage();
    await empty.setBypassCSP(true);
    await empty.evaluateOnNewDocument(FLOOD);
    await empty.goto(`${running.app.base}/api/health`);
    const alone: number[] = [];
    for (const place of PLACES) {
      doing(`presses in ${place}`);
      await page.bringToFront();
      await page.evaluate((path) => {
        window.history.pushState(null, '', path);
        window.dispatchEvent(new PopStateEvent('popstate'));
      }, place);
      await new Promise((resolve) => setTimeout(resolve, 1500));
      await untilCalm();
      // A place that was just opened is drawn for the first time, by code that is not compiled yet: told for itself.
      const opened = (await measure(page, Math.min(OPENED, PRESSES))).late.map(([, ms]) => ms);
      const pace = new Pace();
      const rounds = await calmRounds(
        { wanted: ROUNDS, most: ROUNDS + MORE_ROUNDS, share: CALM_SHARE },
        async () => {
          doing(`presses in ${place}: a round of ${PRESSES}`);
          pace.look();
          const figures = await measure(page, PRESSES);
          pace.look();
          expect(figures.late).toHaveLength(PRESSES);
          return { figures, disturbed: 1 - undisturbed(figures.late).length / PRESSES };
        },
      );
      const counted = rounds.slice(0, ROUNDS).map((r) => r.figures);
      const all = rounds.flatMap((r) => r.figures.late.map(([, ms]) => ms));
      const presses = counted.flatMap((r) => r.late);
      const whole = undisturbed(presses).map(([, ms]) => ms);
      const late = whole.length > 0 ? whole : all;
      const name = `press${place.slice(1, 2).toUpperCase()}${place.slice(2)}`;
      figures[`${name}PaceUs`] = pace.us;
      figures[`${name}P50Ms`] = at(late, 0.5);
      figures[`${name}P99Ms`] = at(late, 0.99);
      figures[`${name}WorstMs`] = at(late, 1);
      figures[`${name}UndisturbedPercent`] = (100 * whole.length) / presses.length;
      figures[`${name}P99OfAllMs`] = at(all, 0.99);
      figures[`${name}WorstOfAllMs`] = at(all, 1);
      figures[`${name}OpenedP99Ms`] = at(opened, 0.99);
      figures[`${name}OpenedWorstMs`] = at(opened, 1);
      figures[`${name}FrameP95Ms`] = median(counted.map((r) => at(r.frames, 0.95)));
      doing('presses on an empty page');
      await empty.bringToFront();
      alone.push(...(await measureEmpty(empty, Math.min(150, PRESSES))));
    }
    stolen.stop();
    await empty.close();
    figures['pressEmptyP99Ms'] = at(alone, 0.99);
    figures['pressEmptyWorstMs'] = at(alone, 1);
    doing('the stage, opened cold');
    const cold = await calmRounds({ wanted: 3, most: 3 + MORE_ROUNDS, share: 0.05 }, () =>
      timeStolen(async () => {
        const fresh = await openPage(running.browser, running.app.base, '/stage');
        await fresh.waitForSelector('.stage-now');
        const pictureMs = await fresh.evaluate(
          () => performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? performance.now(),
        );
        await fresh.close();
        return pictureMs;
      }),
    );
    figures['stageFirstPictureMs'] = Math.max(...cold.slice(0, 3).map((r) => r.figures));
    if (process.env['BENCH_OUT']) writeFileSync(`${process.env['BENCH_OUT']}.press`, JSON.stringify(figures));
    else console.log(figures);
  },
  900_000 + PLACES.length * (ROUNDS + MORE_ROUNDS) * PRESSES * PRESSED.everyMs * 2,
);
