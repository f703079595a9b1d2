import { FAULTS_TOLD, lengthIn, parseCells, writeCsv, type FileFault } from '../formats';
import { fail, ok, type Result } from '../result';
import { barText, readBar, type Part, type Scene, type Song } from '../show';
import { cutText, readNumber, readWhole } from '../typed';
import { bookCell, bookLines, lineTitle, type BookColumn, type CellMaking } from './book';
import type { CueRow } from './rows';
import type { SheetState } from './said';
import { lastsText, readLength } from './lasts';
import { withTyped } from './typedCell';
import { nth, there } from '../sure';

/** Columns beside the lines of the sheet. */
const FIXED = [
  'song',
  'bpm',
  'bar',
  'key',
  'song length',
  'tags',
  'song remark',
  'scene',
  'played',
  'lasts',
  'part names',
  'part remarks',
] as const;
type Fixed = (typeof FIXED)[number];

/** What else those columns may be called. */
const ALSO: Readonly<Record<string, Fixed>> = {
  title: 'song',
  name: 'song',
  'song name': 'song',
  'song title': 'song',
  tempo: 'bpm',
  'song bpm': 'bpm',
  meter: 'bar',
  time: 'bar',
  'time signature': 'bar',
  bars: 'lasts',
  duration: 'lasts',
  section: 'scene',
  part: 'scene',
  'scene name': 'scene',
  order: 'played',
};

const BETWEEN = ' | ';

/**
 * Songs as CSV, a row a scene: what a scene sets stands in its row, what it carries over is empty. `played` are the places
 * at which a scene comes in its song, with a length, a name and a remark for each. Source for the format: RFC 4180.
 * @param columns of the book. @param sheets what the scenes of a song are.
 */
export function writeBookCsv(
  songs: readonly Song[],
  columns: readonly BookColumn[],
  sheets: (song: Song) => SheetState,
): string {
  const lines = columns.filter((c) => c.kind === 'line');
  const rows = bookLines(songs).map((line): string[] => {
    const { song, sceneIndex, isFirst } = line;
    const scene = song.scenes[sceneIndex];
    const comes = song.parts.flatMap((part, i) =>
      part.sceneId === scene?.id ? [{ part, place: i + 1 }] : [],
    );
    const listOf = (texts: readonly string[]) => (texts.some(Boolean) ? texts.join(BETWEEN) : '');
    const fixed: Record<Fixed, string> = {
      song: song.name,
      bpm: isFirst ? String(song.tempoBpm) : '',
      bar: isFirst ? barText(song) : '',
      key: isFirst ? song.key : '',
      'song length': isFirst ? minutesText(song.lengthS) : '',
      tags: isFirst ? song.tags.join('; ') : '',
      'song remark': isFirst ? song.remark : '',
      scene: scene?.name ?? '',
      played: comes.map((c) => c.place).join(', '),
      lasts: scene ? lastsText(song, scene.id) : '',
      'part names': listOf(comes.map((c) => c.part.name)),
      'part remarks': listOf(comes.map((c) => c.part.remark)),
    };
    return [
      ...FIXED.map((column) => fixed[column]),
      ...lines.map((column) => {
        const cell = bookCell(line, column, sheets(song));
        return cell.isSet ? cell.text : '';
      }),
    ];
  });
  return writeCsv([...FIXED, ...lines.map((c) => c.title)], rows);
}

/** A table of songs as it was read: which column is what, and its rows. */
export type BookTable = {
  readonly fixed: ReadonlyMap<Fixed, number>;
  /** The other columns, by their titles. */
  readonly others: readonly { readonly title: string; readonly at: number }[];
  readonly rows: readonly {
    readonly line: number;
    /** Of the row, or of the nearest row above that has one. */
    readonly song: string;
    readonly cells: readonly string[];
  }[];
};

/**
 * Reads a table of songs, as it is copied from a spreadsheet or as CSV: the first line names the columns, of which only
 * `song` is needed; a row a scene, and a row without a song belongs to the one above.
 */
