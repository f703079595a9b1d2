import { there } from '../sure';
/** Sharps of the major keys of the letters; flats are below 0. Source: the circle of fifths. */
const MAJOR: Readonly<Record<string, number>> = { F: -1, C: 0, G: 1, D: 2, A: 3, E: 4, B: 5, H: 5 };
/** A sharp or flat moves a key seven places round the circle. */
const ACCIDENTAL = 7;
/** A minor key has the signature of the major key a minor third above it. */
const MINOR = -3;
/** Places of the circle. */
const ALL = 12;

/**
 * How many sharps (above 0) or flats (below 0) a key has, as people write it: `C`, `F#m`, `B♭ major`, `e minor`, `Em`.
 * `null` for what is no key.
 */
export function sharpsOf(key: string): number | null {
  const match = /^([A-Ha-h])\s*(#|♯|b|♭|sharp|flat)?\s*(m|min|minor|maj|major)?\.?$/.exec(key.trim());
  if (!match) return null;
  const [, letter, accidental = '', mode = ''] = match;
  const isFlat = ['b', '♭', 'flat'].includes(accidental);
  const moved = accidental === '' ? 0 : isFlat ? -ACCIDENTAL : ACCIDENTAL;
  // A small letter alone is a minor key.
  const isMinor =
    mode.startsWith('mi') || mode === 'm' || (mode === '' && letter !== there(letter).toUpperCase());
  return there(MAJOR[there(letter).toUpperCase()]) + moved + (isMinor ? MINOR : 0);
}

/** How far one key lies from another round the circle of fifths, 0–6; `null` where one of them is no key. */
export function fifthsBetween(one: string, other: string): number | null {
  const [a, b] = [sharpsOf(one), sharpsOf(other)];
  if (a === null || b === null) return null;
  const apart = Math.abs(a - b) % ALL;
  return Math.min(apart, ALL - apart);
}
