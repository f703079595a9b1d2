import {
  type Song,
  type Cue,
  type TempoChange,
  type Part,
  barBeatAt,
  beatAt,
  partsOf,
  PLAIN_TEMPO_CHANGE,
  songLine,
  type BarBeat,
  type SongLine,
} from '@idle-step/core/show';
import { withOrder } from './songEdits';

type LineDoc = Song['line'];

export const withLine = (song: Song, part: Partial<LineDoc>): Song => ({
  ...song,
  line: { ...song.line, ...part },
});

/** A place on the beat of a bar that is nearest, in this song; never before its beginning. */
export function placeNear(line: Pick<SongLine, 'meters'>, beat: number): BarBeat {
  const { bar, beat: inBar } = barBeatAt(line, Math.max(0, beat));
  return barBeatAt(line, beatAt(line, { bar, beat: Math.round(inBar) }));
}

/** A new cue at a beat, that does nothing yet. */
export function withNewCue(song: Song, beat: number): { readonly song: Song; readonly cue: Cue } {
  const cue: Cue = { id: crypto.randomUUID(), name: '', ...placeNear(songLine(song), beat), actions: [] };
  return { song: withLine(song, { cues: [...song.line.cues, cue] }), cue };
}

export const mapCue = (song: Song, id: string, part: Partial<Cue>): Song =>
  withLine(song, { cues: song.line.cues.map((c) => (c.id === id ? { ...c, ...part } : c)) });

export const withoutCue = (song: Song, id: string): Song =>
  withLine(song, { cues: song.line.cues.filter((c) => c.id !== id) });

/** A change of tempo at a bar: to what it is there, until another one is typed. */
export function withNewTempo(
  song: Song,
  bar: number,
  bpm: number,
): { readonly song: Song; readonly change: TempoChange } {
  const change = { ...PLAIN_TEMPO_CHANGE, id: crypto.randomUUID(), bar, bpm };
  return { song: withLine(song, { tempos: [...song.line.tempos, change] }), change };
}

export const mapTempo = (song: Song, id: string, part: Partial<TempoChange>): Song =>
  withLine(song, { tempos: song.line.tempos.map((t) => (t.id === id ? { ...t, ...part } : t)) });

export const withoutTempo = (song: Song, id: string): Song =>
  withLine(song, { tempos: song.line.tempos.filter((t) => t.id !== id) });

/** A part with another end: whole bars where it had bars or was of unknown length, else beats. At least one. */
export function withPartEnd(song: Song, index: number, endBeat: number): Song {
  const line = songLine(song);
  const at = line.parts[index];
  if (at?.atBeat === null || at?.atBeat === undefined) return song;
  const inBeats = at.part.length?.unit === 'beats';
  const from = barBeatAt(line, at.atBeat);
  const to = barBeatAt(line, Math.max(at.atBeat, endBeat));
  const bars = to.bar - from.bar + (to.beat - from.beat >= 2 ? 1 : 0);
  const length: Part['length'] = inBeats
    ? { amount: Math.max(1, Math.round(endBeat - at.atBeat)), unit: 'beats' }
    : { amount: Math.max(1, bars), unit: 'bars' };
  const ordered = withOrder(song);
  return { ...ordered, parts: ordered.parts.map((p, i) => (i === index ? { ...p, length } : p)) };
}

/** The first part whose length is not known: what comes after it has no place in time. */
export const firstOpenPart = (song: Song): number => partsOf(song).findIndex((p) => p.length === null);

/** Every part of unknown length with so many bars. */
export const withBarsGiven = (song: Song, bars: number): Song => {
  const ordered = withOrder(song);
  return {
    ...ordered,
    parts: ordered.parts.map((p) => ({ ...p, length: p.length ?? { amount: bars, unit: 'bars' } })),
  };
};
