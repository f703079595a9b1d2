import type { Ramp } from '../state/liveState';

export const durationMs = ({ amount, unit, bpm }: Pick<Ramp, 'amount' | 'unit' | 'bpm'>): number =>
  amount * (unit === 's' ? 1000 : 60_000 / bpm);

/** How far a ramp has come, 0–1. */
export function shareAt(ramp: Ramp, nowMs: number): number {
  const ms = durationMs(ramp);
  return ms === 0 ? 1 : Math.min(1, ramp.share + Math.max(0, nowMs - ramp.sinceMs) / ms);
}

/** When a ramp is at its end, in ms, at the tempo that it runs at now. */
export const endMs = (ramp: Ramp): number => ramp.sinceMs + (1 - ramp.share) * durationMs(ramp);

type Stepping = Ramp & { readonly stepMs: number };
const steps = (ramp: Ramp): ramp is Stepping => ramp.stepMs !== null;

/**
 * The step that a ramp takes next, counted from where its tempo was last set.
 * @param lateUntilMs steps before this are skipped.
 */
const nextStepOf = (ramp: Stepping, lateUntilMs: number): number =>
  Math.max(ramp.stepsDone + 1, Math.floor((Math.min(lateUntilMs, endMs(ramp)) - ramp.sinceMs) / ramp.stepMs));

/** When a ramp moves next, in ms: at its next step, or at its exact end. */
export const rampDueMs = (ramp: Ramp, lateUntilMs: number): number =>
  steps(ramp)
    ? Math.min(endMs(ramp), ramp.sinceMs + nextStepOf(ramp, lateUntilMs) * ramp.stepMs)
    : endMs(ramp);

/** The step that has come, and how far the ramp is with it, 0–1. */
export function stepNow(
  ramp: Ramp,
  lateUntilMs: number,
): { readonly stepsDone: number; readonly share: number } {
  if (!steps(ramp)) return { stepsDone: ramp.stepsDone, share: ramp.share };
  const stepsDone = nextStepOf(ramp, lateUntilMs);
  // Counted in steps, not by the clock: rounding would make the same glide send other values at another time of day.
  return { stepsDone, share: Math.min(1, ramp.share + (stepsDone * ramp.stepMs) / durationMs(ramp)) };
}

/**
 * A ramp with its steps counted from now on; from its start, where it has not begun; or from its last step, where that was
 * handed over in advance.
 */
export function recounted(ramp: Ramp, nowMs: number, part: Partial<Pick<Ramp, 'bpm' | 'stepMs'>>): Ramp {
  const fromMs = Math.max(nowMs, ramp.sinceMs + ramp.stepsDone * (ramp.stepMs ?? 0));
  return { ...ramp, share: shareAt(ramp, fromMs), sinceMs: fromMs, stepsDone: 0, ...part };
}

/** Beats are counted at the new tempo from now on. */
export const retimed = (ramps: readonly Ramp[], bpm: number, nowMs: number): readonly Ramp[] =>
  ramps.some((r) => r.unit === 'beats' && r.bpm !== bpm)
    ? ramps.map((r) => (r.unit === 'beats' && r.bpm !== bpm ? recounted(r, nowMs, { bpm }) : r))
    : ramps;
