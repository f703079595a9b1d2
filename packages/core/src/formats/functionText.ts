import { cutText } from '../typed';
import {
  kindsFor,
  readShownEnds,
  shownEndsText,
  SOUND_LIMIT,
  PLAIN_FUNCTION,
  sentValue,
  readValue,
  valueBounds,
  valueLimit,
  type ChartFunction,
  type ChartTemplate,
  type Drive,
  type FunctionKind,
  type FunctionShape,
  type SoundName,
} from '../gear';
import { hex, parseWholeMessages, type MiddleC } from '../midi';
import { fail, ok, type Result } from '../result';
import { driveText, parseDrive } from './driveText';
import { escapeName, splitNames, unescapeName } from './nameList';
import { nth, tableOf } from '../sure';

/**
 * A row of an implementation chart as cells of text, and back: what a spreadsheet, a CSV file and the table on the
 * screen have in common. Numbers in it are as sent; channels are 1–16.
 */
export const CHART_COLUMNS = [
  'name',
  'group',
  'message',
  'kind',
  'channel',
  'values',
  'shownFrom',
  'powerOn',
  'settleMs',
  'reserved',
  'under',
  'arms',
  'remark',
  'request',
  'input',
] as const;
export type ChartColumn = (typeof CHART_COLUMNS)[number];
export type ChartCells = Readonly<Record<ChartColumn, string>>;

export const EMPTY_CELLS: ChartCells = tableOf(CHART_COLUMNS, () => '');

/** What is wrong with one cell, and what would be right. */
export type CellError = { readonly column: ChartColumn; readonly sentence: string };

/** @param middleC where note names are wanted beside their numbers, else `null`. */
export function cellsOf(fn: ChartTemplate, middleC: MiddleC | null): ChartCells {
  const { shape } = fn;
  return {
    name: fn.name,
    group: fn.group,
    message: driveText(fn.drive, middleC),
    kind: shape.kind,
    channel: fn.extraChannel ?? (fn.channel === null ? '' : String(fn.channel + 1)),
    values: valuesText(shape),
    shownFrom: shownFromText(shape),
    powerOn: powerOnText(fn),
    settleMs: String(fn.settleMs),
    reserved: fn.reserved ? 'yes' : '',
    under: fn.under ?? '',
    arms: fn.arms ?? '',
    remark: fn.remark,
    request: fn.request,
    input: fn.input,
  };
}

/**
 * A row from its cells. Cells left empty get what is usual: a kind that fits the message, its whole range, the device's
 * channel. Errors: one for each cell that cannot be read.
 */
export function functionFromCells(cells: ChartCells, middleC: MiddleC): Result<ChartTemplate, CellError[]> {
  const errors: CellError[] = [];
  const refuse = (column: ChartColumn, sentence: string): null => {
    errors.push({ column, sentence });
    return null;
  };
  const name = cells.name.trim();
  if (name === '') refuse('name', 'The name is empty; one character is enough.');
  const drive = parseDrive(cells.message, middleC);
  if (!drive.ok) refuse('message', drive.error);
  const channel = parseChannel(cells.channel, refuse);
  const settleMs = parseNumber(cells.settleMs, 0, 0, 10_000);
  if (settleMs === null)
    refuse('settleMs', `“${cells.settleMs}” is no settle time; 0 to 10000 ms would be right.`);
  const reserved = parseYes(cells.reserved);
  if (reserved === null) refuse('reserved', `“${cells.reserved}” is neither yes nor no.`);
  const request = cells.request.trim() === '' ? [] : parseWholeMessages(cells.request);
  if (typeof request === 'string') refuse('request', request);
  const shape = drive.ok ? parseShape(cells, drive.value, refuse) : null;
  const powerOn = shape ? parsePowerOn(cells.powerOn, shape, refuse) : null;
  if (errors.length > 0 || !drive.ok || !shape) return fail(errors);
  return ok({
    ...PLAIN_FUNCTION,
    name,
    group: cells.group.trim(),
    drive: drive.value,
    shape,
    channel: channel?.number ?? null,
    extraChannel: channel?.name ?? null,
    under: cells.under.trim() || null,
    arms: cells.arms.trim() || null,
    powerOn,
    settleMs: settleMs ?? 0,
    reserved: reserved ?? false,
    remark: cells.remark,
    request: typeof request === 'string' ? '' : hex(request),
    input: cutText(cells.input.trim(), 80),
  });
}

/** Example: `0=Dry; 1=Body`, `0-127`, `0/127`. */
function valuesText(shape: FunctionShape): string {
  switch (shape.kind) {
    case 'trigger':
      return String(shape.sent);
    case 'switch':
      return `${shape.off}/${shape.on}`;
    case 'range':
      return `${shape.min}-${shape.max}`;
    case 'choice':
      return shape.labels
        .map((label, i) => `${sentValue(shape, shape.first + i)}=${escapeName(label)}`)
        .join('; ');
    case 'program':
      return shape.names.map((n) => `${n.program}=${escapeName(n.name)}`).join('; ');
    case 'sound':
      return shape.names
        .map((n) => `${n.bank >> 7}/${n.bank & 127}/${n.program}=${escapeName(n.name)}`)
        .join('; ');
  }
}

