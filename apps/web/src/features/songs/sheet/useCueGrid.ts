import type { Song } from '@idle-step/core/show';
import {
  copiedCells,
  cueCell,
  withFilledRight,
  withoutCell,
  withoutCells,
  withPasted,
  withTyped,
  type CueRow,
  type SheetState,
} from '@idle-step/core/sheet';
import { useEdit } from '../../../drafts/useDocs';
import { useCellGrid, type CellGridState } from '../../../ui/grid/useCellGrid';
import type { InHand } from './inHand';
import { nth } from '@idle-step/core/sure';

type Wanted = {
  song: Song;
  rows: readonly CueRow[];
  sheet: SheetState;
  inHand: InHand;
  onPick(inHand: InHand): void;
};

/** What begins a value, a name or “-”. */
export const CELL_BEGINS = /^[\p{L}\p{N}-]$/u;

/** The cue sheet as a table of cells: its lines are rows, its scenes columns. */
export function useCueGrid({ song, rows, sheet, inHand, onPick }: Wanted): CellGridState {
  const edit = useEdit('songs');
  const change = (label: string, next: Song) => {
    if (next !== song) edit(song.id, label, () => next);
  };
  return useCellGrid({
    of: song.id,
    rowCount: rows.length,
    colCount: song.scenes.length,
    at:
      inHand?.kind === 'cell'
        ? { row: rows.findIndex((r) => r.key === inHand.rowKey), col: inHand.sceneIndex }
        : null,
    typed: CELL_BEGINS,
    fillKey: 'r',
    onMove: ({ row, col }) => onPick({ kind: 'cell', rowKey: nth(rows, row).key, sceneIndex: col }),
    textAt: ({ row, col }) => cueCell(nth(rows, row), song, sheet, col)?.text ?? '',
    take: ({ row, col }, text) => {
      const line = rows[row];
      if (!line) return null;
      const next = withTyped(song, line, col, text);
      if (typeof next === 'string') return next;
      change(`set ${line.title}`, next);
      return null;
    },
    clear: (range) => {
      const isOne = range.top === range.bottom && range.left === range.right;
      const line = nth(rows, range.top);
      if (isOne) change(`carry ${line.title} over`, withoutCell(song, line, range.left));
      else change('clear cells', withoutCells(song, rows, range));
    },
    fill: (range) => {
      if (range.right > range.left) change('fill to the right', withFilledRight(song, rows, sheet, range));
    },
    copied: (range) => copiedCells(song, rows, sheet, range),
    paste: (range, text) => {
      const pasted = withPasted(song, rows, range, text);
      if (typeof pasted === 'string') return pasted;
      change('paste cells', pasted.song);
      return pasted.range;
    },
  });
}
