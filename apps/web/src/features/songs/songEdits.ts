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

/** `name`, or with a number behind it where that is taken. */
export function freeName(taken: readonly string[], name: string): string {
  const lower = new Set(taken.map((t) => t.toLowerCase()));
  for (let i = 1; ; i++) {
    const tried = i === 1 ? name : `${name} ${i}`;
    if (!lower.has(tried.toLowerCase())) return tried;
  }
}

/** Minutes and seconds. Example: `4:05`; hours before them from one on: `1:02:05`. */
export function minutes(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  const two = (n: number) => String(n).padStart(2, '0');
  const hours = Math.floor(whole / 3600);
  const rest = `${hours > 0 ? two(Math.floor((whole % 3600) / 60)) : Math.floor(whole / 60)}:${two(whole % 60)}`;
  return hours > 0 ? `${hours}:${rest}` : rest;
}

/** Reads `4:05`, `1:02:05` or `4` (minutes). */
export function parseMinutes(text: string): { value: number; error?: undefined } | { error: string } {
  const clock = /^(?:(\d{1,2}):)?(\d{1,3}):(\d{2})$/.exec(text.trim());
  const alone = /^(\d{1,3})$/.exec(text.trim());
  const seconds = clock
    ? Number(clock[1] ?? 0) * 3600 + Number(clock[2]) * 60 + Number(clock[3])
    : alone
      ? Number(alone[1]) * 60
      : NaN;
  if (!(seconds <= 36_000))
    return { error: `“${text}” is no length; minutes and seconds like 4:05 would be right.` };
  return { value: seconds };
}
