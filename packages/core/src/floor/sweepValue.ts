import { applyCurve } from './curve';
import type { Sweep } from './preset';

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
