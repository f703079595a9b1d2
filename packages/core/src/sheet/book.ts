import { isSameJson } from '../edits';
import { copiedText, pastedCells } from '../formats';
import type { Preset } from '../floor';
import type { FullRig } from '../routing';
import type { Part, Scene, Song } from '../show';
import { readNumber } from '../typed';
import { pastedSize, type CueRange } from './range';
import { allCueRows, usedRows, type CueRow } from './rows';
import { lastsText, withLasts } from './lasts';
import { cueCell, type CueCell, type SheetState } from './said';
import { mapScene } from './sceneEdits';
import { withoutCell, withTyped } from './typedCell';
import { nth } from '../sure';

/** A row of the book: a scene of a song. A song without scenes has one row, its `sceneIndex` is −1. */
export type BookLine = {
  readonly song: Song;
  readonly sceneIndex: number;
  /** Whether its song begins here, so that name and tempo are shown. */
  readonly isFirst: boolean;
};

/**
 * A column of the book: what a song is called, how fast it is, its scenes' names, how long they last, or a line of the
 * sheet.
 */
export type BookColumn = { readonly key: string; readonly title: string } & (
  { readonly kind: 'song' | 'bpm' | 'scene' | 'lasts' } | { readonly kind: 'line'; readonly row: CueRow }
);

/** What cells cannot make by themselves. */
export type CellMaking = {
  newScene(name: string): Scene;
  newPart(sceneId: string): Part;
};

/** What a cell of the book shows. `said` is the cell of the sheet, `null` in columns that are none of its lines. */
export type BookCell = { readonly text: string; readonly isSet: boolean; readonly said: CueCell | null };

const NOTHING: BookCell = { text: '', isSet: false, said: null };

/** One row a scene, song after song; a song that comes twice stands once. */
export const bookLines = (songs: readonly Song[]): BookLine[] =>
  [...new Map(songs.map((s) => [s.id, s])).values()].flatMap((song): BookLine[] =>
    song.scenes.length === 0
      ? [{ song, sceneIndex: -1, isFirst: true }]
      : song.scenes.map((_, sceneIndex) => ({ song, sceneIndex, isFirst: sceneIndex === 0 })),
  );

/** Names and tempo, then every line that one of the songs says something in, and those that were brought in. */
export function bookColumns(
  rig: FullRig,
  presets: readonly Preset[],
  songs: readonly Song[],
  brought: readonly string[],
): BookColumn[] {
  const used = new Set(brought);
  for (const song of songs) for (const key of usedRows(song)) used.add(key);
  return [
    { kind: 'song', key: 'song', title: 'Song' },
    { kind: 'bpm', key: 'bpm', title: 'bpm' },
    { kind: 'scene', key: 'scene', title: 'Scene' },
    { kind: 'lasts', key: 'lasts', title: 'Length' },
    ...allCueRows(rig, presets)
      .filter((row) => used.has(row.key))
      .map((row): BookColumn => ({ kind: 'line', key: row.key, title: lineTitle(row), row })),
  ];
}

/** A line of the sheet with the device that it belongs to. Example: `Kelpline Snapshot`. */
export const lineTitle = (row: CueRow): string =>
  row.kind === 'function' ? `${row.device.name} ${row.title}` : row.title;

/** @param sheet of the line's song. */
export function bookCell(line: BookLine, column: BookColumn, sheet: SheetState): BookCell {
  const { song, sceneIndex, isFirst } = line;
  switch (column.kind) {
    case 'song':
      return isFirst ? { text: song.name, isSet: true, said: null } : NOTHING;
    case 'bpm':
      return isFirst ? { text: String(song.tempoBpm), isSet: true, said: null } : NOTHING;
    case 'scene':
      return sceneIndex < 0 ? NOTHING : { text: nth(song.scenes, sceneIndex).name, isSet: true, said: null };
    case 'lasts': {
      const text = sceneIndex < 0 ? '' : lastsText(song, nth(song.scenes, sceneIndex).id);
      return { text, isSet: text !== '', said: null };
    }
    case 'line': {
      const said = sceneIndex < 0 ? null : cueCell(column.row, song, sheet, sceneIndex);
      return said ? { text: said.text, isSet: said.setIn === sceneIndex && !said.isReplaced, said } : NOTHING;
    }
  }
}

/**
 * The song of a line with a cell as it was typed. In the columns of names and tempo an empty text changes nothing.
 * Refused: a sentence that says what would be right.
 */