/** As many as a controller has values. */
const CHOICES_AT_MOST = 128;

function shownFromText(shape: FunctionShape): string {
  if (shape.kind === 'range' && shape.ends) return shownEndsText(shape.ends);
  return shape.kind === 'range' || shape.kind === 'choice' ? String(shape.shownFrom) : '';
}

type Refuse = (column: ChartColumn, sentence: string) => null;

function parseShape(cells: ChartCells, drive: Drive, refuse: Refuse): FunctionShape | null {
  const kinds = kindsFor(drive);
  const typed = cells.kind.trim().toLowerCase();
  const kind = typed === '' ? likeliest(kinds, cells.values) : kinds.find((k) => k === typed);
  if (!kind)
    return refuse(
      'kind',
      `“${cells.kind}” does not go with ${cells.message.trim()}; ${kinds.join(', ')} would be right.`,
    );
  const ends = readShownEnds(cells.shownFrom);
  const shown = parseNumber(cells.shownFrom, null, -16384, 16383);
  if (shown === null && !(ends && kind === 'range') && cells.shownFrom.trim() !== '')
    return refuse(
      'shownFrom',
      kind === 'range'
        ? `“${cells.shownFrom}” is no whole number and no two ends with a unit; 0, 1 or 20 to 2000 ms would be right.`
        : `“${cells.shownFrom}” is no whole number; 0 or 1 are usual.`,
    );
  const shape = shapeOf(kind, cells.values.trim(), shown, valueLimit(drive), (s) => refuse('values', s));
  return ends && shape?.kind === 'range' ? { ...shape, ends } : shape;
}

/** Values with a slash are a switch, with names a choice; otherwise what the message most often drives. */
function likeliest(kinds: readonly FunctionKind[], values: string): FunctionKind {
  const wanted: FunctionKind | null = /^\s*\d+\s*\/\s*\d+\s*$/.test(values)
    ? 'switch'
    : /[;=]/.test(values)
      ? 'choice'
      : null;
  return kinds.find((k) => k === wanted) ?? nth(kinds, 0);
}

function shapeOf(
  kind: FunctionKind,
  values: string,
  shown: number | null,
  limit: number,
  refuse: (sentence: string) => null,
): FunctionShape | null {
  const inLimit = (text: string | undefined) => parseNumber(text ?? '', null, 0, limit);
  switch (kind) {
    case 'trigger': {
      const sent = values === '' ? 127 : inLimit(values);
      return sent === null
        ? refuse(`“${values}” is no value to send; 0 to ${limit} would be right.`)
        : { kind, sent };
    }
    case 'switch': {
      const [off, on, third] = values === '' ? [0, 127] : values.split('/').map(inLimit);
      if (typeof off !== 'number' || typeof on !== 'number' || third !== undefined)
        return refuse(`“${values}” is no pair of off and on; two numbers like 0/127 would be right.`);
      return off === on
        ? refuse('On and off send the same value, so off cannot be told from on.')
        : { kind, off, on };
    }
    case 'range': {
      const match = /^(\d+)\s*(?:-|–|to)\s*(\d+)$/.exec(values);
      const [min, max] = values === '' ? [0, limit] : [inLimit(match?.[1]), inLimit(match?.[2])];
      if (min === null || max === null)
        return refuse(`“${values}” is no range; lowest and highest like 0-${limit} would be right.`);
      return min > max
        ? refuse(`The highest value ${max} is below the lowest, ${min}.`)
        : { kind, min, max, shownFrom: shown ?? min };
    }
    case 'choice': {
      const names = counted(values, limit) ?? parseNames(values, limit);
      if (typeof names === 'string') return refuse(names);
      if (names.length === 0) return refuse('A choice needs at least one value, like 0=Dry; 1=Full.');
      names.sort((a, b) => a.number - b.number);
      const first = nth(names, 0).number;
      const labels = names.map((n) => n.name);
      return names.every((n, i) => n.number === first + i)
        ? { kind, first, shownFrom: shown ?? 1, labels }
        : { kind, first: 0, shownFrom: shown ?? 1, labels, sent: names.map((n) => n.number) };
    }
    case 'program': {
      const names = parseNames(values, 127);
      if (typeof names === 'string') return refuse(names);
      return { kind, names: names.map((n) => ({ program: n.number, name: n.name })) };
    }
    case 'sound': {
      const names = parseSounds(values);
      return typeof names === 'string' ? refuse(names) : { kind, names };
    }
  }
}

/** What was a range becomes its numbers, each named after itself. */
function counted(values: string, limit: number): { number: number; name: string }[] | null {
  const match = /^(\d+)\s*(?:-|–|to)\s*(\d+)$/.exec(values);
  const [from, to] = [Number(match?.[1]), Number(match?.[2])];
  if (!match || to < from || to > limit || to - from >= CHOICES_AT_MOST) return null;
  return Array.from({ length: to - from + 1 }, (_, i) => ({ number: from + i, name: String(from + i) }));
}

