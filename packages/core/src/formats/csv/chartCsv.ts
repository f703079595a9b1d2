import { readNumber } from '../../typed';
import Papa from 'papaparse';
import type { ChartTemplate } from '../../gear';
import type { MiddleC } from '../../midi';
import { fail, ok, type Result } from '../../result';
import {
  cellsOf,
  CHART_COLUMNS,
  EMPTY_CELLS,
  functionFromCells,
  type ChartCells,
  type ChartColumn,
} from '../functionText';
import { nth } from '../../sure';

/** The header of a chart as CSV, one name a column, in this order. Case and order do not matter when reading. */
export const CSV_HEADER: Readonly<Record<ChartColumn, string>> = {
  name: 'name',
  group: 'group',
  message: 'message',
  kind: 'kind',
  channel: 'channel',
  values: 'values (sent)',
  shownFrom: 'shown from',
  powerOn: 'power-on (sent)',
  settleMs: 'settles in ms',
  reserved: 'reserved',
  under: 'under setting',
  arms: 'arms track',
  remark: 'remark',
  request: 'asked with',
  input: 'listens to',
};

/** One thing wrong with a file: where, what, and what would be right. */
export type FileFault = { readonly line: number | null; readonly sentence: string };

/** Functions in one chart, at the most. */
export const CHART_ROWS = 2000;
/** Faults told at the most; a wrong file has one in every line. */
const FAULTS_TOLD = 20;

/** Rows as CSV after RFC 4180, every cell quoted, lines ended with CR LF. */
export const writeCsv = (header: readonly string[], rows: readonly (readonly string[])[]): string =>
  `${Papa.unparse({ fields: [...header], data: rows.map((r) => r.map(plainCell)) }, { quotes: true, newline: '\r\n' })}\r\n`;

/** What a spreadsheet would reckon out instead of showing it. Source: common practice, no source. */
const FORMULA = /^'*[=+\-@\t\r]/;

/** A cell that no spreadsheet takes for a formula: an apostrophe before it says that it is text. Numbers stay numbers. */
const plainCell = (cell: string): string =>
  FORMULA.test(cell) && readNumber(cell) === null ? `'${cell}` : cell;

/** A cell without the apostrophe that says that it is text. */
const textOfCell = (cell: string): string =>
  cell.startsWith("'") && FORMULA.test(cell) ? cell.slice(1) : cell;

/** A chart as CSV: a header line and one line a function. */
export const writeChartCsv = (chart: readonly ChartTemplate[]): string =>
  writeCsv(
    CHART_COLUMNS.map((c) => CSV_HEADER[c]),
    chart.map((fn) => {
      const cells = cellsOf(fn, null);
      return CHART_COLUMNS.map((c) => cells[c]);
    }),
  );

/**
 * Reads a chart from CSV with a header line; comma, semicolon and tab are told apart by themselves. A file with any
 * fault is refused whole. Source for the format: RFC 4180.
 */
export function readChartCsv(text: string, middleC: MiddleC): Result<ChartTemplate[], FileFault[]> {
  const parsed = parseCells(text);
  if (!parsed.ok) return parsed;
  const [head, ...rows] = parsed.value;
  if (!head) return fail([{ line: 1, sentence: 'The file is empty; the first line names the columns.' }]);
  const columns = columnsOf(head.cells);
  if (typeof columns === 'string') return fail([{ line: head.line, sentence: columns }]);
  const short = rows.find((r) => r.cells.length !== head.cells.length);
  if (short)
    return fail([
      {
        line: short.line,
        sentence: `This line has ${short.cells.length} cells and the header ${head.cells.length}; the file may be cut off, or a comma in a text lacks its quotes.`,
      },
    ]);
  return readRows(
    rows.map((r) => ({ line: r.line, cells: { ...EMPTY_CELLS, ...toCells(columns, r.cells) } })),
    middleC,
  );
}

/** Rows from a spreadsheet: the first ones are in place of those they were pasted over, the rest are new. */
export type PastedRows = {
  readonly over: readonly ChartTemplate[];
  readonly added: readonly ChartTemplate[];
};

/**
 * Reads rows as they are copied from a spreadsheet: cells with tabs between. With a header they are new rows; without
 * one their cells go into `columns` in order, over the rows `over` as long as there are any. All or nothing.
 */
export function readPastedRows(
  text: string,
  middleC: MiddleC,
  columns: readonly ChartColumn[] = CHART_COLUMNS,
  over: readonly ChartTemplate[] = [],
): Result<PastedRows, FileFault[]> {
  const parsed = parseCells(text, '\t');
  if (!parsed.ok) return parsed;
  const lines = parsed.value;
  const header = columnsOf(lines[0]?.cells ?? []);
  const isNamed = typeof header !== 'string';
  const into = isNamed ? header : columns;
  const body = isNamed ? lines.slice(1) : lines;
  const beneath = isNamed ? [] : over.slice(0, body.length);
  if (body.length === 0) return fail([{ line: null, sentence: 'There are no rows in what was copied.' }]);
  const wide = body.find((r) => r.cells.length > into.length);
  if (wide)
    return fail([
      {
        line: wide.line,
        sentence: `This line has ${wide.cells.length} cells; up to ${into.length} fit here.`,
      },
    ]);
  const result = readRows(
    body.map((r, i) => ({
      line: r.line,
      cells: { ...(beneath[i] ? cellsOf(beneath[i], middleC) : EMPTY_CELLS), ...toCells(into, r.cells) },
    })),
    middleC,
  );
  if (!result.ok) return result;
  return ok({ over: result.value.slice(0, beneath.length), added: result.value.slice(beneath.length) });
}

