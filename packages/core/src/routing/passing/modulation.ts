import { applyCurve } from '../../floor';
import type { Modulation } from '../route';

/** A modulation at work. */
export type ModulationRun = {
  /** When its note began, and how far it was then, 0–1 of the way to its peak. */
  readonly sinceMs: number;
  readonly fromShare: number;
  /** When the last of its notes ended, and how far it was then; `null` while one is held. */
  readonly released: { readonly atMs: number; readonly share: number } | null;
  /** 0–15, of the note that began it. */
  readonly channel: number;
  /** Notes that hold it, as they came. */
  readonly heldBy: readonly string[];
  /** What was sent last, 0–127, or `null`. */
  readonly sent: number | null;
  /** Points of its way that are done, counted from where it began or was let go. */
  readonly pointsDone: number;
};

/**
 * How far a modulation is, 0–1 of the way from rest to peak. A note that comes while it still moves takes it over
 * from where it is.
 */
export function modulationShare(
  m: Modulation,
  run: Pick<ModulationRun, 'sinceMs' | 'fromShare' | 'released'>,
  nowMs: number,
): number {
  const { released } = run;
  if (released) {
    if (m.releaseMs === 0) return 0;
    return released.share * (1 - applyCurve(m.curve, (nowMs - released.atMs) / m.releaseMs));
  }
  const attackAt = run.sinceMs + m.delayMs;
  if (nowMs < attackAt) return run.fromShare;
  const decayAt = attackAt + m.attackMs;
  if (nowMs < decayAt)
    return run.fromShare + (1 - run.fromShare) * applyCurve(m.curve, (nowMs - attackAt) / m.attackMs);
  const heldAt = decayAt + m.decayMs;
  if (nowMs < heldAt) return 1 - (1 - m.sustain) * applyCurve(m.curve, (nowMs - decayAt) / m.decayMs);
  return m.sustain;
}

/** The value that it stands for, 0–127. */
export const modulationValue = (m: Modulation, share: number): number =>
  Math.round(m.rest + (m.peak - m.rest) * share);

/** When it comes to rest where it is: at the end of its decay, or of its release, in ms. */
export const restsAtMs = (m: Modulation, run: Pick<ModulationRun, 'sinceMs' | 'released'>): number =>
  run.released ? run.released.atMs + m.releaseMs : run.sinceMs + m.delayMs + m.attackMs + m.decayMs;

/**
 * When a point of its way is reached, in ms: the first one at once, then on a grid from where it begins to move, the
 * last at its exact end. Counted and not added up, so that no fraction of a millisecond is lost on the way.
 */
function pointMs(m: Modulation, run: ModulationRun, point: number): number {
  const origin = run.released?.atMs ?? run.sinceMs;
  if (point === 0) return origin;
  return Math.min(restsAtMs(m, run), movesFromMs(m, run) + (point - firstMove(m, run)) * m.everyMs);
}

/** When it begins to move, in ms. */
const movesFromMs = (m: Modulation, run: ModulationRun): number =>
  run.released ? run.released.atMs : run.sinceMs + m.delayMs;

/** The point at which it begins to move: the first, or the second where it waits before. */
const firstMove = (m: Modulation, run: ModulationRun): number => (run.released || m.delayMs === 0 ? 0 : 1);

/**
 * The point that comes next; `null` when it rests.
 * @param lateUntilMs points before this are skipped.
 */
export function nextPoint(m: Modulation, run: ModulationRun, lateUntilMs = -Infinity): number | null {
  const { pointsDone } = run;
  if (pointsDone > 0 && pointMs(m, run, pointsDone - 1) >= restsAtMs(m, run)) return null;
  const late = Math.min(lateUntilMs, restsAtMs(m, run));
  return Math.max(pointsDone, Math.floor((late - movesFromMs(m, run)) / m.everyMs) + firstMove(m, run));
}

/** When it moves next, in ms; `null` when it rests. */
export function modulationDueMs(m: Modulation, run: ModulationRun, lateUntilMs = -Infinity): number | null {
  const point = nextPoint(m, run, lateUntilMs);
  return point === null ? null : pointMs(m, run, point);
}

/** The same let go now: it goes back to rest from where it is. */
export const letGo = (m: Modulation, run: ModulationRun, nowMs: number): ModulationRun => ({
  ...run,
  released: { atMs: nowMs, share: modulationShare(m, run, nowMs) },
  pointsDone: 0,
});

/** What is sent for one note held for a while: times in ms from its start, values 0–127. For a chart. */
export function modulationSteps(m: Modulation, heldMs: number): { atMs: number; value: number }[] {
  const steps: { atMs: number; value: number }[] = [];
  let run: ModulationRun = {
    sinceMs: 0,
    fromShare: 0,
    released: null,
    channel: 0,
    heldBy: ['note'],
    sent: null,
    pointsDone: 0,
  };
  for (;;) {
    const atMs = modulationDueMs(m, run);
    if (!run.released && (atMs === null || atMs >= heldMs)) run = letGo(m, run, heldMs);
    else if (atMs === null) return steps;
    else {
      const value = modulationValue(m, modulationShare(m, run, atMs));
      if (steps.at(-1)?.value !== value) steps.push({ atMs, value });
      run = { ...run, pointsDone: run.pointsDone + 1 };
    }
  }
}
