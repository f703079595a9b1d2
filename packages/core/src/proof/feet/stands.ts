import { isNotKnown, placeOf, stands, type LiveState, type World } from '../../engine';
import { isUsable, takesValue } from '../../gear';
import { nth } from '../../sure';

/**
 * The functions that do not stand as the scene in play says, as far as messages tell; none before the first scene.
 * A glide counts as where it leads, a trigger has nothing to stand at, and what nothing leads to is a finding.
 */
export function standsOtherwise(world: World, state: LiveState): readonly string[] {
  const { songIndex, sceneIndex } = placeOf(world, state);
  if (sceneIndex === null) return [];
  const song = nth(world.songs, songIndex);
  const following = new Set(nth(song.following, sceneIndex).map((f) => f.functionId));
  return [...nth(song.cells, sceneIndex)].flatMap(([id, { value }]) => {
    const reached = world.functions.get(id);
    if (!reached?.path || reached.fn.shape.kind === 'trigger' || following.has(id)) return [];
    if (!isUsable(reached.device, reached.fn) || !takesValue(reached.fn.shape, value)) return [];
    const ramp = state.ramps.find((r) => r.functionId === id);
    if (ramp) return ramp.to === value ? [] : [id];
    return !isNotKnown(state, reached) && stands(state, reached, value) ? [] : [id];
  });
}

/**
 * A text that is equal for two states in which presses lead to the same places: where the set stands, and the banks and
 * pages in force. Values of the gear are left out.
 * @param boardId only the bank of this board, for a press of one of its controls.
 */
export function placeKey(world: World, state: LiveState, boardId: string | null = null): string {
  const sorted = (record: Readonly<Record<string, string | boolean>>): string =>
    Object.keys(record)
      .sort()
      .map((k) => `${k}:${record[k]}`)
      .join();
  let banks = '';
  for (const { board, banks: own } of world.boards)
    if (boardId === null || board.id === boardId) banks += `${state.banks[board.id] ?? own[0]?.bank.id} `;
  const { position, run, routes } = state;
  return [
    position.entryId,
    position.sceneId,
    position.partId,
    state.isOver,
    run ? (run.pauseId ?? 'runs') : '',
    banks,
    sorted(state.pages),
    sorted(state.evens),
    sorted(state.latched),
    sorted(routes.switched),
    sorted(routes.gates),
    state.line?.isRunning ?? false,
  ].join('|');
}
