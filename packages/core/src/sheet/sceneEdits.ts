import type { Scene, Song } from '../show';

export function withValue(song: Song, sceneId: string, functionId: string, value: number): Song {
  return mapScene(song, sceneId, (scene) => {
    const at = scene.values.findIndex((v) => v.functionId === functionId);
    return at < 0
      ? { ...scene, values: [...scene.values, { functionId, value, way: null }] }
      : { ...scene, values: scene.values.with(at, { ...scene.values[at]!, value }) };
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
