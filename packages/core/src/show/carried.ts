import type { NoteLength } from './noteLength';
import type { OwnWay, SceneControl, Song } from './song';
import { nth } from '../sure';

/** What stands in one cell of the cue sheet. */
export type Cell = {
  readonly value: number;
  /** Index of the scene that set it. Equal to the scene asked for when it is set there, else it is carried. */
  readonly setIn: number;
  /** How it gets there where it is set, `null` as the scene says. */
  readonly way: OwnWay | null;
  /** The note length that it follows the tempo as. */
  readonly note?: NoteLength | undefined;
};

/** A cell whose register another row has written since: its value does not hold any more. */
export type Replaced = {
  /** The function that replaced it. */
  readonly by: string;
  /** Index of the scene in which that was. */
  readonly setIn: number;
};

/** What carrying values from scene to scene has to know of the rig. */
export type Carrying = {
  /** Every function that arms a track: a scene that arms exactly some lets go of the others. */
  readonly arming: readonly ArmingFunction[];
  /** Other functions that read what this one writes: setting this one replaces their values. */
  readonly replacedBy: (functionId: string) => readonly string[];
};

/** Of a rig of which nothing is known. */
export const PLAIN_CARRYING: Carrying = { arming: [], replacedBy: () => [] };

/** The cue sheet in one scene. */
export type SceneSheet = {
  /** What every function is told to be, in the order in which it was first set. */
  readonly cells: ReadonlyMap<string, Cell>;
  /** Cells of this scene, or carried into it, that another row has replaced since. */
  readonly replaced: ReadonlyMap<string, Replaced>;
};

/**
 * What every function is told to be in a scene: its own values, and the carried ones of the scenes before. A value that
 * another row of the same register has replaced since is not carried.
 * @param sceneIndex from 0; beyond the last scene is a bug and throws `RangeError`.
 * Example: snapshot set in scene 0 only is `{ value, setIn: 0 }` in scene 2.
 */
export function sceneSheet(song: Song, sceneIndex: number, rig: Carrying = PLAIN_CARRYING): SceneSheet {
  if (!song.scenes[sceneIndex]) throw new RangeError(`${song.name} has no scene ${sceneIndex}`);
  const cells = new Map<string, Cell>();
  const replaced = new Map<string, Replaced>();
  const put = (functionId: string, cell: Cell): void => {
    for (const other of rig.replacedBy(functionId))
      if (cells.delete(other)) replaced.set(other, { by: functionId, setIn: cell.setIn });
    replaced.delete(functionId);
    cells.set(functionId, cell);
  };
  for (let i = 0; i <= sceneIndex; i++) {
    const { armedFunctionIds } = nth(song.scenes, i);
    if (armedFunctionIds) armExactly(cells, put, armedFunctionIds, rig.arming, i);
    for (const { functionId, value, way, note } of nth(song.scenes, i).values)
      put(functionId, note === undefined ? { value, setIn: i, way } : { value, setIn: i, way, note });
  }
  return { cells, replaced };
}

/** The cells of `sceneSheet`. */
export const sceneCells = (song: Song, sceneIndex: number, rig?: Carrying): ReadonlyMap<string, Cell> =>
  sceneSheet(song, sceneIndex, rig).cells;

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
  put: (functionId: string, cell: Cell) => void,
  armed: readonly string[],
  arming: readonly ArmingFunction[],
  setIn: number,
): void {
  const done = new Set(arming.filter((fn) => armed.includes(fn.id)).map((fn) => fn.track));
  for (const { id } of arming) cells.delete(id);
  for (const id of armed) put(id, { value: 1, setIn, way: null });
  for (const { id, track } of arming) {
    if (done.has(track)) continue;
    done.add(track);
    put(id, { value: 0, setIn, way: null });
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
  /** What a control does in place of what its bank says, by control. */
  readonly controls: ReadonlyMap<string, { readonly value: SceneControl; readonly setIn: number }>;
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
  const controls = new Map<string, { value: SceneControl; setIn: number }>();
  song.scenes.slice(0, sceneIndex + 1).forEach((scene, setIn) => {
    if (scene.tempoBpm !== null) tempo = { value: scene.tempoBpm, setIn };
    for (const { boardId, index } of scene.banks) banks.set(boardId, { value: index, setIn });
    for (const { routeId, part, on } of scene.routes)
      routes.set(routeKey(routeId, part), { value: on, setIn });
    for (const control of scene.controls) controls.set(control.controlId, { value: control, setIn });
  });
  return { tempo, banks, routes, controls };
}