export function readBookTable(text: string): Result<BookTable, FileFault[]> {
  const parsed = parseCells(text, text.includes('\t') ? '\t' : undefined);
  if (!parsed.ok) return parsed;
  const [head, ...lines] = parsed.value;
  if (!head) return fail([{ line: 1, sentence: 'The table is empty; its first line names the columns.' }]);
  const fixed = new Map<Fixed, number>();
  const others: { title: string; at: number }[] = [];
  const names = head.cells.map(plainName);
  const hasScenes = names.some((n) => n === 'scene' || ALSO[n] === 'scene');
  head.cells.forEach((cell, at) => {
    const name = nth(names, at);
    // The length of a song, where there are no scenes.
    const also = name === 'length' ? (hasScenes ? 'lasts' : 'song length') : ALSO[name];
    const known = FIXED.find((f) => f === name) ?? also;
    if (known && !fixed.has(known)) fixed.set(known, at);
    else if (name !== '') others.push({ title: cell.trim(), at });
  });
  const songAt = fixed.get('song');
  if (songAt === undefined)
    return fail([
      {
        line: head.line,
        sentence:
          'The column “song” is missing; the first line names the columns, like song, bpm, scene and then lines of the sheet.',
      },
    ]);
  const faults: FileFault[] = [];
  let song = '';
  const rows = lines.map(({ line, cells }) => {
    song = cells[songAt]?.trim() || song;
    if (song === '') faults.push({ line, sentence: 'The song is missing in this line and above it.' });
    else if (song.length > 80)
      faults.push({ line, sentence: 'The song has a name of more than 80 characters.' });
    return { line, song, cells };
  });
  if (rows.length === 0)
    faults.push({ line: null, sentence: 'There are no rows under the names of the columns.' });
  return faults.length > 0 ? fail(faults.slice(0, FAULTS_TOLD)) : ok({ fixed, others, rows });
}

/** Whether a text is a table of songs with the names of its columns, rather than cells for some place. */
export function isBookTable(text: string): boolean {
  const table = readBookTable(text);
  return table.ok && (table.value.fixed.has('scene') || table.value.fixed.has('bpm'));
}

/** What a title is told by: its letters and digits. */
const plainName = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}/]+/gu, ' ')
    .trim();

/** Titles of the songs in a table, each once. */
export const songsInTable = ({ rows }: BookTable): readonly string[] => [...new Set(rows.map((r) => r.song))];

/** A song as a table says it is; `was`: as it is, `null` where it is new. */
export type BookSong = { readonly song: Song; readonly was: Song | null };

export type BookRead = {
  /** In the order of the table. */
  readonly songs: readonly BookSong[];
  /** Columns that are nothing of the rig and were left out, with the reason. */
  readonly leftOut: readonly { readonly title: string; readonly why: string }[];
};

/** What the reader of a table cannot make by itself. */
export type BookMaking = CellMaking & {
  /** Every line that a song could have. */
  readonly rows: readonly CueRow[];
  /** A song that is there, whole; several of one name. */
  songsNamed(name: string): readonly Song[];
  newSong(name: string): Song;
};

/**
 * The songs of a table: new ones, and those that are there with what the table says of them. A line of the sheet that has
 * a column is as the table says in every scene named, empty cells carried over; other lines, scenes that the table does
 * not name, glides and cues stay. Refused whole where a cell is wrong.
 */
export function songsOfBook(table: BookTable, making: BookMaking): Result<BookRead, FileFault[]> {
  const faults: FileFault[] = [];
  const wrong = (line: number, sentence: string) => void faults.push({ line, sentence });
  const { columns, leftOut } = lineColumns(table, making.rows);
  const songs = songsInTable(table).map((name): BookSong => {
    const rows = table.rows.filter((r) => r.song === name);
    const there = making.songsNamed(name);
    const [was = null] = there;
    if (there.length > 1)
      wrong(
        nth(rows, 0).line,
        `${there.length} songs are called “${name}”; give them different names first.`,
      );
    let song = was ?? { ...making.newSong(name), scenes: [], parts: [] };
    const reader: RowReader = { table, making, wrong };
    song = withSongFields(song, rows, reader);
    const named = withScenes(song, rows, reader);
    song = withOrderRead(named.song, rows, named.sceneIds, reader);
    rows.forEach((row, i) => {
      const sceneIndex = song.scenes.findIndex((s) => s.id === named.sceneIds[i]);
      for (const { row: line, at, title } of columns) {
        const text = row.cells[at] ?? '';
        if (sceneIndex < 0) {
          if (text.trim() !== '')
            wrong(row.line, `“${text.trim()}” under “${title}” has no scene in its row.`);
          continue;
        }
        const next = withTyped(song, line, sceneIndex, text);
        if (typeof next === 'string') wrong(row.line, `${title}: ${next}`);
        else song = next;
      }
    });
    return { song, was };
  });
  return faults.length > 0 ? fail(faults.slice(0, FAULTS_TOLD)) : ok({ songs, leftOut });
}

