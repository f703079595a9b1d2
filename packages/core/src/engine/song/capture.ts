import { isUsable, takesValue, type ChartFunction, type Device } from '../../gear';
import { sceneCells, valueWithBeat, type Song } from '../../show';
import { valueAt, type Known } from '../state/known';
import type { World } from '../world/world';
import { got } from '../../sure';

/** One function that stands otherwise than a scene says. */
export type Captured = {
  readonly device: Device;
  readonly fn: ChartFunction;
  /** What it was told or reported last. */
  readonly value: number;
  /** What the scene says of it, its own or carried; `null` where it says nothing. */
  readonly before: number | null;
  /** Other functions that the scene sets and that write the same register: this one takes their place. */
  readonly replaces: readonly string[];
};

/**
 * What the rig stands at and a scene does not say: every register that was told or reported something else, once, by the
 * row that the scene names it by, else by the first, in the order of the rig. Triggers have no value to capture, and what a
 * chart does not take any more is left out.
 *
 * @param sceneIndex from 0.
 */
export function captureFor(
  world: World,
  state: Known & { readonly tempo?: { readonly bpm: number } },
  song: Song,
  sceneIndex: number,
): readonly Captured[] {
  const cells = sceneCells(song, sceneIndex, world.carrying);
  const found: Captured[] = [];
  const isNamed = new Set<string>();
  // What the scene names already comes first, so that no second name of the same register is added.
  for (const reached of [...world.rows].sort((a, b) => +cells.has(b.fn.id) - +cells.has(a.fn.id))) {
    const { device, fn } = reached;
    const value = valueAt(state, reached);
    if (value === undefined || fn.shape.kind === 'trigger' || fn.reserved || isNamed.has(fn.id)) continue;
    if (!isUsable(device, fn) || !takesValue(fn.shape, value)) continue;
    const others = world.carrying.replacedBy(fn.id);
    for (const id of others) isNamed.add(id);
    const cell = cells.get(fn.id);
    const followed = cell?.note && state.tempo ? valueWithBeat(fn, cell.note, state.tempo.bpm) : null;
    const before = followed ?? cell?.value ?? null;
    if (before === value) continue;
    found.push({ device, fn, value, before, replaces: others.filter((id) => cells.has(id)) });
  }
  const order = new Map(world.rows.map(({ fn }, i) => [fn.id, i]));
  return found.sort((a, b) => got(order, a.fn.id) - got(order, b.fn.id));
}
