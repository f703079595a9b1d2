import { PLAIN_SCENE, type Song } from '@idle-step/core/show';
import {
  bookCell,
  bookCopied,
  withBookPasted,
  withBookTyped,
  withFilledDown,
  withoutBookCells,
  type BookColumn,
  type BookEdit,
  type BookLine,
  type CellMaking,
  type SheetState,
} from '@idle-step/core/sheet';
import { useEditAll } from '../../../drafts/useDocs';
import { newPart } from '../../../edits/songEdits';
import { useCellGrid, type CellGridState } from '../../../ui/grid/useCellGrid';
import { nth } from '@idle-step/core/sure';

/** A cell of the book: its scene, or its song where that has none, and its column by key. */
export type BookPlace = { readonly songId: string; readonly sceneIndex: number; readonly column: string };

type Wanted = {
  /** Which songs the book shows. */
  of: string;
  lines: readonly BookLine[];
  columns: readonly BookColumn[];
  sheets: (song: Song) => SheetState;
  at: BookPlace | null;
  onMove(to: BookPlace): void;
};

export const newScene = (name: string) => ({ ...PLAIN_SCENE, id: crypto.randomUUID(), name });

const MAKING: CellMaking = { newScene, newPart };

/** What begins a value, a name or “-”. */
const CELL_BEGINS = /^[^\s]$/u;

/** The book as a table of cells: its rows are scenes, its columns names, tempo and lines of the sheet. */
export function useBookGrid({ of, lines, columns, sheets, at, onMove }: Wanted): CellGridState {
  const editAll = useEditAll('songs');
  const change = (label: string, edit: BookEdit) =>
    editAll(
      label,
      [...edit].map(([id, song]) => ({ id, change: () => song })),
    );
  return useCellGrid({
    of,
    rowCount: lines.length,
    colCount: columns.length,
    at: at && {
      row: lines.findIndex((l) => l.song.id === at.songId && l.sceneIndex === at.sceneIndex),
      col: columns.findIndex((c) => c.key === at.column),
    },
    typed: CELL_BEGINS,
    fillKey: 'd',
    onMove: ({ row, col }) => {
      const { song, sceneIndex } = nth(lines, row);
      onMove({ songId: song.id, sceneIndex, column: nth(columns, col).key });
    },
    textAt: ({ row, col }) => bookCell(nth(lines, row), nth(columns, col), sheets(nth(lines, row).song)).text,
    take: ({ row, col }, text) => {
      const [line, column] = [lines[row], columns[col]];
      if (!line || !column) return null;
      const next = withBookTyped(line, column, text, MAKING);
      if (typeof next === 'string') return next;
      if (next !== line.song) change(`set ${column.title}`, new Map([[line.song.id, next]]));
      return null;
    },
    clear: (range) => change('clear cells', withoutBookCells(lines, columns, range)),
    fill: (range) => change('fill down', withFilledDown(lines, columns, sheets, range, MAKING)),
    copied: (range) => bookCopied(lines, columns, sheets, range),
    paste: (range, text) => {
      const pasted = withBookPasted(lines, columns, range, text, MAKING);
      if (typeof pasted === 'string') return pasted;
      change('paste cells', pasted.edit);
      return pasted.range;
    },
  });
}
