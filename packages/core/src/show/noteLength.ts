import { shownAt, valueAtShown, type ChartFunction } from '../gear';
import { nth } from '../sure';

/** A note length as it is written: `1/4`, dotted `1/8.`, of a triplet `1/8t`; from a whole note to a 64th. */
export type NoteLength = string;

const NOTE = /^1\s*\/\s*(1|2|4|8|16|32|64)\s*(\.|d|dotted|t|triplet)?$/i;
/** A dotted note is half as long again, one of a triplet two thirds as long. */
const DOTTED = 1.5;
const OF_TRIPLET = 2 / 3;

/** A note length as it is kept, from what is typed: `1/8 dotted` is `1/8.`. `null` for anything else. */
export function readNoteLength(text: string): NoteLength | null {
  const match = NOTE.exec(text.trim());
  if (!match) return null;
  const kind = match[2]?.toLowerCase() ?? '';
  return `1/${nth(match, 1)}${kind === '' ? '' : kind.startsWith('t') ? 't' : '.'}`;
}

/** How long it is, in quarter notes; 0 for what is no note length. */
export function quartersOfNote(note: NoteLength): number {
  const match = NOTE.exec(note);
  if (!match) return 0;
  const by = note.endsWith('t') ? OF_TRIPLET : note.endsWith('.') ? DOTTED : 1;
  return (4 / Number(nth(match, 1))) * by;
}

/** How long it is at a tempo, in ms. @param bpm quarter notes a minute. */
export const noteMs = (note: NoteLength, bpm: number): number => (quartersOfNote(note) * 60_000) / bpm;

/** What a length in ms is in a unit; `null` in one that is no time and no rate. */
function inUnit(ms: number, unit: string): number | null {
  switch (unit.toLowerCase()) {
    case 'ms':
      return ms;
    case 's':
      return ms / 1000;
    case 'hz':
      return 1000 / ms;
    default:
      return null;
  }
}

/** Whether values of a function can follow the tempo: it is a time or a rate. */
export const followsTempo = ({ shape }: ChartFunction): boolean =>
  shape.kind === 'range' && shape.ends !== undefined && inUnit(1, shape.ends.unit) !== null;

/** The value nearest to a note length at a tempo; `null` where its range does not reach so far. */
export function valueOfNote({ shape }: ChartFunction, note: NoteLength, bpm: number): number | null {
  if (shape.kind !== 'range' || !shape.ends) return null;
  const shown = inUnit(noteMs(note, bpm), shape.ends.unit);
  return shown === null ? null : valueAtShown(shape.ends, shape, shown);
}

/**
 * The same while playing: a note that is longer or shorter than the device can do is halved or doubled until it fits, so
 * that what repeats stays with the beat. `null` where none fits. Source: common practice, no source.
 */
export function valueWithBeat(fn: ChartFunction, note: NoteLength, bpm: number): number | null {
  const { shape } = fn;
  if (shape.kind !== 'range' || !shape.ends) return null;
  const wanted = inUnit(noteMs(note, bpm), shape.ends.unit);
  if (wanted === null) return null;
  const ends = [shownAt(shape.ends, shape, shape.min), shownAt(shape.ends, shape, shape.max)];
  const isLong = wanted > Math.max(...ends);
  for (let n = 0, shown = wanted; n < FOLDS; n++, shown *= isLong ? 0.5 : 2) {
    const value = valueAtShown(shape.ends, shape, shown);
    if (value !== null) return value;
  }
  return null;
}

/** Halvings or doublings at the most: from a whole note at 20 bpm to a millisecond. */
const FOLDS = 14;
