import { fail, ok, type Result } from '../../result';
import type { Device } from '../rig';
import { nth, there } from '../../sure';

/** How a device's display counts its programs: each program by a text, the last part turning fastest. */
type Part =
  | { readonly kind: 'fixed'; readonly text: string }
  | { readonly kind: 'numbers'; readonly from: number; readonly to: number; readonly width: number }
  | { readonly kind: 'letters'; readonly from: number; readonly to: number };

export type ProgramPattern = { readonly parts: readonly Part[]; readonly count: number };

/** Ways to count that are common, as patterns. Source: common practice, no source. */
export const PROGRAM_PATTERNS = [
  '[01-32][A-D]',
  '[1-26]-[1-5]',
  '[A-P][1-8]',
  '[A-H][1-8][1-8]',
  '[1-16].[1-8]',
] as const;

/** As many as there are banks of 128 with both halves of bank select; more than anybody counts. */
const PROGRAMS_AT_MOST = 16384;
const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ';
const RIGHT = 'what turns stands in brackets, like [01-32][A-D] for 01A to 32D';

/**
 * Reads a pattern: `[01-32][A-D]` counts 01A, 01B … 32D; what stands outside the brackets stays.
 * Errors: a sentence with what would be right.
 */
export function parseProgramPattern(text: string): Result<ProgramPattern, string> {
  const parts: Part[] = [];
  const refuse = (what: string) => fail(`${what}; ${RIGHT}.`);
  for (const [piece] of text.trim().matchAll(/\[[^\]]*\]?|[^[]+/g)) {
    if (!piece.startsWith('[')) {
      if (/[A-Za-z0-9\]]/.test(piece)) return refuse(`“${piece}” stands outside the brackets`);
      parts.push({ kind: 'fixed', text: piece });
      continue;
    }
    const numbers = /^\[(\d{1,3})-(\d{1,3})\]$/.exec(piece);
    const letters = /^\[([A-Za-z])-([A-Za-z])\]$/.exec(piece);
    const part: Part | null = numbers
      ? {
          kind: 'numbers',
          from: Number(numbers[1]),
          to: Number(numbers[2]),
          width: /^0\d/.test(nth(numbers, 1)) ? nth(numbers, 1).length : 1,
        }
      : letters
        ? { kind: 'letters', from: letterAt(nth(letters, 1)), to: letterAt(nth(letters, 2)) }
        : null;
    if (!part || part.to <= part.from) return refuse(`“${piece}” is no range that rises`);
    parts.push(part);
  }
  const count = parts.reduce((product, part) => product * sizeOf(part), 1);
  if (count < 2) return refuse('Nothing turns in it');
  return count > PROGRAMS_AT_MOST
    ? fail(`It counts ${count} programs; ${PROGRAMS_AT_MOST} are the most.`)
    : ok({ parts, count });
}

const letterAt = (letter: string): number => LETTERS.indexOf(letter.toUpperCase());
const sizeOf = (part: Part): number => (part.kind === 'fixed' ? 1 : part.to - part.from + 1);

/** Patterns are read once: values are shown all the time. */
const READ = new Map<string, ProgramPattern | null>();

/** The pattern of a device, `null` where it counts plainly. */
export function patternOf({ programPattern }: Pick<Device, 'programPattern'>): ProgramPattern | null {
  if (programPattern === null) return null;
  let pattern = READ.get(programPattern);
  if (pattern === undefined) {
    const read = parseProgramPattern(programPattern);
    pattern = read.ok ? read.value : null;
    if (READ.size > 500) READ.clear();
    READ.set(programPattern, pattern);
  }
  return pattern;
}

