import type { SceneDoc, SongDoc } from '@idle-step/contract';

/** Changes of a song as pure functions. */

export function withValue(song: SongDoc, sceneId: string, functionId: string, value: number): SongDoc {
  return mapScene(song, sceneId, (scene) => {
    const at = scene.values.findIndex((v) => v.functionId === functionId);
    const entry = { functionId, value };
    return { ...scene, values: at < 0 ? [...scene.values, entry] : scene.values.with(at, entry) };
  });
}

/** The scene no longer sets the function: it is carried over from the scene before. */
export const withoutValue = (song: SongDoc, sceneId: string, functionId: string): SongDoc =>
  mapScene(song, sceneId, (scene) => ({
    ...scene,
    values: scene.values.filter((v) => v.functionId !== functionId),
  }));

/** One more scene after the last, in which everything is carried over. */
export function withNewScene(song: SongDoc): { song: SongDoc; scene: SceneDoc } {
  const scene: SceneDoc = { id: crypto.randomUUID(), name: `Scene ${song.scenes.length + 1}`, values: [] };
  return { song: { ...song, scenes: [...song.scenes, scene] }, scene };
}

export const mapScene = (song: SongDoc, sceneId: string, change: (scene: SceneDoc) => SceneDoc): SongDoc => ({
  ...song,
  scenes: song.scenes.map((s) => (s.id === sceneId ? change(s) : s)),
});

export const newSong = (rigId: string, name: string): SongDoc => ({
  id: crypto.randomUUID(),
  rigId,
  name,
  tempoBpm: 100,
  beatsPerBar: 4,
  lengthS: 240,
  scenes: [{ id: crypto.randomUUID(), name: 'Intro', values: [] }],
});
