import { fail, ok, type Result } from '../result';
import { cutText, readNumber } from '../typed';
import { readBar, type BarShape, type BeatUnit, type SetEntry, type Song } from '../show';
import { parseCells, writeCsv, type FileFault } from './chartCsv';

/** Faults told at the most; a wrong file has one in every line. */
const FAULTS_TOLD = 20;

/** A line of a list of songs. `null` where the file says nothing of it. */
export type SongCsvRow = {
  readonly line: number;
  readonly name: string;
  readonly key: string | null;
  readonly tempoBpm: number | null;
  readonly beatsPerBar: number | null;
  readonly beatUnit: BeatUnit | null;
  readonly lengthS: number | null;
  readonly tags: readonly string[] | null;
  readonly remark: string | null;
  /** Names of scenes in order. */
  readonly scenes: readonly string[] | null;
};

/** A line of a running order. */
export type SetCsvRow = {
  readonly line: number;
  readonly kind: SetEntry['kind'];
  readonly name: string;
  readonly lengthS: number | null;
  readonly isEncore: boolean;
  readonly remark: string;
};

const SONG_COLUMNS = [
  'title',
  'key',
  'bpm',
  'beats',
  'beat unit',
  'length',
  'tags',
  'remark',
  'scenes',
] as const;
const SET_COLUMNS = ['kind', 'name', 'length', 'encore', 'remark'] as const;
/** What else a column may be called. */
const ALSO: Readonly<Record<string, string>> = {
  name: 'title',
  tempo: 'bpm',
  song: 'title',
  'length s': 'length',
};

type Listed = Pick<
  Song,
  'name' | 'key' | 'tempoBpm' | 'beatsPerBar' | 'beatUnit' | 'lengthS' | 'tags' | 'remark'
>;

/** Songs as CSV, one line a song; lengths in minutes and seconds, tags with semicolons between. */
export const writeSongCsv = (songs: readonly Listed[]): string =>
  writeCsv(
    SONG_COLUMNS.filter((c) => c !== 'scenes'),
    songs.map((s) => [
      s.name,
      s.key,
      String(s.tempoBpm),
      String(s.beatsPerBar),
      String(s.beatUnit),
      minutesText(s.lengthS),
      s.tags.join('; '),
      s.remark,
    ]),
  );

/**
 * Reads a list of songs: a header line names the columns, of which only `title` is needed; scenes stand with a stroke
 * between. A file with any fault is refused whole. Source for the format: RFC 4180 (from memory).
 */
export function readSongCsv(text: string): Result<SongCsvRow[], FileFault[]> {
  const table = readTable(text, SONG_COLUMNS, 'title');
  if (!table.ok) return table;
  const faults: FileFault[] = [];
  const seen = new Map<string, number>();
  const rows = table.value.map(({ line, cell }): SongCsvRow => {
    const wrong = (sentence: string) => void faults.push({ line, sentence });
    const name = cell('title') ?? '';
    const twin = seen.get(name.toLowerCase());
    if (name === '') wrong('The title is missing.');
    else if (name.length > 80) wrong('The title is longer than 80 characters.');
    else if (twin !== undefined) wrong(`“${name}” stands in line ${twin} already.`);
    seen.set(name.toLowerCase(), line);
    const bounded = (what: string, column: string, from: number, to: number) => {
      const value = cell(column);
      if (value === null) return null;
      const number = readNumber(value);
      if (number !== null && number >= from && number <= to) return number;
      wrong(`${what} “${value}” is out of range; ${from} to ${to} would be right.`);
      return null;
    };
    const listed = (column: string, mark: RegExp) =>
      cell(column)
        ?.split(mark)
        .map((t) => t.trim())
        .filter(Boolean) ?? null;
    const cutCell = (column: string, most: number) => {
      const text = cell(column);
      return text === null ? null : cutText(text, most);
    };
    const bar = barIn(cell('beats'), cell('beat unit'), wrong);
    return {
      line,
      name,
      key: cutCell('key', 20),
      tempoBpm: bounded('Tempo', 'bpm', 20, 400),
      beatsPerBar: bar?.beatsPerBar ?? null,
      beatUnit: bar?.beatUnit ?? null,
      lengthS: lengthIn(cell('length'), wrong),
      tags: listed('tags', /[;,]/)?.slice(0, 20) ?? null,
      remark: cutCell('remark', 400),
      scenes: listed('scenes', /[|/]/)?.slice(0, 200) ?? null,
    };
  });
  return faults.length > 0 ? fail(faults.slice(0, FAULTS_TOLD)) : ok(rows);
}

