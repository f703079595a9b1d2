import { fail, ok, type Result } from '../../result';
import { cutText, readNumber } from '../../typed';
import { readBar, type BarShape, type BeatUnit, type Song } from '../../show';
import { writeCsv, type FileFault } from './chartCsv';
import { FAULTS_TOLD, lengthIn, readTable } from './listTable';

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
 * between. A file with any fault is refused whole. Source for the format: RFC 4180.
 */
export function readSongCsv(text: string): Result<SongCsvRow[], FileFault[]> {
  const table = readTable(text, SONG_COLUMNS, 'title', ALSO);
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
      wrong(
        number === null
          ? `${what} “${value}” is no number; ${from} to ${to}, like 92.5, would be right.`
          : `${what} “${value}” is out of range; ${from} to ${to} would be right.`,
      );
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

const minutesText = (seconds: number): string => {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
};
