import { cutText, readNumber } from '../typed';

/** A song by its name, with its tempo and key where they are told. */
export type NamedSong = {
  /** In the text, from 1. */
  readonly line: number;
  readonly name: string;
  readonly tempoBpm: number | null;
  readonly key: string;
  /** Why it cannot be made, or `null`. */
  readonly refused: string | null;
};

/** A number that lists begin their lines with, like `1.` or `12)`. */
const NUMBERED = /^\d{1,3}[.)]\s+/;

/**
 * Songs by a list of names, a line each; behind the name, with a tab or a semicolon between, tempo and key in either
 * order. Example: `1. Paper Boat;96;A minor`.
 * @param taken names that are there already.
 */
export function readSongNames(text: string, taken: readonly string[]): readonly NamedSong[] {
  const seen = new Map(taken.map((name) => [name.trim().toLowerCase(), 0]));
  return text.split(/\r\n|\r|\n/).flatMap((typed, i): NamedSong[] => {
    const [first = '', ...behind] = typed.split(/[\t;]/).map((t) => t.trim());
    const name = first.replace(NUMBERED, '');
    const numbers = behind.map((t) => readNumber(t.replace(/\s*bpm$/i, '')));
    const bpm = numbers.find((n) => n !== null) ?? null;
    const key = cutText(behind.find((t, k) => t !== '' && numbers[k] === null) ?? '', 20);
    if (name === '') return [];
    const line = i + 1;
    const before = seen.get(name.toLowerCase());
    seen.set(name.toLowerCase(), before ?? line);
    const refused =
      name.length > 80
        ? 'The name is longer than 80 characters; shorten it.'
        : before === 0
          ? 'A song is called so already.'
          : before !== undefined
            ? `The name stands in line ${before} already.`
            : bpm !== null && (bpm < 20 || bpm > 400)
              ? `${bpm} is no tempo; 20 to 400 bpm would be right.`
              : null;
    return [{ line, name, tempoBpm: bpm, key, refused }];
  });
}
