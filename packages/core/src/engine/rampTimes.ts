import type { Ramp } from './liveState';

/** A value on its way is sent at most this often, in ms. Our own choice. */
export const RAMP_STEP_MS = 10;

export const durationMs = ({ amount, unit, bpm }: Pick<Ramp, 'amount' | 'unit' | 'bpm'>): number =>
  amount * (unit === 's' ? 1000 : 60_000 / bpm);

/** How far a ramp has come, 0–1. */
export function shareAt(ramp: Ramp, nowMs: number): number {
  const ms = durationMs(ramp);
  return ms === 0 ? 1 : Math.min(1, ramp.share + (nowMs - ramp.sinceMs) / ms);
}

/** When a ramp is at its end, in ms, at the tempo that it runs at now. */
export const endMs = (ramp: Ramp): number => ramp.sinceMs + (1 - ramp.share) * durationMs(ramp);

/**
 * The step that a ramp takes next, counted from where its tempo was last set.
 * @param lateUntilMs steps before this are skipped.
 */
export const nextStepOf = (ramp: Ramp, lateUntilMs: number): number =>
  Math.max(
    ramp.stepsDone + 1,
    Math.floor((Math.min(lateUntilMs, endMs(ramp)) - ramp.sinceMs) / RAMP_STEP_MS),
  );

/** When a ramp moves next, in ms: at its next step, or at its exact end. */
export const rampDueMs = (ramp: Ramp, lateUntilMs: number): number =>
  Math.min(endMs(ramp), ramp.sinceMs + nextStepOf(ramp, lateUntilMs) * RAMP_STEP_MS);

/** Beats are counted at the new tempo from now on. */
export const retimed = (ramps: readonly Ramp[], bpm: number, nowMs: number): readonly Ramp[] =>
  ramps.some((r) => r.unit === 'beats' && r.bpm !== bpm)
    ? ramps.map((r) =>
        r.unit === 'beats' && r.bpm !== bpm
          ? { ...r, bpm, share: shareAt(r, nowMs), sinceMs: nowMs, stepsDone: 0 }
          : r,
      )
    : ramps;
