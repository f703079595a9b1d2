import { compileWorld, initialState, step, type LiveState, type Show, type World } from '../../engine';

/**
 * The evening as feet alone play it: nothing comes by itself along a time line, so that waiting changes nothing, and what
 * glides is there at once. The last value of a glide is exact, so that the gear comes to stand as it would.
 */
export function worldOfFeet(show: Show): World {
  return compileWorld({
    ...show,
    songs: show.songs.map((song) => ({
      ...song,
      scenes: song.scenes.map((scene) => ({
        ...scene,
        transition: null,
        values: scene.values.map((v) => ({ ...v, way: null })),
      })),
      line: { ...song.line, cues: [], follows: null, loop: null, partsByTime: false },
    })),
  });
}

/** The set begun, in its first scene. */
export const begunEvening = (world: World): LiveState =>
  step(world, initialState(world, 0), {
    kind: 'command',
    atMs: 0,
    command: { kind: 'show', to: 'begin' },
  }).state;
