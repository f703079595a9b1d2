import { valueWithBeat, type Cell, type Reached } from '../../show';
import type { Live } from '../live/live';
import { setFunction } from '../live/sending';
import { placeOf } from '../world/place';

/** What a cell says at the tempo in play. */
export function cellNow({ state }: Live, { fn }: Reached, cell: Cell): Cell {
  if (cell.note === undefined) return cell;
  const value = valueWithBeat(fn, cell.note, state.tempo.bpm);
  return value === null || value === cell.value ? cell : { ...cell, value };
}

/**
 * Sends what follows the tempo in the scene in play again, where the tempo is another one than it was. What a foot has
 * moved since is left where it is.
 * @param before bpm as it was.
 * @returns whether anything was sent.
 */
export function followTempo(live: Live, before: number): boolean {
  const { bpm } = live.state.tempo;
  if (bpm === before) return false;
  const { songIndex, sceneIndex } = placeOf(live.world, live.state);
  const following = sceneIndex === null ? undefined : live.world.songs[songIndex]?.following[sceneIndex];
  let isSent = false;
  for (const { functionId, note } of following ?? []) {
    const fn = live.world.functions.get(functionId)?.fn;
    if (!fn || live.state.pending.some((p) => p.functionId === functionId)) continue;
    const [was, now] = [valueWithBeat(fn, note, before), valueWithBeat(fn, note, bpm)];
    if (now === null || now === was || live.value(functionId) !== was) continue;
    setFunction(live, functionId, now);
    isSent = true;
  }
  return isSent;
}
