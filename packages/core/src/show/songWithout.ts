import type { Song } from './song';

/** A song without the values of functions that go. The same object comes back when it had none. */
export function songWithout(song: Song, functionIds: ReadonlySet<string>): Song {
  if (!song.scenes.some((s) => s.values.some((v) => functionIds.has(v.functionId)))) return song;
  return {
    ...song,
    scenes: song.scenes.map((scene) => ({
      ...scene,
      values: scene.values.filter((v) => !functionIds.has(v.functionId)),
    })),
  };
}
