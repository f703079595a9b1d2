import { fail, ok, type Result } from '../../result';
import { cutText, readNumber } from '../../typed';
import type { EntryTime, SetEntry, Setlist } from '../../show';
import { writeCsv, type FileFault } from './chartCsv';
import { FAULTS_TOLD, lengthIn, readTable, type TableRow } from './listTable';

/** What a file says of the evening itself. */
export type SetCsvHead = Pick<Setlist, 'name' | 'date' | 'place' | 'startMin' | 'slotS' | 'remark'> & {
  readonly line: number;
  /** What calls the songs, with the port by its name. */
  readonly calls: { readonly port: string; readonly channel: number; readonly base: number } | null;
};

const ENTRY_KINDS: readonly SetEntry['kind'][] = ['song', 'break', 'talk'];

/** A line of a running order. */
export type SetCsvRow = {
  readonly line: number;
  readonly kind: SetEntry['kind'];
  readonly name: string;
  /** Of a song `null` where it lasts as long as the song itself. */
  readonly lengthS: number | null;
  readonly isEncore: boolean;
  readonly notTonight: boolean;
  readonly remark: string;
  /** Scenes that are not played this evening, by their places in the song from 1, with their names where they are told. */
  readonly leftOut: readonly { readonly place: number | null; readonly name: string }[];
  /** Which of two songs with one title is meant, where the file says it. */
  readonly tempoBpm: number | null;
  readonly key: string | null;
};

export type SetCsv = { readonly head: SetCsvHead | null; readonly rows: readonly SetCsvRow[] };

const COLUMNS = [
  'number',
  'kind',
  'name',
  'begins s',
  'at',
  'lasts s',
  'length s',
  'bpm',
  'key',
  'encore',
  'tonight',
  'left out tonight',
  'remark',
  'date',
  'place',
  'start',
  'slot s',
  'calls at',
  'calls channel',
  'calls from (sent)',
] as const;
type Column = (typeof COLUMNS)[number];
const ALSO: Readonly<Record<string, Column>> = {
  title: 'name',
  song: 'name',
  length: 'length s',
  slot: 'slot s',
  'left out': 'left out tonight',
  tempo: 'bpm',
};

/** The longest slot, in seconds: a day. */
const DAY_S = 86_400;

/**
 * A set as CSV: a first line with what the evening is, then a line for each entry in the order in which they are played.
 * What is reckoned out (when it begins, at what time, how long it lasts) stands beside what was written down.
 * @param times of the set. @param portOf the name of a port. @param at the time of day so many seconds after the start.
 */
export function writeSetCsv(
  set: Setlist,
  times: readonly EntryTime[],
  portOf: (portId: string) => string,
  at: (startS: number) => string,
): string {
  const lines: Partial<Record<Column, string>>[] = [
    {
      kind: 'set',
      name: set.name,
      remark: set.remark,
      date: set.date,
      place: set.place,
      start: set.startMin === null ? '' : clockText(set.startMin),
      'slot s': set.slotS === null ? '' : String(set.slotS),
      ...(set.calls && {
        'calls at': portOf(set.calls.portId),
        'calls channel': String(set.calls.channel + 1),
        'calls from (sent)': String(set.calls.base),
      }),
    },
    ...times.map(({ entry, song, number, startS, lengthS }) => ({
      number: number === null ? '' : String(number),
      kind: entry.kind,
      name: entry.kind === 'song' ? (song?.name ?? '') : entry.name,
      'begins s': String(Math.round(startS)),
      at: set.startMin === null ? '' : at(startS),
      'lasts s': String(Math.round(lengthS)),
      'length s': entry.lengthS === null ? '' : String(entry.lengthS),
      bpm: song ? String(song.tempoBpm) : '',
      key: song?.key ?? '',
      encore: entry.isEncore ? 'yes' : '',
      tonight: entry.notTonight ? 'no' : '',
      'left out tonight':
        entry.kind === 'song'
          ? (song?.scenes ?? [])
              .flatMap((scene, i) =>
                entry.leftOutSceneIds.includes(scene.id) ? sceneText(i, scene.name) : [],
              )
              .join(' | ')
          : '',
      remark: entry.remark,
    })),
  ];
  return writeCsv(
    COLUMNS,
    lines.map((line) => COLUMNS.map((column) => line[column] ?? '')),
  );
}

/**
 * Reads a running order: songs by their titles, breaks and talk by their kind, and what the evening is where a line says
 * so. Refused whole where anything is wrong.
 */
