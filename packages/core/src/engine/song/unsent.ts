import { stands } from '../state/known';
import type { LiveState } from '../state/liveState';
import { placeOf } from '../world/place';
import type { World } from '../world/world';
import { nth } from '../../sure';

/**
 * Whether the scene in play was edited and the edit was not sent yet: a value, a tempo, a bank or a route differs from
 * what was sent and from how the rig stands. Captured values are how the rig stands, and controls of the scene count at
 * once; neither has to be sent.
 * @param before the scene as it was sent.
 */
export function isUnsent(
  before: World,
  after: World,
  state: Pick<LiveState, 'position' | 'registers' | 'pending' | 'tempo' | 'banks'>,
): boolean {
  const [old, now] = [before, after].map((world) => {
    const { songIndex, sceneIndex } = placeOf(world, state);
    const song = world.songs[songIndex];
    return sceneIndex === null || !song
      ? null
      : { cells: nth(song.cells, sceneIndex), around: nth(song.surrounds, sceneIndex) };
  });
  if (!old || !now) return false;
  for (const [functionId, { value, note }] of now.cells) {
    const was = old.cells.get(functionId);
    const reached = after.functions.get(functionId);
    if (!reached || (was?.value === value && was.note === note)) continue;
    if (!stands(state, reached, value)) return true;
  }
  const bpm = now.around.tempo?.value;
  if (bpm !== undefined && bpm !== old.around.tempo?.value && bpm !== state.tempo.bpm) return true;
  for (const [boardId, { value }] of now.around.banks) {
    const bankId = after.boardById.get(boardId)?.banks[value]?.bank.id;
    if (old.around.banks.get(boardId)?.value !== value && bankId !== state.banks[boardId]) return true;
  }
  for (const [key, { value }] of now.around.routes)
    if (old.around.routes.get(key)?.value !== value) return true;
  return false;
}
