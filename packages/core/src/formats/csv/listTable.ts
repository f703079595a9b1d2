import { fail, ok, type Result } from '../../result';
import { parseCells, type FileFault } from './chartCsv';
import { nth } from '../../sure';

/** Faults told at the most; a wrong file has one in every line. */
export const FAULTS_TOLD = 20;

/** A line of a table, its cells by the names of their columns; `null` for an empty one. */
export type TableRow = { readonly line: number; cell(column: string): string | null };

/** Lines by the names of their columns; columns that are not known are left out. */
export function readTable(
  text: string,
  columns: readonly string[],
  needed: string,
  also: Readonly<Record<string, string>>,
): Result<TableRow[], FileFault[]> {
  const parsed = parseCells(text);
  if (!parsed.ok) return parsed;
  const [head, ...rows] = parsed.value;
  if (!head) return fail([{ line: 1, sentence: 'The file is empty; the first line names the columns.' }]);
  const places = new Map<string, number>();
  head.cells.forEach((cell, i) => {
    const name = cell.trim().toLowerCase();
    const known = columns.includes(name) ? name : (also[name] ?? '');
    if (columns.includes(known) && !places.has(known)) places.set(known, i);
  });
  if (!places.has(needed))
    return fail([
      {
        line: head.line,
        sentence: `The column “${needed}” is missing; these are known: ${columns.join(', ')}.`,
      },
    ]);
  return ok(
    rows.map(({ line, cells }) => ({
      line,
      cell: (column) => cells[places.get(column) ?? -1]?.trim() || null,
    })),
  );
}

/** `4:05`, `1:02:05`, or seconds. */
export function lengthIn(text: string | null, wrong: (sentence: string) => void): number | null {
  if (text === null) return null;
  const parts = /^\d+(?:\.\d+)?$/.test(text)
    ? [0, 0, Number(text)]
    : (/^(?:(\d{1,2}):)?(\d{1,3}):(\d{2})$/
        .exec(text)
        ?.slice(1)
        .map((p) => Number(p ?? 0)) ?? []);
  const seconds = parts.length === 3 ? nth(parts, 0) * 3600 + nth(parts, 1) * 60 + nth(parts, 2) : NaN;
  if (seconds <= 36_000) return seconds;
  wrong(`“${text}” is no length; minutes and seconds like 4:05, or seconds up to 36000, would be right.`);
  return null;
}
