import { copiedText, pastedCells } from '../formats';
import type { Song } from '../show';
import { cueCell, type SheetState } from './said';
import type { CueRow } from './rows';
import { withoutCell, withTyped } from './typedCell';
import { nth } from '../sure';

/** Lines and scenes, from 0, both ends included. */
export type CueRange = {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
};

/** What the scenes of a range set, as a spreadsheet takes it; what is carried is empty. */
export const copiedCells = (
  song: Song,
  rows: readonly CueRow[],
  sheet: SheetState,
  range: CueRange,
): string =>
  copiedText(
    rows.slice(range.top, range.bottom + 1).map((row) =>
      Array.from({ length: range.right - range.left + 1 }, (_, i) => {
        const cell = cueCell(row, song, sheet, range.left + i);
        return cell?.setIn === range.left + i && !cell.isReplaced ? cell.text : '';
      }),
    ),
  );

/** A range in which no scene says anything of its own any more. */
export function withoutCells(song: Song, rows: readonly CueRow[], range: CueRange): Song {
  let next = song;
  for (const row of rows.slice(range.top, range.bottom + 1))
    for (let i = range.left; i <= range.right; i++) next = withoutCell(next, row, i);
  return next;
}

/** How large a range becomes into which cells are pasted; a single one fills the range as it is. */
export function pastedSize(cells: readonly (readonly string[])[], range: CueRange) {
  const single = cells.length === 1 && nth(cells, 0).length === 1;
  return {
    single,
    height: single ? range.bottom - range.top + 1 : cells.length,
    width: single ? range.right - range.left + 1 : Math.max(...cells.map((l) => l.length)),
  };
}

/**
 * Cells from a spreadsheet or from here, from the corner of the range on; a single one fills the whole range. Taken whole
 * or not at all: a sentence says which cell is wrong.
 */
export function withPasted(
  song: Song,
  rows: readonly CueRow[],
  range: CueRange,
  text: string,
): { readonly song: Song; readonly range: CueRange } | string {
  const lines = pastedCells(text);
  if (!lines) return 'A quotation mark in what was copied is not closed; copy the cells again.';
  const { single, height, width } = pastedSize(lines, range);
  if (range.top + height > rows.length || range.left + width > song.scenes.length)
    return `${height} × ${width} cells do not fit here: below and to the right there are ${rows.length - range.top} × ${song.scenes.length - range.left}.`;
  let next = song;
  for (let r = 0; r < height; r++)
    for (let c = 0; c < width; c++) {
      const row = nth(rows, range.top + r);
      const typed = single ? nth(nth(lines, 0), 0) : (nth(lines, r)[c] ?? '');
      const result = withTyped(next, row, range.left + c, typed);
      if (typeof result === 'string') return `${nth(song.scenes, range.left + c).name}: ${result}`;
      next = result;
    }
  return {
    song: next,
    range: { ...range, bottom: range.top + height - 1, right: range.left + width - 1 },
  };
}

/** What the leftmost scene of a range is, set in all of its scenes. */
export function withFilledRight(
  song: Song,
  rows: readonly CueRow[],
  sheet: SheetState,
  range: CueRange,
): Song {
  let next = song;
  for (const row of rows.slice(range.top, range.bottom + 1)) {
    const text = cueCell(row, song, sheet, range.left)?.text ?? '';
    for (let i = range.left + 1; i <= range.right; i++) {
      const result = withTyped(next, row, i, text);
      if (typeof result !== 'string') next = result;
    }
  }
  return next;
}
