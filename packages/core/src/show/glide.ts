import { applyCurve, type PlainCurve, type RampTime } from '../floor';
import type { OwnWay, Transition } from './song';

/** A value on its way is sent at most this often, in ms. */
export const GLIDE_STEP_MS = 10;

/** Glides take no more than this share of what a link carries, so that presses still get through. */
const LINK_SHARE = 0.5;

/**
 * How far apart the steps of glides on one port lie, in ms, a multiple of 10: as dense as the link bears beside what else
 * it carries.
 * @param wireMs how long one message of each glide takes on the link.
 */
export function glideStepMs(wireMs: readonly number[]): number {
  const busy = wireMs.reduce((sum, ms) => sum + ms, 0) / LINK_SHARE;
  return Math.max(1, Math.ceil(busy / GLIDE_STEP_MS - 1e-9)) * GLIDE_STEP_MS;
}

/** Where a glide is at a share of its time, 0–1; the last value is exact. */
export const glideValue = (from: number, to: number, curve: PlainCurve, share: number): number =>
  share >= 1 ? to : Math.round(from + (to - from) * applyCurve(curve, share));

/** One message of a glide: when, in ms from its start, and what. */
export type GlideStep = { readonly atMs: number; readonly value: number };

/** All messages of a glide that nothing interrupts: evenly spread, never two alike in a row, the last one exact. */
export function glideSteps(
  from: number,
  to: number,
  curve: PlainCurve,
  ms: number,
  stepMs: number = GLIDE_STEP_MS,
): readonly GlideStep[] {
  const steps: GlideStep[] = [];
  let last = from;
  const take = (atMs: number, share: number) => {
    const value = glideValue(from, to, curve, share);
    if (value !== last) steps.push({ atMs, value });
    last = value;
  };
  for (let n = 1; n * stepMs < ms; n++) take(n * stepMs, (n * stepMs) / ms);
  take(ms, 1);
  return steps;
}

/**
 * How long and along which curve a value gets to a scene, or `null` at once: its own way, else the scene's.
 * @param own the value's own way, `null` where it has none or the scene only carries it.
 */
export function timedWay(
  own: OwnWay | null,
  transition: Transition | null,
): { readonly time: RampTime; readonly curve: PlainCurve } | null {
  if (own?.kind === 'at-once') return null;
  const way = own ?? transition;
  return way && way.time.amount > 0 ? { time: way.time, curve: way.curve } : null;
}
