import type { Hardware } from '../board/board';
import { lastOf, nth } from '../../sure';

/**
 * Where a pedal or knob stands in its real travel, 0–127: its real ends and dead zones taken into account.
 * @param position as the hardware says, 0–127 (fractions where it has 14 bits). Heel and toe may be the other way
 * round. Example: a pedal that goes from 7 to 119 stands at 0 for 7 and at 127 for 119.
 */
export function travelOf(hardware: Pick<Hardware, 'heel' | 'toe' | 'deadZone'>, position: number): number {
  const { heel, toe, deadZone } = hardware;
  if (heel === toe) return position >= toe ? 127 : 0;
  const share = (position - heel) / (toe - heel);
  const zone = deadZone / 100;
  return Math.min(1, Math.max(0, (share - zone) / (1 - 2 * zone))) * 127;
}

/**
 * The position to go by after a new one arrived: the one before, when the pedal only trembled.
 * The ends are always reached, so that no jitter setting keeps a pedal from closing.
 */
export function steadied(
  hardware: Pick<Hardware, 'jitter' | 'heel' | 'toe'>,
  before: number | undefined,
  position: number,
): number {
  if (before === undefined || hardware.jitter === 0) return position;
  const low = Math.min(hardware.heel, hardware.toe);
  const high = Math.max(hardware.heel, hardware.toe);
  if (position <= low || position >= high) return position;
  return Math.abs(position - before) < hardware.jitter ? before : position;
}

/** What a full movement from heel to toe and back says about a pedal. Positions 0–127. */
export type Calibration = Pick<Hardware, 'heel' | 'toe' | 'deadZone' | 'jitter'>;

/**
 * Reads a pedal's ends from the positions of a movement that began at the heel and reached the toe, and its jitter
 * from how far it trembled between. `null` when it moved less than a quarter of its travel, which is no full movement.
 */
export function calibrate(positions: readonly number[]): Calibration | null {
  if (positions.length < 3) return null;
  const low = Math.min(...positions);
  const high = Math.max(...positions);
  if (high - low < 32) return null;
  const startsLow = nth(positions, 0) - low <= high - nth(positions, 0);
  return {
    heel: startsLow ? low : high,
    toe: startsLow ? high : low,
    deadZone: 2,
    jitter: jitterOf(positions),
  };
}

/** One more than the largest step back within a movement that otherwise went on. */
function jitterOf(positions: readonly number[]): number {
  const turn = positions.indexOf(
    nth(positions, 0) <= (Math.min(...positions) + Math.max(...positions)) / 2
      ? Math.max(...positions)
      : Math.min(...positions),
  );
  const way = positions.slice(0, turn + 1);
  const sign = Math.sign(lastOf(way) - nth(way, 0));
  let furthest = nth(way, 0);
  let back = 0;
  for (const p of way) {
    if ((p - furthest) * sign > 0) furthest = p;
    else back = Math.max(back, (furthest - p) * sign);
  }
  return back === 0 ? 0 : Math.min(16, back + 1);
}