/** Reads a running order: songs by their titles, breaks and talk by their kind. Refused whole where anything is wrong. */
export function readSetCsv(text: string): Result<SetCsvRow[], FileFault[]> {
  const table = readTable(text, SET_COLUMNS, 'name');
  if (!table.ok) return table;
  const faults: FileFault[] = [];
  const rows = table.value.map(({ line, cell }): SetCsvRow => {
    const wrong = (sentence: string) => void faults.push({ line, sentence });
    const kind = (cell('kind') ?? 'song').toLowerCase();
    if (kind !== 'song' && kind !== 'break' && kind !== 'talk')
      wrong(`There is no kind “${kind}”; song, break or talk would be right.`);
    const name = cell('name') ?? '';
    if (name === '') wrong('The name is missing.');
    return {
      line,
      kind: kind as SetEntry['kind'],
      name,
      lengthS: lengthIn(cell('length'), wrong),
      isEncore: /^(yes|1|true|encore)$/i.test(cell('encore') ?? ''),
      remark: cutText(cell('remark') ?? '', 400),
    };
  });
  return faults.length > 0 ? fail(faults.slice(0, FAULTS_TOLD)) : ok(rows);
}

type TableRow = { readonly line: number; cell(column: string): string | null };

/** Lines by the names of their columns; columns that are not known are left out. */
function readTable(
  text: string,
  columns: readonly string[],
  needed: string,
): Result<TableRow[], FileFault[]> {
  const parsed = parseCells(text);
  if (!parsed.ok) return parsed;
  const [head, ...rows] = parsed.value;
  if (!head) return fail([{ line: 1, sentence: 'The file is empty; the first line names the columns.' }]);
  const places = new Map<string, number>();
  head.cells.forEach((cell, i) => {
    const name = cell.trim().toLowerCase();
    const known = columns.includes(name) ? name : (ALSO[name] ?? '');
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

/** `3`, `6/8`, or 6 with 8 in the column of the unit. A song that says how many has quarters where it says no more. */
function barIn(
  beats: string | null,
  unit: string | null,
  wrong: (sentence: string) => void,
): BarShape | null {
  if (beats === null) return null;
  const bar = readBar(unit === null || beats.includes('/') ? beats : `${beats}/${unit}`);
  if (!bar) wrong(`“${unit === null ? beats : `${beats}/${unit}`}” is no bar; 4, 4/4 or 6/8 would be right.`);
  return bar;
}

/** `4:05`, `1:02:05`, or seconds. */
function lengthIn(text: string | null, wrong: (sentence: string) => void): number | null {
  if (text === null) return null;
  const parts = /^\d+(?:\.\d+)?$/.test(text)
    ? [0, 0, Number(text)]
    : (/^(?:(\d{1,2}):)?(\d{1,3}):(\d{2})$/
        .exec(text)
        ?.slice(1)
        .map((p) => Number(p ?? 0)) ?? []);
  const seconds = parts.length === 3 ? parts[0]! * 3600 + parts[1]! * 60 + parts[2]! : NaN;
  if (seconds <= 36_000) return seconds;
  wrong(`“${text}” is no length; minutes and seconds like 4:05, or seconds up to 36000, would be right.`);
  return null;
}

const minutesText = (seconds: number): string => {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
};