/** Names in order; those without a number follow the one before. A text is what is wrong. */
function parseNames(values: string, limit: number): { number: number; name: string }[] | string {
  const names: { number: number; name: string }[] = [];
  for (const piece of splitNames(values)) {
    const match = /^\s*(\d+)\s*=([^]*)$/.exec(piece);
    const number = match ? Number(match[1]) : (names.at(-1)?.number ?? -1) + 1;
    if (number > limit) return `${number} is more than the message carries; 0 to ${limit} would be right.`;
    if (names.some((n) => n.number === number)) return `The value ${number} has two names.`;
    names.push({ number, name: unescapeName(match ? nth(match, 2) : piece) });
  }
  return names;
}

/** Names with bank and program: `0/2/5=Wide`, or `2/5=Wide` with the bank as one number. A text is what is wrong. */
function parseSounds(values: string): SoundName[] | string {
  const names: SoundName[] = [];
  for (const piece of splitNames(values)) {
    const match = /^\s*(?:(\d{1,3})\/)?(\d{1,5})\/(\d{1,3})\s*=([^]*)$/.exec(piece);
    if (!match)
      return `“${piece.trim()}” has no bank and program; a name behind MSB/LSB/program like 0/2/5=Wide would be right.`;
    const [msb, low, program] = [Number(match[1] ?? 0), Number(match[2]), Number(match[3])];
    const bank = match[1] === undefined ? low : (msb << 7) | low;
    if (bank > 16383 || msb > 127 || program > 127 || (match[1] !== undefined && low > 127))
      return `“${piece.trim()}” lies beyond the last bank or program; 0 to 127 each would be right.`;
    if (names.some((n) => n.bank === bank && n.program === program))
      return `The sound ${bank >> 7}/${bank & 127}/${program} has two names.`;
    names.push({ bank, program, name: unescapeName(nth(match, 4)) });
  }
  return names;
}

function parseChannel(text: string, refuse: Refuse): { number: number | null; name: string | null } | null {
  const typed = text.trim();
  if (typed === '') return { number: null, name: null };
  if (!/^-?\d+([.,]\d+)?$/.test(typed)) return { number: null, name: typed };
  const number = parseNumber(typed, null, 1, 16);
  if (number === null)
    return refuse(
      'channel',
      `Channel ${typed} does not exist; channels are 1 to 16, or empty for the device’s own.`,
    );
  return { number: number - 1, name: null };
}

function powerOnText({ shape, powerOn }: ChartTemplate): string {
  if (powerOn === null) return '';
  return shape.kind === 'switch' ? (powerOn === 1 ? 'on' : 'off') : String(sentValue(shape, powerOn));
}

function parsePowerOn(text: string, shape: FunctionShape, refuse: Refuse): number | null {
  const typed = text.trim().toLowerCase();
  if (typed === '') return null;
  const number = parseNumber(typed, null, 0, SOUND_LIMIT);
  if (shape.kind === 'switch') {
    if (typed === 'on' || number === shape.on) return 1;
    if (typed === 'off' || number === shape.off) return 0;
    return refuse('powerOn', `“${text}” is neither on nor off.`);
  }
  const value = number === null ? null : readValue(shape, number);
  if (value !== null) return value;
  const { lowest: min, highest: max } = sentBounds({ shape });
  return refuse('powerOn', `“${text}” is none of its values as sent; ${min} to ${max} would be right.`);
}

/** A number written plainly, in bounds; `fallback` for an empty cell, `null` for anything else. */
function parseNumber(text: string, fallback: number | null, min: number, max: number): number | null {
  const typed = text.trim().replace(',', '.').replace('−', '-');
  if (typed === '') return fallback;
  const number = /^-?\d+(\.\d+)?(e-?\d+)?$/i.test(typed) ? Number(typed) : NaN;
  return number >= min && number <= max ? number : null;
}

function parseYes(text: string): boolean | null {
  const typed = text.trim().toLowerCase();
  if (['', 'no', 'n', 'false', '0'].includes(typed)) return false;
  return ['yes', 'y', 'true', '1', 'x'].includes(typed) ? true : null;
}

/** A row with one cell typed anew, all others as they are. Errors are of any cell that no longer goes with it. */
export function withCell(
  fn: ChartFunction,
  column: ChartColumn,
  text: string,
  middleC: MiddleC,
): Result<ChartFunction, CellError[]> {
  const before = cellsOf(fn, middleC);
  const first = functionFromCells({ ...before, [column]: text }, middleC);
  if (first.ok) return ok({ ...first.value, id: fn.id });
  // Another message or kind makes the values that went with the old one meaningless.
  if (column !== 'message' && column !== 'kind') return first;
  const fresh = { ...before, kind: '', values: '', shownFrom: '', powerOn: '', [column]: text };
  const second = functionFromCells(fresh, middleC);
  return second.ok ? ok({ ...second.value, id: fn.id }) : second;
}

/** The lowest and highest number that a row sends, for sorting and bulk work. */
export const sentBounds = ({ shape }: Pick<ChartTemplate, 'shape'>): { lowest: number; highest: number } => {
  const { min, max } = valueBounds(shape);
  return { lowest: sentValue(shape, min), highest: sentValue(shape, max) };
};
