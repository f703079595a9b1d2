import {
  type Song,
  type Scene,
  type Part,
  type Length,
  type SetEntry,
  PLAIN_ENTRY,
  PLAIN_SCENE,
  PLAIN_SONG,
  partsOf,
  barQuarters,
  tempoIn,
} from '@idle-step/core/show';
import type { Action } from '@idle-step/core/floor';
import { mapScene, withoutValue, withValue } from '@idle-step/core/sheet';
import type { Captured } from '@idle-step/core/engine';
import { freeName } from '../words/names';
import { moved } from './moved';
import { got, nth } from '@idle-step/core/sure';

/** Changes of a song as pure functions. */

/** What was captured is set in the scene; what it takes the place of there is not any more. */
export const withCaptured = (song: Song, sceneId: string, captured: readonly Captured[]): Song =>
  captured.reduce(
    (next, { fn, value, replaces }) =>
      replaces.reduce(
        (rest, other) => withoutValue(rest, sceneId, other),
        withValue(next, sceneId, fn.id, value),
      ),
    song,
  );

/** How one value gets there; of no account where the scene does not set it. */
export const withWay = (
  song: Song,
  sceneId: string,
  functionId: string,
  way: Scene['values'][number]['way'],
): Song =>
  mapScene(song, sceneId, (scene) => ({
    ...scene,
    values: scene.values.map((v) => (v.functionId === functionId ? { ...v, way } : v)),
  }));

/** One more scene after the last, in which everything is carried over. */
export function withNewScene(song: Song): { song: Song; scene: Scene } {
  const scene = newScene(freeSceneName(song, `Scene ${song.scenes.length + 1}`));
  return { song: withSceneAt(song, song.scenes.length, scene), scene };
}

/** One more scene behind another one, in which everything is carried over. */
export const withNewSceneAfter = (song: Song, index: number): Song =>
  withSceneAt(song, index + 1, newScene(freeSceneName(song, song.scenes[index]?.name ?? 'Scene')));

/** A copy beside it that sets the same, and is another scene from now on. */
export const withSceneCopy = (song: Song, index: number, id: string): Song =>
  withSceneAt(song, index + 1, {
    ...nth(song.scenes, index),
    id,
    name: freeSceneName(song, nth(song.scenes, index).name),
  });

/**
 * The scene in two: the second sets nothing of its own, and each part of the first is followed by one of the second.
 * @param afterBars how many bars of a part belong to the first, above 0, in bars and at the tempo of the song; a part that
 * is no longer than that stays whole. `null`: how long they are is left open for the second.
 */
export function withSceneSplit(song: Song, index: number, id: string, afterBars: number | null = null): Song {
  const first = nth(song.scenes, index);
  const second = { ...newScene(freeSceneName(song, first.name)), id };
  const split = withSceneAt(song, index + 1, second, true);
  if (afterBars === null || song.parts.length === 0) return split;
  const parts = song.parts.flatMap((part): Part[] => {
    if (part.sceneId !== first.id) return [part];
    if (part.length === null) return [part, newPart(id)];
    const { amount, unit } = part.length;
    const before = barsIn(song, tempoIn(song, first.id), unit) * afterBars;
    return amount <= before
      ? [part]
      : [
          { ...part, length: { amount: before, unit } },
          { ...newPart(id), length: { amount: rounded(amount - before), unit } },
        ];
  });
  return { ...split, parts };
}

/** How long a bar is in a unit of lengths. */
function barsIn(song: Song, bpm: number, unit: Length['unit']): number {
  const quarters = barQuarters(song);
  return unit === 'bars' ? 1 : unit === 'beats' ? quarters : (quarters * 60) / bpm;
}

const rounded = (amount: number): number => Math.round(amount * 1e6) / 1e6;

/** How many bars the longest part has that is a scene, where its length is known: it can be split before that. */
export function barsToSplit(song: Song, sceneId: string): number | null {
  const bars = song.parts.flatMap((p) =>
    p.sceneId === sceneId && p.length
      ? [p.length.amount / barsIn(song, tempoIn(song, sceneId), p.length.unit)]
      : [],
  );
  return bars.length === 0 ? null : Math.max(...bars);
}

/** The scene goes, with every part that it is. */
export const withoutScene = (song: Song, sceneId: string): Song => ({
  ...song,
  scenes: song.scenes.filter((s) => s.id !== sceneId),
  parts: song.parts.filter((p) => p.sceneId !== sceneId),
  line: {
    ...song.line,
    cues: song.line.cues.map((cue) => ({
      ...cue,
      actions: cue.actions.filter((a) => sceneNamedBy(a) !== sceneId),
    })),
  },
});

