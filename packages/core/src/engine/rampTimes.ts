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

/** When a ramp moves next: on a grid from where its tempo was last set, and at its exact end. */
function dueMs(ramp: Ramp, afterMs: number): number {
  const steps = Math.floor((afterMs - ramp.sinceMs) / RAMP_STEP_MS) + 1;
  return Math.min(endMs(ramp), ramp.sinceMs + steps * RAMP_STEP_MS);
}

/** When the first of the ramps moves next, in ms; infinite when there is none. */
export const rampsDueMs = (ramps: readonly Ramp[], nowMs: number): number =>
  ramps.reduce((ms, ramp) => Math.min(ms, dueMs(ramp, nowMs)), Infinity);

/** Beats are counted at the new tempo from now on. */
export const retimed = (ramps: readonly Ramp[], bpm: number, nowMs: number): readonly Ramp[] =>
  ramps.some((r) => r.unit === 'beats' && r.bpm !== bpm)
    ? ramps.map((r) =>
        r.unit === 'beats' && r.bpm !== bpm ? { ...r, bpm, share: shareAt(r, nowMs), sinceMs: nowMs } : r,
      )
    : ramps;
