import type { Length, Part, Song } from './song';

/** The parts of a song in the order in which they are played: each scene once where no order was written. */
export const partsOf = (song: Song): readonly Part[] =>
  song.parts.length > 0
    ? song.parts
    : song.scenes.map((s) => ({ id: s.id, sceneId: s.id, name: '', length: null, remark: '' }));

/** What a part is called. */
export const partName = (song: Song, part: Part): string =>
  part.name || (song.scenes.find((s) => s.id === part.sceneId)?.name ?? '');

/** A length in quarter notes. @param bpm 20–400. @param barQuarters how many a bar has. */
export function lengthBeats({ amount, unit }: Length, bpm: number, barQuarters: number): number {
  switch (unit) {
    case 'bars':
      return amount * barQuarters;
    case 'beats':
      return amount;
    case 's':
      return (amount * bpm) / 60;
  }
}

/** A length in seconds: seconds = beats × 60 / bpm. @param bpm 20–400. */
export const lengthSeconds = (length: Length, bpm: number, barQuarters: number): number =>
  length.unit === 's' ? length.amount : (lengthBeats(length, bpm, barQuarters) * 60) / bpm;

/** The tempo of a scene: its own, or the nearest to its left, or the song's. */
export function tempoIn(song: Song, sceneId: string): number {
  let bpm = song.tempoBpm;
  for (const scene of song.scenes) {
    bpm = scene.tempoBpm ?? bpm;
    if (scene.id === sceneId) break;
  }
  return bpm;
}
