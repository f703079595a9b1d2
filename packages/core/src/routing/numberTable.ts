import { noteLabel, parseNote, type MiddleC } from '../midi';
import { fail, ok, type Result } from '../result';
import type { NumberChange, NumberedKind, Span } from './route';
import { nth } from '../sure';

const WORDS: Record<string, NumberedKind> = {
  cc: 'controller',
  controller: 'controller',
  note: 'note',
  key: 'note',
  program: 'program',
};

/**
 * Reads a quick list of numbers in and out, such as `CC 30 to 7, 31 to 10; note 40 to 52, A2 to 54`. The kind that was
 * named last goes on; before one is named a number means any kind. The error is a sentence with its place.
 */
export function parseNumberTable(text: string, middleC: MiddleC): Result<readonly NumberChange[], string> {
  const table: NumberChange[] = [];
  let kind: NumberedKind | null = null;
  for (const [i, part] of text.split(/[,;\n]/).entries()) {
    const typed = part.trim();
    if (typed === '') continue;
    const place = `Part ${i + 1}, “${typed}”`;
    const sides: string[] = typed.split(/\s+to\s+|\s*(?:→|->|=)\s*/i);
    if (sides.length !== 2)
      return fail(`${place}, needs one number on each side of “to”; CC 30 to 7 would be right.`);
    const word = /^([a-z]{2,})\s+(.+)$/i.exec(nth(sides, 0));
    if (word) {
      const named: NumberedKind | undefined = WORDS[nth(word, 1).toLowerCase()];
      if (!named) return fail(`${place}, begins with “${nth(word, 1)}”; CC, note or program would be right.`);
      kind = named;
    }
    const left = word ? nth(word, 2) : nth(sides, 0);
    const from = readNumber(left, kind, middleC);
    const to = readNumber(nth(sides, 1), kind, middleC);
    if (from === null || to === null)
      return fail(
        `${place}, has “${from === null ? left : nth(sides, 1)}” where a number from 0 to 127 has to stand.`,
      );
    if (table.some((e) => e.from === from && (e.kind === kind || e.kind === null)))
      return fail(`${place}, gives ${from} a second time; each number goes to one other.`);
    table.push({ kind, from, to });
  }
  return ok(table);
}

/** A number from 0 to 127; for notes also a name, alone or behind its number. */
function readNumber(text: string, kind: NumberedKind | null, middleC: MiddleC): number | null {
  const plain = /^(\d{1,3})(?:\s+[A-G][#b♯♭]?-?\d)?$/i.exec(text.trim());
  if (plain) return Number(plain[1]) <= 127 ? Number(plain[1]) : null;
  if (kind !== null && kind !== 'note') return null;
  const note = parseNote(text.trim(), middleC);
  return note.ok ? note.value : null;
}

/** What `parseNumberTable` reads. */
export function numberTableText(table: readonly NumberChange[], middleC: MiddleC): string {
  let kind: NumberedKind | null = null;
  return table
    .map((entry) => {
      const word = entry.kind !== null && entry.kind !== kind ? `${KIND_WORDS[entry.kind]} ` : '';
      kind = entry.kind;
      const name = (n: number) => (entry.kind === 'note' ? noteLabel(n, middleC) : String(n));
      return `${word}${name(entry.from)} to ${name(entry.to)}`;
    })
    .join(', ');
}

const KIND_WORDS: Record<NumberedKind, string> = {
  controller: 'CC',
  note: 'note',
  'poly-pressure': 'note',
  program: 'program',
};

/** Reads a list of numbers and ranges such as `7, 20 to 27, C3`; nothing means any. The error is a sentence. */
export function parseNumbers(text: string, middleC: MiddleC): Result<readonly Span[], string> {
  const spans: Span[] = [];
  for (const part of text.split(/[,;]/)) {
    const typed = part.trim();
    if (typed === '') continue;
    const sides = typed.split(/\s*(?:–|\bto\b)\s*|(?<=\d)\s*-\s*(?=\d)/i);
    const numbers = sides.map((s) => readNumber(s, null, middleC));
    const [from, to = from] = numbers;
    if (numbers.length > 2 || typeof from !== 'number' || typeof to !== 'number')
      return fail(`“${typed}” is neither a number from 0 to 127 nor a range; 7 or 20 to 27 would be right.`);
    if (to < from) return fail(`“${typed}” runs downwards; ${to} to ${from} would be right.`);
    spans.push({ from, to });
  }
  return ok(spans);
}

export const numbersText = (spans: readonly Span[]): string =>
  spans.map(({ from, to }) => (from === to ? String(from) : `${from} to ${to}`)).join(', ');
