import type { Length, Part, Song } from './song';

/** The parts of a song in the order in which they are played: each scene once where no order was written. */
export const partsOf = (song: Song): readonly Part[] =>
  song.parts.length > 0
    ? song.parts
    : song.scenes.map((s) => ({ id: s.id, sceneId: s.id, name: '', length: null, remark: '' }));

/** What a part is called. */
export const partName = (song: Song, part: Part): string =>
  part.name || (song.scenes.find((s) => s.id === part.sceneId)?.name ?? '');

/** A length in beats. @param bpm 20–400. */
export function lengthBeats({ amount, unit }: Length, bpm: number, beatsPerBar: number): number {
  switch (unit) {
    case 'bars':
      return amount * beatsPerBar;
    case 'beats':
      return amount;
    case 's':
      return (amount * bpm) / 60;
  }
}

/** A length in seconds: seconds = beats × 60 / bpm. @param bpm 20–400. */
export const lengthSeconds = (length: Length, bpm: number, beatsPerBar: number): number =>
  length.unit === 's' ? length.amount : (lengthBeats(length, bpm, beatsPerBar) * 60) / bpm;

/** Where a part begins and ends, in seconds from the start of the song, as far as the lengths before it are known. */
export type PartTime = {
  readonly part: Part;
  readonly startS: number | null;
  readonly lengthS: number | null;
};

/** When each part is played, at the tempo that the scenes bring in the order of the parts. */
export function partTimes(song: Song): readonly PartTime[] {
  let startS: number | null = 0;
  return partsOf(song).map((part) => {
    const bpm = tempoIn(song, part.sceneId);
    const lengthS = part.length ? lengthSeconds(part.length, bpm, song.beatsPerBar) : null;
    const time: PartTime = { part, startS, lengthS };
    startS = startS === null || lengthS === null ? null : startS + lengthS;
    return time;
  });
}

/** The sum of all parts, in seconds; `null` where one has no length. */
export function partsLengthS(song: Song): number | null {
  let sum = 0;
  for (const { lengthS } of partTimes(song)) {
    if (lengthS === null) return null;
    sum += lengthS;
  }
  return song.scenes.length === 0 ? null : sum;
}

/** The tempo of a scene: its own, or the nearest to its left, or the song's. */
export function tempoIn(song: Song, sceneId: string): number {
  let bpm = song.tempoBpm;
  for (const scene of song.scenes) {
    bpm = scene.tempoBpm ?? bpm;
    if (scene.id === sceneId) break;
  }
  return bpm;
}