/** What a pattern calls the program at a place, from 0; `null` beyond its last. */
function calledBy({ parts, count }: ProgramPattern, place: number): string | null {
  if (place >= count) return null;
  let rest = place;
  const texts: string[] = [];
  for (const part of [...parts].reverse()) {
    const at = rest % sizeOf(part);
    rest = Math.floor(rest / sizeOf(part));
    texts.unshift(
      part.kind === 'fixed'
        ? part.text
        : part.kind === 'letters'
          ? nth(LETTERS, part.from + at)
          : String(part.from + at).padStart(part.width, '0'),
    );
  }
  return texts.join('');
}

/** The place of what was typed, from 0; `null` where it is none of the pattern. Zeros in front and what stands between may be left out. */
function placeOf({ parts }: ProgramPattern, typed: string): number | null {
  const form = parts
    .map((part) => {
      if (part.kind === 'fixed') return `(?:${part.text.trim().replace(/[^\w\s]/g, '\\$&')})?\\s*`;
      if (part.kind === 'letters') return '([a-z])\\s*';
      // A number of one digit is one digit, so that two of them can stand side by side.
      return part.to < 10 ? '0*(\\d)\\s*' : '(\\d{1,4})\\s*';
    })
    .join('');
  const match = new RegExp(`^${form}$`, 'i').exec(typed.trim());
  if (!match) return null;
  let place = 0;
  let group = 1;
  for (const part of parts) {
    if (part.kind === 'fixed') continue;
    const text = nth(match, group++);
    const at = (part.kind === 'letters' ? letterAt(text) : Number(text)) - part.from;
    if (at < 0 || at >= sizeOf(part)) return null;
    place = place * sizeOf(part) + at;
  }
  return place;
}

/** How many programs a bank has. */
const BANK = 128;

/**
 * What the device calls a program, 0–127. Example: with `[01-32][A-D]` program 4 is `02A`. One that a short pattern has no
 * name for is told as it is sent: `sent 100`.
 */
export function programText(device: ProgramCounting, program: number): string {
  const pattern = patternOf(device);
  if (!pattern) return String(program + device.programsShownFrom);
  return calledBy(pattern, program) ?? `sent ${program}`;
}

/** The program, 0–127, that was typed as the device calls it; `null` where it is none, `beyond` where it has no such program. */
export function typedProgram(device: ProgramCounting, typed: string): number | null | 'beyond' {
  const pattern = patternOf(device);
  const plain = pattern ? /^sent\s+(\d{1,3})$/i.exec(typed.trim()) : /^([-+]?\d{1,9})$/.exec(typed.trim());
  const place = pattern && placeOf(pattern, typed);
  const program = place ?? (plain ? Number(plain[1]) - (pattern ? 0 : device.programsShownFrom) : null);
  if (program === null) return null;
  return program >= 0 && program < BANK ? program : 'beyond';
}

/** What a device calls its first and its last program. Example: `01A to 32D`. */
export const programSpan = (device: ProgramCounting): string =>
  `${programText(device, 0)} to ${programText(device, BANK - 1)}`;

/** What a pattern calls its first and its last program. Example: `01A to 32D`. Empty for none. */
export function patternSpan(text: string): string {
  const read = parseProgramPattern(text);
  return read.ok
    ? `${there(calledBy(read.value, 0))} to ${there(calledBy(read.value, read.value.count - 1))}`
    : '';
}

/** What the device calls a sound where its pattern goes on over banks; `null` where it does not. */
export function soundText(device: ProgramCounting, bank: number, program: number): string | null {
  const pattern = patternOf(device);
  return pattern && pattern.count > BANK ? calledBy(pattern, bank * BANK + program) : null;
}

/** Bank and program of what was typed, where a pattern goes on over banks. */
export function typedPlace(device: ProgramCounting, typed: string): { bank: number; program: number } | null {
  const pattern = patternOf(device);
  const place = pattern && pattern.count > BANK ? placeOf(pattern, typed) : null;
  return place === null ? null : { bank: Math.floor(place / BANK), program: place % BANK };
}

export type ProgramCounting = Pick<Device, 'programPattern' | 'programsShownFrom'>;