export function withBookTyped(
  { song, sceneIndex }: BookLine,
  column: BookColumn,
  text: string,
  making: CellMaking,
): Song | string {
  const typed = text.trim();
  if (column.kind === 'line')
    return sceneIndex < 0
      ? typed === ''
        ? song
        : `“${song.name}” has no scene yet; type the name of one under “Scene” first.`
      : withTyped(song, column.row, sceneIndex, text);
  if (column.kind === 'lasts') {
    const scene = song.scenes[sceneIndex];
    return scene ? withLasts(song, scene.id, text, making.newPart) : song;
  }
  if (typed === '') return song;
  if (column.kind === 'bpm') {
    const bpm = readNumber(typed.replace(/\s*bpm$/i, ''));
    if (bpm === null || bpm < 20 || bpm > 400)
      return `“${typed}” is no tempo; 20 to 400, like 92.5, would be right.`;
    return bpm === song.tempoBpm ? song : { ...song, tempoBpm: bpm };
  }
  if (typed.length > NAME_LENGTH)
    return `“${typed.slice(0, 20)}…” is longer than ${NAME_LENGTH} characters; shorten the name.`;
  if (column.kind === 'song') return typed === song.name ? song : { ...song, name: typed };
  const scene = song.scenes[sceneIndex];
  if (!scene) return { ...song, scenes: [making.newScene(typed)] };
  return typed === scene.name ? song : mapScene(song, scene.id, (s) => ({ ...s, name: typed }));
}

/** Characters of a name at the most, as the contract has it. */
const NAME_LENGTH = 80;

type Sheets = (song: Song) => SheetState;

/** What a range sets, as a spreadsheet takes it; what is carried is empty. */
export const bookCopied = (
  lines: readonly BookLine[],
  columns: readonly BookColumn[],
  sheets: Sheets,
  range: CueRange,
): string =>
  copiedText(
    lines.slice(range.top, range.bottom + 1).map((line) =>
      columns.slice(range.left, range.right + 1).map((column) => {
        const cell = bookCell(line, column, sheets(line.song));
        return cell.isSet ? cell.text : '';
      }),
    ),
  );

/** Songs that an edit of the book changed, by their identifiers. */
export type BookEdit = ReadonlyMap<string, Song>;

/** The lines of the book with the songs of an edit in place of what they were; scenes stay where they are. */
class Changed {
  private readonly songs = new Map<string, Song>();
  at(line: BookLine): BookLine {
    return { ...line, song: this.songs.get(line.song.id) ?? line.song };
  }
  take(line: BookLine, song: Song): void {
    if (!isSameJson(song, this.at(line).song)) this.songs.set(song.id, song);
  }
  get edit(): BookEdit {
    return this.songs;
  }
}

/**
 * Cells from a spreadsheet or from here, from the corner of the range on; a single one fills the whole range. Taken whole
 * or not at all: a sentence says which cell is wrong.
 */
export function withBookPasted(
  lines: readonly BookLine[],
  columns: readonly BookColumn[],
  range: CueRange,
  text: string,
  making: CellMaking,
): { readonly edit: BookEdit; readonly range: CueRange } | string {
  const cells = pastedCells(text);
  if (!cells) return 'A quotation mark in what was copied is not closed; copy the cells again.';
  const { single, height, width } = pastedSize(cells, range);
  if (range.top + height > lines.length || range.left + width > columns.length)
    return `${height} × ${width} cells do not fit here: below and to the right there are ${lines.length - range.top} × ${columns.length - range.left}. “Paste a table” takes whole songs, new ones too.`;
  const changed = new Changed();
  for (let r = 0; r < height; r++)
    for (let c = 0; c < width; c++) {
      const line = changed.at(nth(lines, range.top + r));
      const typed = single ? nth(nth(cells, 0), 0) : (nth(cells, r)[c] ?? '');
      const result = withBookTyped(line, nth(columns, range.left + c), typed, making);
      if (typeof result === 'string') return `${placeWords(line)}: ${result}`;
      changed.take(line, result);
    }
  return {
    edit: changed.edit,
    range: { ...range, bottom: range.top + height - 1, right: range.left + width - 1 },
  };
}

const placeWords = ({ song, sceneIndex }: BookLine): string =>
  [song.name, song.scenes[sceneIndex]?.name].filter(Boolean).join(', ');

/** What the uppermost row of a range is, set in all rows below it. Names stay. */
export function withFilledDown(
  lines: readonly BookLine[],
  columns: readonly BookColumn[],
  sheets: Sheets,
  range: CueRange,
  making: CellMaking,
): BookEdit {
  const changed = new Changed();
  const top = nth(lines, range.top);
  for (const column of columns.slice(range.left, range.right + 1)) {
    if (column.kind === 'song' || column.kind === 'scene') continue;
    const text =
      column.kind === 'bpm' ? String(top.song.tempoBpm) : bookCell(top, column, sheets(top.song)).text;
    for (const below of lines.slice(range.top + 1, range.bottom + 1)) {
      const line = changed.at(below);
      if (line.sceneIndex < 0) continue;
      const result = withBookTyped(line, column, text, making);
      if (typeof result !== 'string') changed.take(line, result);
    }
  }
  return changed.edit;
}

/** A range in which no scene says anything of its own any more. Names, tempo and lengths stay. */
export function withoutBookCells(
  lines: readonly BookLine[],
  columns: readonly BookColumn[],
  range: CueRange,
): BookEdit {
  const changed = new Changed();
  for (const old of lines.slice(range.top, range.bottom + 1))
    for (const column of columns.slice(range.left, range.right + 1)) {
      const line = changed.at(old);
      if (column.kind !== 'line' || line.sceneIndex < 0) continue;
      if (usedRows(line.song).has(column.key))
        changed.take(line, withoutCell(line.song, column.row, line.sceneIndex));
    }
  return changed.edit;
}
