import { fail, ok, type Result } from '../result';
import { there } from '../sure';

/** The octave that note 60 is called by: makers differ, so the rig says which (3, 4 or 5). */
export type MiddleC = 3 | 4 | 5;

const NAMES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'] as const;
const STEPS: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };

/** Name of note 0–127. Example: `noteName(60, 4)` is `C4`. */
export const noteName = (note: number, middleC: MiddleC): string =>
  `${there(NAMES[note % 12])}${Math.floor(note / 12) - 5 + middleC}`;

/** Number and name as they are always shown together. Example: `60 C3`. */
export const noteLabel = (note: number, middleC: MiddleC): string => `${note} ${noteName(note, middleC)}`;

export type NoteNameError = { readonly code: 'not-a-note' | 'out-of-range'; readonly received: string };

/**
 * Reads a note typed by a person: a number 0–127, or a letter, any of `# ♯ b ♭`, and an octave.
 * Errors: `not-a-note`; `out-of-range` when the note is not in 0–127.
 * Example: `parseNote('Eb2', 3)` is 51.
 */
export function parseNote(text: string, middleC: MiddleC): Result<number, NoteNameError> {
  const trimmed = text.trim();
  if (/^\d{1,3}$/.test(trimmed)) return inRange(Number(trimmed), text);
  const match = /^([A-Ga-g])([#♯b♭]?)(-?\d{1,2})$/.exec(trimmed);
  if (!match) return fail({ code: 'not-a-note', received: text });
  const [, letter, accidental, octave] = match;
  const shift = accidental === '' ? 0 : accidental === '#' || accidental === '♯' ? 1 : -1;
  return inRange(
    there(STEPS[there(letter).toUpperCase()]) + shift + (Number(octave) - middleC + 5) * 12,
    text,
  );
}

/**
 * Frequency of a note in Hz, equal temperament, A (note 69) at `a4Hz`.
 * Source: f = 440 · 2^((n − 69)/12). Example: note 60 is 261.6255653005986 Hz.
 */
export const noteFrequencyHz = (note: number, a4Hz = 440): number => a4Hz * 2 ** ((note - 69) / 12);

const inRange = (note: number, received: string): Result<number, NoteNameError> =>
  note >= 0 && note <= 127 ? ok(note) : fail({ code: 'out-of-range', received });