type Row = BookTable['rows'][number];
type RowReader = {
  readonly table: BookTable;
  readonly making: BookMaking;
  wrong(line: number, sentence: string): void;
};

const cellOf = (table: BookTable, row: Row, column: Fixed): string =>
  row.cells[table.fixed.get(column) ?? -1]?.trim() ?? '';

/** Which columns are lines of the sheet: by device and name, or by a name that only one of them has. */
function lineColumns(table: BookTable, rows: readonly CueRow[]) {
  const leftOut: { title: string; why: string }[] = [];
  const columns: { row: CueRow; at: number; title: string }[] = [];
  for (const { title, at } of table.others) {
    const name = plainName(title);
    const whole = rows.filter((r) => plainName(lineTitle(r)) === name);
    const found = whole.length > 0 ? whole : rows.filter((r) => plainName(r.title) === name);
    const [row] = found;
    if (!row) leftOut.push({ title, why: 'nothing in the rig is called so' });
    else if (found.length > 1)
      leftOut.push({ title, why: `${found.length} lines are called so, like “${lineTitle(row)}”` });
    else if (columns.some((c) => c.row.key === row.key))
      leftOut.push({ title, why: 'another column is the same line' });
    else columns.push({ row, at, title });
  }
  return { columns, leftOut };
}

/** What the rows say of the song as a whole; the first that says something counts. */
function withSongFields(song: Song, rows: readonly Row[], { table, wrong }: RowReader): Song {
  const said = <T>(column: Fixed, read: (text: string, line: number) => T | null): T | null => {
    const row = rows.find((r) => cellOf(table, r, column) !== '');
    return row ? read(cellOf(table, row, column), row.line) : null;
  };
  const bpm = said('bpm', (text, line) => {
    const number = readNumber(text.replace(/\s*bpm$/i, ''));
    if (number !== null && number >= 20 && number <= 400) return number;
    wrong(line, `“${text}” is no tempo; 20 to 400, like 92.5, would be right.`);
    return null;
  });
  const bar = said('bar', (text, line) => {
    const read = readBar(text);
    if (!read) wrong(line, `“${text}” is no bar; 4/4 or 6/8 would be right.`);
    return read;
  });
  const lengthS = said('song length', (text, line) => lengthIn(text, (sentence) => wrong(line, sentence)));
  const tags = said('tags', (text) => [
    ...new Set(
      text
        .split(/[;,]/)
        .map((t) => cutText(t.trim(), 40))
        .filter(Boolean)
        .slice(0, 20),
    ),
  ]);
  return {
    ...song,
    ...(bpm !== null && { tempoBpm: bpm }),
    ...bar,
    ...(lengthS !== null && { lengthS }),
    ...(tags && { tags }),
    key: said('key', (text) => cutText(text, 20)) ?? song.key,
    remark: said('song remark', (text) => cutText(text, 400)) ?? song.remark,
  };
}

/**
 * The scenes that the rows name. Where they name all that there are, they stand in the order of the rows; else those that
 * are there stay in their places, and a new one comes behind the scene of the row before. One of a name that comes again
 * is the next one of that name.
 */
function withScenes(
  song: Song,
  rows: readonly Row[],
  { table, making, wrong }: RowReader,
): { song: Song; sceneIds: readonly (string | null)[] } {
  const free = [...song.scenes];
  const named = rows.map((row): Scene | null => {
    const name = cellOf(table, row, 'scene');
    if (name === '') return null;
    if (name.length > 80) wrong(row.line, 'The scene has a name of more than 80 characters.');
    const at = free.findIndex((s) => plainName(s.name) === plainName(name));
    return at < 0 ? making.newScene(name) : nth(free.splice(at, 1), 0);
  });
  const inTable = named.flatMap((s) => s ?? []);
  let scenes: readonly Scene[] = free.length === 0 ? inTable : song.scenes;
  inTable.forEach((scene, i) => {
    if (scenes.includes(scene)) return;
    const before = i === 0 ? -1 : scenes.indexOf(nth(inTable, i - 1));
    scenes = scenes.toSpliced(before + 1, 0, scene);
  });
  if (scenes.length > 200)
    wrong(nth(rows, 0).line, `“${song.name}” would have ${scenes.length} scenes; a song holds 200.`);
  return { song: { ...song, scenes }, sceneIds: named.map((s) => s?.id ?? null) };
}