export function readSetCsv(text: string): Result<SetCsv, FileFault[]> {
  const table = readTable(text, COLUMNS, 'name', ALSO);
  if (!table.ok) return table;
  const faults: FileFault[] = [];
  let head: SetCsvHead | null = null;
  const rows: SetCsvRow[] = [];
  for (const row of table.value) {
    const { line, cell } = row;
    const wrong = (sentence: string) => void faults.push({ line, sentence });
    const kind = (cell('kind') ?? 'song').toLowerCase();
    const name = cell('name') ?? '';
    if (name === '') wrong('The name is missing.');
    if (kind === 'set') {
      if (head)
        wrong(`Line ${head.line} says what the evening is already; one line of the kind set is right.`);
      head = headOf(row, cutText(name, 80), wrong);
      continue;
    }
    const known = ENTRY_KINDS.find((k) => k === kind);
    if (!known) wrong(`There is no kind “${kind}”; song, break, talk or set would be right.`);
    rows.push({
      line,
      kind: known ?? 'song',
      name,
      lengthS: lengthIn(cell('length s'), wrong),
      isEncore: /^(yes|1|true|encore)$/i.test(cell('encore') ?? ''),
      notTonight: /^(no|0|false)$/i.test(cell('tonight') ?? ''),
      remark: cutText(cell('remark') ?? '', 400),
      leftOut: leftOutIn(cell('left out tonight')),
      tempoBpm: readNumber(cell('bpm') ?? ''),
      key: cell('key'),
    });
  }
  return faults.length > 0 ? fail(faults.slice(0, FAULTS_TOLD)) : ok({ head, rows });
}

function headOf({ line, cell }: TableRow, name: string, wrong: (sentence: string) => void): SetCsvHead {
  const number = (column: Column, from: number, to: number): number | null => {
    const text = cell(column);
    if (text === null) return null;
    const value = readNumber(text);
    if (value !== null && value >= from && value <= to) return value;
    wrong(`“${text}” under “${column}” is out of range; ${from} to ${to} would be right.`);
    return null;
  };
  const date = cell('date') ?? '';
  if (date !== '' && !isDate(date)) wrong(`“${date}” is no date; 2026-11-26 would be right.`);
  const start = cell('start');
  const startMin = start === null ? null : minutesOfDay(start);
  if (startMin === undefined) wrong(`“${start}” is no time of day; 20:00 would be right.`);
  const port = cell('calls at');
  const channel = number('calls channel', 1, 16);
  return {
    line,
    name,
    date,
    place: cutText(cell('place') ?? '', 80),
    startMin: startMin ?? null,
    slotS: number('slot s', 0, DAY_S),
    remark: cutText(cell('remark') ?? '', 400),
    calls:
      port === null
        ? null
        : { port, channel: (channel ?? 1) - 1, base: number('calls from (sent)', 0, 127) ?? 0 },
  };
}

/** A scene by its place, and its name where that cannot be taken for two. */
const sceneText = (index: number, name: string): string =>
  /[|;\n]/.test(name) || name === '' ? String(index + 1) : `${index + 1} ${name}`;

/** `2 Verse | 5 Outro`; places or names alone are right too. */
const leftOutIn = (text: string | null): SetCsvRow['leftOut'] =>
  (text ?? '')
    .split(/[|;]/)
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => {
      const [, place, name] = /^(\d{1,3})(?:\s+(.*))?$/s.exec(part) ?? [];
      return place === undefined ? { place: null, name: part } : { place: Number(place), name: name ?? '' };
    });

const two = (n: number): string => String(n).padStart(2, '0');
const clockText = (min: number): string => `${two(Math.floor(min / 60))}:${two(min % 60)}`;

/** `20:00` or `20` as minutes after midnight; `undefined` for what is no time of day. */
function minutesOfDay(text: string): number | undefined {
  const match = /^(\d{1,2})(?:[:.](\d{2}))?(?::00)?$/.exec(text);
  const [hours, min] = [Number(match?.[1]), Number(match?.[2] ?? 0)];
  return match && hours < 24 && min < 60 ? hours * 60 + min : undefined;
}

/** Whether a text is a day of the calendar, like 2026-11-26. */
function isDate(text: string): boolean {
  const [year, month, day] = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text)?.slice(1).map(Number) ?? [];
  if (!year || !month || !day) return false;
  const isLeap = year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0);
  const days = month === 2 ? (isLeap ? 29 : 28) : [4, 6, 9, 11].includes(month) ? 30 : 31;
  return month <= 12 && day <= days;
}