/** The scene that an action of a cue goes to by name. */
const sceneNamedBy = (action: Action): string | null =>
  action.kind === 'scene' && action.to.kind === 'is' ? action.to.sceneId : null;

/** A scene at another place of the sheet; the order in which the song is played stays where it was written down. */
export const withSceneMoved = (song: Song, from: number, to: number): Song => ({
  ...song,
  scenes: moved(song.scenes, from, to),
});

/** A scene comes into the sheet, and into the order behind the scene before it. */
function withSceneAt(song: Song, index: number, scene: Scene, everyTime = false): Song {
  const scenes = song.scenes.toSpliced(index, 0, scene);
  if (song.parts.length === 0) return { ...song, scenes };
  const before = song.scenes[index - 1]?.id;
  const last = song.parts.findLastIndex((p) => p.sceneId === before);
  const parts = song.parts.flatMap((p, i) =>
    p.sceneId === before && (everyTime || i === last) ? [p, newPart(scene.id)] : [p],
  );
  return { ...song, scenes, parts: parts.length > song.parts.length ? parts : [...parts, newPart(scene.id)] };
}

/** The order written down, so that it can be changed: each scene once where none was. */
export const withOrder = (song: Song): Song =>
  song.parts.length > 0
    ? song
    : { ...song, parts: partsOf(song).map((p) => ({ ...p, id: crypto.randomUUID() })) };

/** A scene once more in the order, at a place of it. */
export const withPartAt = (song: Song, index: number, sceneId: string): Song => {
  const ordered = withOrder(song);
  return { ...ordered, parts: ordered.parts.toSpliced(index, 0, newPart(sceneId)) };
};

export const mapPart = (song: Song, index: number, change: (part: Part) => Part): Song => {
  const ordered = withOrder(song);
  return { ...ordered, parts: ordered.parts.map((p, i) => (i === index ? change(p) : p)) };
};

export const withPartMoved = (song: Song, from: number, to: number): Song => {
  const ordered = withOrder(song);
  return { ...ordered, parts: moved(ordered.parts, from, to) };
};

/** A part goes; the scene stays in the sheet. */
export const withoutPart = (song: Song, index: number): Song => {
  const ordered = withOrder(song);
  return { ...ordered, parts: ordered.parts.filter((_, i) => i !== index) };
};

const freeSceneName = (song: Song, name: string): string =>
  freeName(
    song.scenes.map((s) => s.name),
    name,
  );

const newScene = (name: string): Scene => ({ ...PLAIN_SCENE, id: crypto.randomUUID(), name });
/** A part of which nothing is known but its scene. */
export const newPart = (sceneId: string): Part => ({
  id: crypto.randomUUID(),
  sceneId,
  name: '',
  length: null,
  remark: '',
});

export const newSong = (rigId: string, name: string): Song => ({
  ...PLAIN_SONG,
  id: crypto.randomUUID(),
  rigId,
  name,
  tempoBpm: 100,
  beatsPerBar: 4,
  lengthS: 240,
  scenes: [newScene('Intro')],
});

export const songEntry = (songId: string): SetEntry & { readonly kind: 'song' } => ({
  ...PLAIN_ENTRY,
  id: crypto.randomUUID(),
  kind: 'song',
  songId,
  lengthS: null,
  leftOutSceneIds: [],
});

/** Fifteen minutes of break, or two of talk; both as our own first guess. */
export const pauseEntry = (kind: 'break' | 'talk'): SetEntry & { readonly kind: 'break' | 'talk' } => ({
  ...PLAIN_ENTRY,
  id: crypto.randomUUID(),
  kind,
  name: kind === 'break' ? 'Break' : 'Talk',
  lengthS: kind === 'break' ? 900 : 120,
});

/** The same song with identifiers of its own. */
export function copyOf(song: Song): Song {
  const ids = new Map(song.scenes.map((s) => [s.id, crypto.randomUUID()]));
  return {
    ...song,
    id: crypto.randomUUID(),
    scenes: song.scenes.map((s) => ({ ...s, id: got(ids, s.id) })),
    parts: song.parts.map((p) => ({ ...p, id: crypto.randomUUID(), sceneId: got(ids, p.sceneId) })),
    line: {
      ...song.line,
      cues: song.line.cues.map((cue) => ({
        ...cue,
        id: crypto.randomUUID(),
        actions: cue.actions.map((action): Action => {
          const sceneId = ids.get(sceneNamedBy(action) ?? '');
          const copy = { ...action, id: crypto.randomUUID() };
          return copy.kind === 'scene' && sceneId ? { ...copy, to: { kind: 'is', sceneId } } : copy;
        }),
      })),
      tempos: song.line.tempos.map((t) => ({ ...t, id: crypto.randomUUID() })),
    },
  };
}
