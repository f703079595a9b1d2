import { applyCurve } from '../floor';
import type { Modulation } from './route';

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
};

/**
 * How far a modulation is, 0–1 of the way from rest to peak. A note that comes while it still moves takes it over
 * from where it is.
 */
export function modulationShare(
  m: Modulation,
  run: Omit<ModulationRun, 'channel' | 'heldBy' | 'sent'>,
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

/** When it moves next, on its own grid and at its exact end; `null` when it rests. */
export function modulationDueMs(m: Modulation, run: ModulationRun, nowMs: number): number | null {
  const ends = restsAtMs(m, run);
  if (nowMs >= ends) return null;
  const origin = run.released?.atMs ?? run.sinceMs;
  const waits = run.released ? 0 : m.delayMs;
  if (nowMs < origin + waits) return origin + waits;
  return Math.min(ends, origin + (Math.floor((nowMs - origin) / m.everyMs) + 1) * m.everyMs);
}

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
  };
  for (let atMs: number | null = 0; atMs !== null;) {
    const value = modulationValue(m, modulationShare(m, run, atMs));
    if (steps.at(-1)?.value !== value) steps.push({ atMs, value });
    const next: number | null = modulationDueMs(m, run, atMs);
    if (!run.released && (next === null || next >= heldMs)) {
      run = { ...run, released: { atMs: heldMs, share: modulationShare(m, run, heldMs) } };
      atMs = heldMs;
    } else atMs = next;
  }
  return steps;
}
