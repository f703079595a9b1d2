import type { NoteLength, Scene, Song } from '../show';

/** @param note where the value follows the tempo. */
export function withValue(
  song: Song,
  sceneId: string,
  functionId: string,
  value: number,
  note?: NoteLength,
): Song {
  return mapScene(song, sceneId, (scene) => {
    const at = scene.values.findIndex((v) => v.functionId === functionId);
    const way = scene.values[at]?.way ?? null;
    const said = note === undefined ? { functionId, value, way } : { functionId, value, way, note };
    return { ...scene, values: at < 0 ? [...scene.values, said] : scene.values.with(at, said) };
  });
}

/** The scene no longer sets the function: it is carried over from the scene before. */
export const withoutValue = (song: Song, sceneId: string, functionId: string): Song =>
  mapScene(song, sceneId, (scene) => ({
    ...scene,
    values: scene.values.filter((v) => v.functionId !== functionId),
  }));

export const mapScene = (song: Song, sceneId: string, change: (scene: Scene) => Scene): Song => ({
  ...song,
  scenes: song.scenes.map((s) => (s.id === sceneId ? change(s) : s)),
});
