import type { Song } from './song';

/** What stands in one cell of the cue sheet. */
export type Cell = {
  readonly value: number;
  /** Index of the scene that set it. Equal to the scene asked for when it is set there, else it is carried. */
  readonly setIn: number;
};

/**
 * What every function is told to be in a scene: its own values, and the carried ones of the scenes before, in the
 * order in which they were first set.
 * @param sceneIndex from 0; beyond the last scene is a bug and throws `RangeError`.
 * Example: snapshot set in scene 0 only is `{ value, setIn: 0 }` in scene 2.
 */
export function sceneCells(song: Song, sceneIndex: number): Map<string, Cell> {
  if (!song.scenes[sceneIndex]) throw new RangeError(`${song.name} has no scene ${sceneIndex}`);
  const cells = new Map<string, Cell>();
  for (let i = 0; i <= sceneIndex; i++) {
    for (const { functionId, value } of song.scenes[i]!.values) cells.set(functionId, { value, setIn: i });
  }
  return cells;
}
