import type { Position } from '../state/liveState';
import { placeOf } from '../world/place';
import type { World } from '../world/world';

/**
 * Whether a scene says the same in an edited world: every function that it tells, also what it carries on, its tempo, its
 * banks and its routes. What controls do in it is left out, since that counts at once. Where the scene is gone there is
 * nothing to compare.
 */
export function saysTheSame(before: World, after: World, position: Position): boolean {
  const [old, now] = [before, after].map((world) => {
    const { songIndex, sceneIndex } = placeOf(world, { position });
    const song = world.songs[songIndex];
    return sceneIndex === null || !song
      ? null
      : { cells: song.cells[sceneIndex]!, around: song.surrounds[sceneIndex]! };
  });
  if (!old || !now) return true;
  return (
    sameValues(old.cells, now.cells) &&
    old.around.tempo?.value === now.around.tempo?.value &&
    sameValues(old.around.banks, now.around.banks) &&
    sameValues(old.around.routes, now.around.routes)
  );
}

type Values = ReadonlyMap<string, { readonly value: unknown }>;

const sameValues = (a: Values, b: Values): boolean =>
  a.size === b.size && [...a].every(([key, { value }]) => b.get(key)?.value === value);