function readRows(
  rows: readonly { line: number; cells: ChartCells }[],
  middleC: MiddleC,
): Result<ChartTemplate[], FileFault[]> {
  if (rows.length > CHART_ROWS)
    return fail([{ line: null, sentence: `There are ${rows.length} rows; a chart holds ${CHART_ROWS}.` }]);
  const faults: FileFault[] = [];
  const chart: ChartTemplate[] = [];
  const names = new Set<string>();
  for (const { line, cells } of rows) {
    const result = functionFromCells(cells, middleC);
    if (!result.ok) {
      for (const error of result.error)
        faults.push({ line, sentence: `${CSV_HEADER[error.column]}: ${error.sentence}` });
      continue;
    }
    const key = result.value.name.toLowerCase();
    if (names.has(key))
      faults.push({ line, sentence: `There is a function called ${result.value.name} above already.` });
    names.add(key);
    chart.push(result.value);
  }
  if (faults.length > 0) return fail(faults.slice(0, FAULTS_TOLD));
  return ok(chart);
}

type CsvLine = { readonly line: number; readonly cells: readonly string[] };

/** What cells may lie apart by. */
const DELIMITERS = [',', ';', '\t'] as const;

/** The one that makes most columns of the first line that is not empty: names of columns have none of them in them. */
function delimiterOf(given: string): string {
  const text = given.replace(/^[\s,;]*[\r\n]+/, '');
  const widths = DELIMITERS.map((delimiter) => {
    const { data } = Papa.parse<string[]>(text, { delimiter, preview: 1, skipEmptyLines: 'greedy' });
    return data[0]?.length ?? 0;
  });
  return nth(DELIMITERS, widths.indexOf(Math.max(...widths)));
}

/**
 * The lines of a CSV file that are not empty, with their numbers from 1.
 * @param delimiter what cells that are pasted lie apart by; those of a file are told apart by its first line.
 */
export function parseCells(text: string, delimiter?: string): Result<CsvLine[], FileFault[]> {
  const isFile = delimiter === undefined;
  // Some spreadsheets begin with a line that says what cells lie apart by.
  const [said = '', mark] = (isFile && /^\uFEFF?sep=(.)(?:\r\n|\r|\n)/i.exec(text)) || [];
  const whole = text.slice(said.length).replace(/^\uFEFF/, '');
  const { data, errors } = Papa.parse<string[]>(whole, {
    delimiter: delimiter ?? mark ?? delimiterOf(whole),
  });
  let line = said === '' ? 1 : 2;
  const lines: CsvLine[] = [];
  let lineOfQuote: number | null = null;
  const quote = errors.find((e) => e.type === 'Quotes');
  for (const [i, given] of data.entries()) {
    const cells = isFile ? given.map(textOfCell) : given;
    if (i === (quote?.row ?? 0)) lineOfQuote = line;
    if (cells.some((c) => c.trim() !== '')) lines.push({ line, cells });
    line += 1 + cells.reduce((n, c) => n + (c.match(/\r\n|\r|\n/g)?.length ?? 0), 0);
  }
  if (quote)
    return fail([
      {
        line: lineOfQuote,
        sentence:
          'A quotation mark is not closed, or stands in the middle of a cell; the file may be cut off.',
      },
    ]);
  const [head, last] = [lines[0], lines.at(-1)];
  if (
    isFile &&
    head &&
    last &&
    last !== head &&
    last.cells.length < head.cells.length &&
    !/[\r\n]$/.test(whole)
  )
    return fail([
      {
        line: last.line,
        sentence: `The last line has ${last.cells.length} of ${head.cells.length} cells and no end; the file may be cut off.`,
      },
    ]);
  return ok(isFile ? withoutEmptyEnd(lines) : lines);
}

/** Columns at the right in which nothing stands, as spreadsheets leave them, are none. */
function withoutEmptyEnd(lines: readonly CsvLine[]): CsvLine[] {
  const width = lines.reduce((most, { cells }) => {
    const used = cells.findLastIndex((c) => c.trim() !== '') + 1;
    return Math.max(most, used);
  }, 0);
  return lines.map((line) => ({ ...line, cells: line.cells.slice(0, width) }));
}

/** What else a column may be called: as it is on the screen. */
const ALSO: Readonly<Record<string, ChartColumn>> = {
  function: 'name',
  'values, as sent': 'values',
  'at power-on': 'powerOn',
  'settles, ms': 'settleMs',
  kept: 'reserved',
  'only under': 'under',
};

/** The columns that a header names, or why it is none. */
function columnsOf(head: readonly string[]): ChartColumn[] | string {
  const columns: ChartColumn[] = [];
  for (const cell of head) {
    const wanted = plain(cell);
    const column =
      CHART_COLUMNS.find((c) => plain(CSV_HEADER[c]) === wanted || c.toLowerCase() === wanted) ??
      ALSO[wanted];
    if (!column)
      return `There is no column “${cell.trim()}”; these are known: ${CHART_COLUMNS.map((c) => CSV_HEADER[c]).join(', ')}.`;
    if (columns.includes(column)) return `The column “${cell.trim()}” is there twice.`;
    columns.push(column);
  }
  for (const needed of ['name', 'message'] as const)
    if (!columns.includes(needed)) return `The column “${needed}” is missing; every row needs one.`;
  return columns;
}

/** A column's name without what stands in brackets. */
const plain = (name: string): string =>
  name
    .toLowerCase()
    .replace(/\(.*\)/, '')
    .trim();

const toCells = (columns: readonly ChartColumn[], cells: readonly string[]): Partial<ChartCells> =>
  Object.fromEntries(cells.map((cell, i) => [nth(columns, i), cell]));
