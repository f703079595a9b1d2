import { isUsable, takesValue, type ChartFunction, type Device } from '../gear';
import { sceneCells, type Song } from '../show';
import type { LiveState } from './liveState';
import type { World } from './world';

/** One function that stands otherwise than a scene says. */
export type Captured = {
  readonly device: Device;
  readonly fn: ChartFunction;
  /** What it was told or reported last. */
  readonly value: number;
  /** What the scene says of it, its own or carried; `null` where it says nothing. */
  readonly before: number | null;
};

/**
 * What the rig stands at and a scene does not say: every function that was told or reported something else, in the order
 * of the rig. Triggers have no value to capture, and what a chart does not take any more is left out.
 *
 * @param sceneIndex from 0.
 */
export function captureFor(
  world: World,
  state: Pick<LiveState, 'values'>,
  song: Song,
  sceneIndex: number,
): readonly Captured[] {
  const cells = sceneCells(song, sceneIndex, world.arming);
  return world.rows.flatMap(({ device, fn }): Captured[] => {
    const value = state.values[fn.id];
    if (value === undefined || fn.shape.kind === 'trigger' || fn.reserved) return [];
    if (!isUsable(device, fn) || !takesValue(fn.shape, value)) return [];
    const before = cells.get(fn.id)?.value ?? null;
    return before === value ? [] : [{ device, fn, value, before }];
  });
}
