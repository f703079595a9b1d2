import { compileWorld, initialState, step, type LiveState, type Show, type World } from '../../engine';

/** The evening as feet alone play it: nothing comes by itself along a time line, so that waiting changes nothing. */
export function worldOfFeet(show: Show): World {
  return compileWorld({
    ...show,
    songs: show.songs.map((song) => ({
      ...song,
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
