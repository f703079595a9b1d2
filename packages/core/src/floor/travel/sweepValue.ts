import { applyCurve } from './curve';
import type { Sweep } from '../preset/preset';
import { nth } from '../../sure';

/**
 * The value that a pedal position gives. `position` 0–127 (fractions where the pedal has 14 bits), result a whole number between `from` and `to`;
 * heel and toe give them exactly. Example: a linear sweep from 20 to 110 at 64 is 65.
 */
export function sweepValue(
  sweep: Pick<Sweep, 'from' | 'to' | 'invert' | 'curve' | 'points'>,
  position: number,
): number {
  const share = applyCurve(sweep.curve, position / 127, sweep.points);
  const [start, end] = sweep.invert ? [sweep.to, sweep.from] : [sweep.from, sweep.to];
  return Math.round(start + (end - start) * share);
}

/** The place, 0–127, at which a control gives a value, or the nearest that it can; of several the middle one. */
export function placeForValue(sweep: Parameters<typeof sweepValue>[0], value: number): number {
  let nearest: number[] = [];
  let off = Infinity;
  for (let place = 0; place <= 127; place++) {
    const by = Math.abs(sweepValue(sweep, place) - value);
    if (by < off) nearest = [];
    if (by <= off) nearest.push(place);
    off = Math.min(off, by);
  }
  return nth(nearest, nearest.length >> 1);
}
