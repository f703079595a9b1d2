import type { ChartTemplate } from '../../gear';
import { controllerName, type MiddleC } from '../../midi';
import { cutText } from '../../typed';
import { EMPTY_CELLS, functionFromCells, type ChartCells } from '../functionText';
import { cellsUnder, headOf, type ManualColumn, type ManualHead } from './columns';
import { findMessage, isKeyPressure, type FoundMessage } from './message';
import {
  findValues,
  switchedName,
  fromHex,
  namesText,
  numberedName,
  tidy,
  valuesOfCell,
  type FoundValues,
  type NumberedName,
} from './values';
import { keysOf, nth, there } from '../../sure';

/** What became of a line of a manual. */
export type ManualLine = {
  /** Its number, from 1. */
  readonly line: number;
  readonly text: string;
  /** `names`: it says values of the row above it. `heading`: the name of a group, or the head of a table. */
  readonly kind: 'row' | 'names' | 'heading' | 'refused';
  /** The row that it became or belongs to, as its place in `rows`; `null` where there is none. */
  readonly row: number | null;
  /** Of a refused line why, with what would be right; of others what is to be looked at. */
  readonly sentences: readonly string[];
};

export type ManualText = { readonly rows: readonly ChartTemplate[]; readonly lines: readonly ManualLine[] };

export type ManualOptions = {
  readonly middleC: MiddleC;
  /** How the device counts its programs: from 0 or from 1. */
  readonly programsShownFrom: 0 | 1;
};

/** A row in the making. */
type Draft = {
  readonly at: number;
  cells: Partial<ChartCells>;
  /** Values with names that stand one on each line, or one on each program change. */
  names: NumberedName[];
  readonly doubts: string[];
};

/** What numbers without a word in front are, as the heading above them says. */
type Context = 'controller' | 'note' | 'program' | null;

type Told = { -readonly [K in keyof ManualLine]: ManualLine[K] } & { draft: Draft | null };

/** Lines of a manual that are read at the most. */
const LINES_AT_MOST = 2000;

/**
 * Rows of a chart from what a manual says: a line a function, in words (`CC 24 Reverb on/off`) or in a table that was
 * copied from a page or a document. What could be meant otherwise is marked; a line that says no message, or one that
 * cannot be, is refused with its reason.
 */
export function readManual(text: string, options: ManualOptions): ManualText {
  const reader = new ManualReader(options);
  text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\r|\n/)
    .slice(0, LINES_AT_MOST)
    .forEach((line, i) => reader.take(line, i + 1));
  return reader.result();
}

class ManualReader {
  private readonly told: Told[] = [];
  private head: ManualHead | null = null;
  private group = '';
  private context: Context = null;
  /** The row whose values may follow in lines of their own. */
  private open: Draft | null = null;
  /** The one row of all programs that are listed, by the group in which they stand. */
  private programs: Draft | null = null;

  constructor(private readonly options: ManualOptions) {}

  take(given: string, line: number): void {
    const text = plainText(given);
    if (text.trim() === '') {
      this.open = null;
      return;
    }
    const told: Told = { line, text: given, kind: 'refused', row: null, sentences: [], draft: null };
    this.told.push(told);
    const head = headOf(text);
    if (head) {
      this.head = head;
      this.programs = null;
      told.kind = 'heading';
    } else if (/^[\s|:+=-]+$/.test(text)) told.kind = 'heading';
    else if (this.head) this.takeUnder(this.head, text, told);
    else this.takeWords(text, told);
  }

  result(): ManualText {
    const rows: ChartTemplate[] = [];
    const places = new Map<Draft, number | string>();
    for (const { draft } of this.told)
      if (draft && !places.has(draft)) {
        const read = functionFromCells(this.cellsOf(draft), this.options.middleC);
        if (!read.ok) places.set(draft, nth(read.error, 0).sentence);
        else {
          places.set(draft, rows.length);
          rows.push(read.value);
        }
      }
    const lines = this.told.map(({ draft, ...told }): ManualLine => {
      const place = draft ? places.get(draft) : undefined;
      if (typeof place === 'string') return { ...told, kind: 'refused', sentences: [place] };
      const doubts = draft && told.kind === 'row' ? draft.doubts : [];
      return { ...told, row: place ?? null, sentences: [...told.sentences, ...doubts] };
    });
    return { rows, lines };
  }

