import { CLOCKS_A_BEAT } from './clockTimes';
import { CLOCK_LOST_MS } from './lineTimes';
import { nth } from '../../sure';

/** Ticks that a tempo is reckoned from: four beats. */
const MOST_TICKS = 4 * CLOCKS_A_BEAT;
/** Ticks before a tempo is believed: one beat. */
const FEWEST_TICKS = CLOCKS_A_BEAT;
/** Two ticks in a row that are this far off, in ms, are another tempo and no jitter. */
const OFF_MS = 7;

/** The ticks that count once another has come: those before a gap, or of another tempo, no longer do. */
export function withTick(heardMs: readonly number[], atMs: number): readonly number[] {
  const last = heardMs.at(-1);
  if (last === undefined || atMs - last > CLOCK_LOST_MS || atMs < last) return [atMs];
  const heard = [...heardMs, atMs].slice(-MOST_TICKS);
  return isAnotherTempo(heard) ? heard.slice(-3) : heard;
}

/** Whether the last two ticks lie off the line of those before, on the same side. */
function isAnotherTempo(heard: readonly number[]): boolean {
  const before = heard.slice(0, -2);
  if (before.length < FEWEST_TICKS) return false;
  const { start, slope } = lineThrough(before);
  const off = (i: number) => nth(heard, i) - (start + slope * i);
  const [a, b] = [off(heard.length - 2), off(heard.length - 1)];
  return (a > OFF_MS && b > OFF_MS) || (a < -OFF_MS && b < -OFF_MS);
}

/**
 * The tempo of ticks that came with some jitter, by least squares.
 * @returns bpm to a tenth, 20–400; `null` before a beat of ticks was heard or where no song has such a tempo.
 */
export function heardTempo(heardMs: readonly number[]): number | null {
  if (heardMs.length <= FEWEST_TICKS) return null;
  const { slope } = lineThrough(heardMs);
  const bpm = 60_000 / (slope * CLOCKS_A_BEAT);
  return bpm >= 20 && bpm <= 400 ? Math.round(bpm * 10) / 10 : null;
}

/** The straight line nearest to times that lie one step apart. */
function lineThrough(times: readonly number[]): { readonly start: number; readonly slope: number } {
  const n = times.length;
  const middle = (n - 1) / 2;
  const first = nth(times, 0);
  const mean = times.reduce((sum, t) => sum + (t - first), 0) / n;
  let above = 0;
  for (const [i, t] of times.entries()) above += (i - middle) * (t - first - mean);
  const slope = (above * 12) / (n * (n * n - 1));
  return { start: first + mean - slope * middle, slope };
}
