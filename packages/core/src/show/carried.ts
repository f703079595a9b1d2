import type { OwnWay, Song } from './song';

/** What stands in one cell of the cue sheet. */
export type Cell = {
  readonly value: number;
  /** Index of the scene that set it. Equal to the scene asked for when it is set there, else it is carried. */
  readonly setIn: number;
  /** How it gets there where it is set, `null` as the scene says. */
  readonly way: OwnWay | null;
};

/**
 * What every function is told to be in a scene: its own values, and the carried ones of the scenes before, in the
 * order in which they were first set.
 * @param arming every function of the rig that arms a track: a scene that arms exactly some lets go of the others.
 * @param sceneIndex from 0; beyond the last scene is a bug and throws `RangeError`.
 * Example: snapshot set in scene 0 only is `{ value, setIn: 0 }` in scene 2.
 */
export function sceneCells(
  song: Song,
  sceneIndex: number,
  arming: readonly ArmingFunction[] = [],
): Map<string, Cell> {
  if (!song.scenes[sceneIndex]) throw new RangeError(`${song.name} has no scene ${sceneIndex}`);
  const cells = new Map<string, Cell>();
  for (let i = 0; i <= sceneIndex; i++) {
    const { armedFunctionIds } = song.scenes[i]!;
    if (armedFunctionIds) armExactly(cells, armedFunctionIds, arming, i);
    for (const { functionId, value, way } of song.scenes[i]!.values)
      cells.set(functionId, { value, setIn: i, way });
  }
  return cells;
}

/** A function that arms a track; two of the same track have the same `track`. */
export type ArmingFunction = {
  readonly id: string;
  readonly track: string;
  /** What the track is called, and what it listens to, empty where that is not said. */
  readonly name: string;
  readonly input: string;
};

/** One message a track: the one that is named, or the first. */
function armExactly(
  cells: Map<string, Cell>,
  armed: readonly string[],
  arming: readonly ArmingFunction[],
  setIn: number,
): void {
  const done = new Set(arming.filter((fn) => armed.includes(fn.id)).map((fn) => fn.track));
  for (const { id } of arming) cells.delete(id);
  for (const id of armed) cells.set(id, { value: 1, setIn, way: null });
  for (const { id, track } of arming) {
    if (done.has(track)) continue;
    done.add(track);
    cells.set(id, { value: 0, setIn, way: null });
  }
}

/** What a scene is beside its functions, its own and what is carried from its left, with the scene that set each. */
export type SceneSurround = {
  /** `setIn` −1 for the song's own; `null` where no scene brings one. */
  readonly tempo: { readonly value: number; readonly setIn: number } | null;
  /** Place of the bank in its preset, by board. */
  readonly banks: ReadonlyMap<string, { readonly value: number; readonly setIn: number }>;
  /** On or off, by `routeKey`. */
  readonly routes: ReadonlyMap<string, { readonly value: boolean; readonly setIn: number }>;
};

/** What tells a route from its gate. */
export const routeKey = (routeId: string, part: 'route' | 'gate'): string => `${part}/${routeId}`;

/** @param sceneIndex from 0; scenes beyond the last add nothing. */
export function sceneSurround(song: Song, sceneIndex: number): SceneSurround {
  // Where one scene brings a tempo, the song's own holds to its left.
  let tempo: SceneSurround['tempo'] = song.scenes.some((s) => s.tempoBpm !== null)
    ? { value: song.tempoBpm, setIn: -1 }
    : null;
  const banks = new Map<string, { value: number; setIn: number }>();
  const routes = new Map<string, { value: boolean; setIn: number }>();
  song.scenes.slice(0, sceneIndex + 1).forEach((scene, setIn) => {
    if (scene.tempoBpm !== null) tempo = { value: scene.tempoBpm, setIn };
    for (const { boardId, index } of scene.banks) banks.set(boardId, { value: index, setIn });
    for (const { routeId, part, on } of scene.routes)
      routes.set(routeKey(routeId, part), { value: on, setIn });
  });
  return { tempo, banks, routes };
}