  /** A line of a table. */
  private takeUnder(head: ManualHead, text: string, told: Told): void {
    const cells = cellsUnder(head, text);
    const message = messageOfCells(cells, this.context);
    if (message === null) {
      const filled = Object.values(cells);
      // A line with one cell names what comes below it, unless it goes on with the cell above.
      if (filled.length === 1 && findMessage(text) === null && !/^\s*\d/.test(nth(filled, 0))) {
        if (this.open && /^[a-z(]/.test(nth(filled, 0))) return this.goOn(cells, told);
        return this.takeHeading(nth(filled, 0), told);
      }
      if (this.open && cells.name === undefined && cells.values !== undefined) {
        const name = numberedName(cells.values);
        if (name) return this.addName(this.open, name, told);
      }
      // What stands between tables is read as words.
      return this.takeWords(text, told);
    }
    const values = cells.values ?? spanOf(cells.lowest, cells.highest) ?? '';
    const valuesText = message.isHex ? fromHex(values) : values;
    const found = tidy(valuesText) === '' ? switchedName(cells.name ?? '') : null;
    const switched = found && { ...found, rest: '' };
    const name = found ? tidy(found.rest) : (cells.name ?? '');
    this.put(
      message,
      {
        name,
        values:
          switched ??
          (valuesText.trim() === '' ? null : valuesOfCell(valuesText, name || usualName(message.message))),
        valuesText,
        words: '',
        channel: numberIn(cells.channel),
        group: cells.group ?? this.group,
        powerOn: cells.powerOn ?? '',
        remark: cells.remark ?? '',
      },
      told,
    );
  }

  /** A line in words. */
  private takeWords(text: string, told: Told): void {
    if (isListHeading(text)) return this.takeHeading(text, told);
    const message = findMessage(text) ?? messageByContext(text, this.context);
    if (!message) return this.takeOther(text, told);
    if (isKeyPressure(text)) {
      told.sentences = ['Pressure of single keys is played and not set; it needs no row.'];
      return;
    }
    const channel = /\(?\b(?:on\s+)?(?:midi\s*)?ch(?:an(?:nel)?)?\.?\s*#?\s*[:=]?\s*(\d{1,2})\b\)?/i.exec(
      message.rest,
    );
    const rest = channel ? message.rest.replace(channel[0], '\n') : message.rest;
    this.put(
      message,
      {
        ...partsOf(message.isHex ? fromHex(rest) : rest),
        words: rest,
        channel: channel?.[1] ?? '',
        group: this.group,
        powerOn: '',
        remark: '',
      },
      told,
    );
  }

  /** A line without a message: a name of a value, a heading, or nothing that can be read. */
  private takeOther(text: string, told: Told): void {
    const name = numberedName(text.replace(/^[\s•*·-]+/, ''));
    if (this.open && name) return this.addName(this.open, name, told);
    if (isHeading(text)) return this.takeHeading(text, told);
    told.sentences = ['It says no message; write CC 22, note 36 or program in it.'];
  }

  private takeHeading(text: string, told: Told): void {
    told.kind = 'heading';
    this.group = cutText(text.replace(/[\s:|=#*-]+$/, '').replace(/^[\s:|=#*-]+/, ''), 80);
    this.context = contextOf(text) ?? this.context;
    this.open = null;
    this.programs = null;
  }

  /** A cell that goes on with the one above. */
  private goOn(cells: Partial<Record<ManualColumn, string>>, told: Told): void {
    const draft = there(this.open);
    told.kind = 'names';
    told.draft = draft;
    // The line was read as one column alone.
    const holds = nth(keysOf(cells), 0);
    const text = cells[holds] ?? '';
    const to = holds === 'name' ? 'name' : 'remark';
    draft.cells = { ...draft.cells, [to]: `${draft.cells[to] ?? ''} ${text}`.trim() };
  }

  private addName(draft: Draft, name: NumberedName, told: Told): void {
    draft.names.push(name);
    told.kind = 'names';
    told.draft = draft;
  }

  private put(message: FoundMessage, said: Said, told: Told): void {
    if (message.message === 'program' && message.program !== null)
      return this.putProgram({ number: message.program, name: said.name }, said, told);
    const doubts: string[] = [];
    const name = said.name === '' ? usualName(message.message) : said.name;
    if (name === message.message) doubts.push(`It has no name; it is called ${name}.`);
    if (/\d\s*[=:]|[=:]\s*\d|\d-\d/.test(name)) doubts.push(`“${name}” may hold values that were not read.`);
    const values = valuesOf(message, said, doubts, this.options.programsShownFrom);
    const second = findMessage(said.words);
    if (second && second.program === null && second.message !== message.message)
      doubts.push(`It says a second message, ${second.message}; only ${message.message} is taken.`);
    const channel = said.channel !== '' ? said.channel : (message.channel?.toString() ?? '');
    const draft: Draft = {
      at: told.line,
      cells: {
        name: cutText(name, 80),
        group: said.group,
        message: message.message,
        channel,
        powerOn: said.powerOn,
        remark: cutText([said.remark, values.remark].filter(Boolean).join('; '), 400),
        kind: values.kind,
        values: values.values,
        shownFrom: values.shownFrom,
      },
      names: [],
      doubts,
    };
    told.kind = 'row';
    told.draft = draft;
    this.open = draft;
    if (message.message === 'program') this.programs = draft;
  }

  /** A program by its number: all of a list are one function. */
  private putProgram(name: NumberedName, { group, channel }: Said, told: Told): void {
    if (!this.programs) {
      this.programs = {
        at: told.line,
        cells: { name: 'Program', group, message: 'program', channel },
        names: [],
        doubts: [],
      };
      told.kind = 'row';
    } else told.kind = 'names';
    told.draft = this.programs;
    this.programs.names.push(name);
  }

  private cellsOf(draft: Draft): ChartCells {
    const cells = { ...EMPTY_CELLS, ...draft.cells };
    if (draft.names.length === 0) return cells;
    if (cells.message !== 'program') return { ...cells, kind: 'choice', values: namesText(draft.names) };
    const from = programsFrom(draft.names, this.options.programsShownFrom);
    if (from !== this.options.programsShownFrom)
      draft.doubts.push(`The text counts programs from ${from}, the device as it is set from ${1 - from}.`);
    return {
      ...cells,
      kind: 'program',
      values: namesText(draft.names.map((n) => ({ ...n, number: n.number - from }))),
    };
  }
}

/** What a line says beside its message. */
type Said = {
  readonly name: string;
  readonly values: FoundValues | null;
  /** The text that holds values and nothing else; what of it could not be read is kept. */
  readonly valuesText: string;
  /** Of a line in words all that was not its message. */
  readonly words: string;
  readonly channel: string;
  readonly group: string;
  readonly powerOn: string;
  readonly remark: string;
};

type Values = { kind: string; values: string; shownFrom: string; remark: string };

/** The values of a function as cells. What of their text could not be read is a remark and a doubt. */
function valuesOf(message: FoundMessage, said: Said, doubts: string[], programsShownFrom: 0 | 1): Values {
  const none = { kind: '', values: '', shownFrom: '', remark: '' };
  const { values } = said;
  if (!values) {
    if (tidy(said.valuesText) === '') return none;
    doubts.push(`“${tidy(said.valuesText)}” could not be read as values; it is kept as a remark.`);
    return { ...none, remark: tidy(said.valuesText) };
  }
  const rest = tidy(values.rest);
  const remark = rest === '' ? '' : tidy(said.valuesText);
  if (/\d/.test(rest)) doubts.push(`“${rest}” was left over; it is kept as a remark.`);
  if (message.message === 'program')
    return { ...programValues(values.values, programsShownFrom, doubts), remark };
  // A note is struck at one velocity or with any, and has no further values.
  if (/^note/i.test(message.message) && values.kind !== 'switch') return { ...none, remark };
  return { kind: values.kind, values: values.values, shownFrom: values.shownFrom, remark };
}

/** How programs are counted: `1-128` counts from 1. A list of named programs is taken as it is counted. */
function programValues(values: string, shownFrom: 0 | 1, doubts: string[]): Values {
  const none = { kind: 'program', values: '', shownFrom: '', remark: '' };
  const span = /^(\d+)-(\d+)$/.exec(values);
  if (span) {
    const from = Number(span[1]);
    if ((from === 0 || from === 1) && from !== shownFrom)
      doubts.push(`The text counts programs from ${from}, the device as it is set from ${shownFrom}.`);
    return none;
  }
  const names = values.split('; ').map(numberedName);
  if (values === '' || names.some((n) => n === null)) return none;
  const list = names.map(there);
  const from = programsFrom(list, shownFrom);
  return { ...none, values: namesText(list.map((n) => ({ ...n, number: n.number - from }))) };
}

/** A list in which a 0 stands counts from 0, one with 128 from 1, any other as the device does. */
const programsFrom = (names: readonly NumberedName[], shownFrom: 0 | 1): 0 | 1 =>
  names.some((n) => n.number === 0) ? 0 : names.some((n) => n.number === 128) ? 1 : shownFrom;

/** The message of a table's line, `null` where none of its cells says one. */
function messageOfCells(cells: Partial<Record<ManualColumn, string>>, context: Context): FoundMessage | null {
  for (const [column, word] of [
    ['controller', 'CC'],
    ['note', 'note'],
    ['program', 'program'],
  ] as const) {
    const text = cells[column];
    if (text === undefined || /^(?:-+|n\/?a)$/i.test(text)) continue;
    const found = findMessage(
      /^[a-z]{2,}|^f0/i.test(text) && !/^[a-g][#b]?-?\d/i.test(text) ? text : `${word} ${text}`,
    );
    if (found) return found;
  }
  const { message, number } = cells;
  if (message !== undefined) {
    const found = findMessage(`${message} ${number ?? ''}`.trim()) ?? findMessage(message);
    if (found) return found;
  }
  const typed = number ?? message;
  return typed === undefined || !/^\d{1,3}$/.test(typed) ? null : messageByContext(typed, context);
}

/** A number at the beginning of a line below a heading that says what numbers are. */
function messageByContext(text: string, context: Context): FoundMessage | null {
  const match = /^[\s•*·-]*#?\s*(\d{1,3})\b(?!\s*-\s*\d)\s*[.:)=|-]?\s*/.exec(text);
  if (!match || context === null) return null;
  const word = { controller: 'CC', note: 'note', program: 'program' }[context];
  const found = findMessage(`${word} ${nth(match, 1)}`);
  return found && { ...found, rest: `\n${text.slice(match[0].length)}` };
}

/** What a heading says that numbers below it are. */
function contextOf(text: string): Context {
  if (/\b(?:control(?:lers?|[ -]changes?)|cc'?s?)\b/i.test(text)) return 'controller';
  if (/\bnotes?\b|\bpads?\b|\bkeys?\b/i.test(text)) return 'note';
  return /\b(?:programs?|patches|presets?|sounds?)\b/i.test(text) ? 'program' : null;
}

/** What stands above a list of messages of one kind: `Program list`, `Notes`, `Control change messages`. */
const isListHeading = (text: string): boolean =>
  !/\d/.test(text) &&
  (/\b(?:list|names|table|chart|messages|numbers|assignments)\b\W*$/i.test(text) ||
    /^\W*(?:midi\s+)?(?:programs|program changes|control changes|controllers|ccs|notes|patches|presets|pads)\W*$/i.test(
      text,
    ));

/** A few words without numbers, or whatever ends in a colon. */
const isHeading = (text: string): boolean =>
  /:\s*$/.test(text) || (!/\d/.test(text) && text.trim().split(/\s+/).length <= 6);

/** The name and the values of the words that are left of a line. */
function partsOf(rest: string): Pick<Said, 'name' | 'values' | 'valuesText'> {
  const words = rest.replace(/\s*\n\s*/g, '\n');
  const found = findValues(words, '');
  if (found) return { name: tidy(found.rest), values: { ...found, rest: '' }, valuesText: '' };
  // Names of values stand behind a colon or in brackets, and so does a value that stands alone.
  const listed =
    /^(.*?)(?:[:=]\s*([^:=()]+[,/|;][^:=()]+)|\(([^()]+[,/|;][^()]+)\))\s*$/s.exec(words) ??
    /^(.*?)(?:\(|=|\bvalue\b|\bsend\b)\s*[:=]?\s*(\d{1,5})\s*\)?\s*$/is.exec(words);
  if (!listed) return { name: tidy(words), values: null, valuesText: '' };
  const valuesText = there(listed[2] ?? listed[3]);
  return { name: tidy(nth(listed, 1)), values: valuesOfCell(valuesText, tidy(nth(listed, 1))), valuesText };
}

/** As it is written with the signs of a keyboard. */
const plainText = (text: string): string =>
  text
    .replace(/[\u00A0\u2002-\u200A\u202F]/g, ' ')
    .replace(/[‐‑‒–—−]/g, '-')
    .replace(/\.{2,3}|…/g, '-')
    .replace(/→|⇒|->|=>/g, '=');

const spanOf = (lowest: string | undefined, highest: string | undefined): string | undefined =>
  lowest !== undefined && highest !== undefined ? `${lowest}-${highest}` : undefined;

const numberIn = (text: string | undefined): string => /\b\d{1,2}\b/.exec(text ?? '')?.[0] ?? '';

/** What a function is called that the manual gives no name. Source of names of controllers: MIDI 1.0. */
function usualName(message: string): string {
  const controller = /^CC (\d+)/.exec(message);
  const known = controller && Number(controller[1]) <= 127 ? controllerName(Number(controller[1])) : null;
  const command = /^machine (.+)$/.exec(message)?.[1];
  if (command !== undefined) return `${nth(command, 0).toUpperCase()}${command.slice(1)}`;
  return known ?? { program: 'Program', bend: 'Pitch bend', pressure: 'Pressure' }[message] ?? message;
}