/** A scene at a place of the order, with what its row says of that part. */
type Coming = { readonly place: number; readonly part: Part };

/** What a row says of the parts that its scene is. @param count how many they are. */
function partsSaid(row: Row, sceneId: string, count: number, { table, making, wrong }: RowReader): Part[] {
  const [lengths, names, remarks] = (['lasts', 'part names', 'part remarks'] as const).map((column) => {
    const texts = cellOf(table, row, column).split('|');
    // One for all of them, or one each.
    return (k: number) => (texts.length === 1 ? nth(texts, 0) : (texts[k] ?? '')).trim();
  });
  return Array.from({ length: count }, (_, k) => {
    const text = there(lengths)(k);
    const length = readLength(text);
    if (length === undefined)
      wrong(row.line, `“${text}” is no length; 8 bars, 6 beats, 90 s or 1:30 would be right.`);
    return {
      ...making.newPart(sceneId),
      length: length ?? null,
      name: cutText(there(names)(k), 80),
      remark: cutText(there(remarks)(k), 400),
    };
  });
}

/** The order in which the scenes are played, where the rows say something of it: places, or lengths alone. */
function withOrderRead(
  song: Song,
  rows: readonly Row[],
  sceneIds: readonly (string | null)[],
  reader: RowReader,
): Song {
  const says = (column: Fixed) => rows.some((r) => cellOf(reader.table, r, column) !== '');
  if (says('played')) return withPlaces(song, rows, sceneIds, reader);
  if (!says('lasts')) return song;
  const ordered = song.parts.length > 0 ? song.parts : song.scenes.map((s) => reader.making.newPart(s.id));
  let parts = ordered;
  rows.forEach((row, i) => {
    const sceneId = sceneIds[i];
    if (!sceneId || cellOf(reader.table, row, 'lasts') === '') return;
    if (!parts.some((p) => p.sceneId === sceneId)) parts = [...parts, reader.making.newPart(sceneId)];
    const count = parts.filter((p) => p.sceneId === sceneId).length;
    const said = partsSaid(row, sceneId, count, reader);
    parts = parts.map((p) => (p.sceneId === sceneId ? { ...p, length: there(said.shift()).length } : p));
  });
  return { ...song, parts };
}

/** The order by the places that the rows say. */
function withPlaces(
  song: Song,
  rows: readonly Row[],
  sceneIds: readonly (string | null)[],
  reader: RowReader,
): Song {
  const { table, wrong } = reader;
  const comes: Coming[] = [];
  rows.forEach((row, i) => {
    const sceneId = sceneIds[i];
    if (!sceneId) return;
    const typed = cellOf(table, row, 'played');
    const places = placesIn(typed);
    if (!places) {
      wrong(
        row.line,
        `“${typed}” are no places; numbers from 1 with commas between, like 2, 4, would be right.`,
      );
      return;
    }
    const parts = partsSaid(row, sceneId, places.length, reader);
    places.forEach((place, k) => {
      if (comes.some((c) => c.place === place))
        wrong(row.line, `Two scenes of “${song.name}” are played at place ${place}.`);
      comes.push({ place, part: nth(parts, k) });
    });
  });
  // A part that is what it was stays the same one.
  const free = [...song.parts];
  const parts = comes
    .sort((a, b) => a.place - b.place)
    .map(({ part }) => {
      const at = free.findIndex((p) => p.sceneId === part.sceneId);
      return at < 0 ? part : { ...part, id: nth(free.splice(at, 1), 0).id };
    });
  // Scenes that no row names stay in the order, behind the others.
  return { ...song, parts: [...parts, ...free.filter((p) => !sceneIds.includes(p.sceneId))] };
}

/** `1, 3` as numbers; nothing is no place. `null` for anything else. */
function placesIn(text: string): number[] | null {
  const places = text
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map(readWhole);
  const isRight = places.every((p) => p !== null && p >= 1 && p <= 1000);
  return isRight ? places.map((p) => there(p)) : null;
}

const minutesText = (seconds: number): string => {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
};
