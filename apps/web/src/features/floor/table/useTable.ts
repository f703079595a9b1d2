import type { Preset, TableCell } from '@idle-step/core/floor';
import type { World } from '@idle-step/core/engine';
import { nth } from '@idle-step/core/sure';
import { useRef, useState, type RefObject } from 'react';
import { rangeBetween } from '../../../ui/grid/gridKeys';
import { useCellGrid, type CellGridState, type CellPlace } from '../../../ui/grid/useCellGrid';
import {
  cellsIn,
  copyRange,
  cellContext,
  editText,
  filledCells,
  isHere,
  pasteCopied,
  pasteText,
  typeCell,
  usedTexts,
  type Copied,
  type FillOrder,
  type Pasted,
  type TableColumn,
  type TableRow,
} from './tableCells';

export type TableState = Omit<CellGridState, 'range'> & {
  readonly focus: CellPlace;
  readonly range: NonNullable<CellGridState['range']>;
  readonly holdsFocus: RefObject<boolean>;
  cells(order?: FillOrder): TableCell[];
  press(at: CellPlace, isExtending: boolean): void;
  drag(at: CellPlace): void;
  lift(): void;
  focusOn(at: CellPlace): void;
  /** The focus goes elsewhere; the table no longer draws it to itself. */
  leave(): void;
  /** What stands in cells of this preset already, to be chosen while one types. */
  suggestions(): readonly string[];
};

type Wanted = {
  world: World;
  preset: Preset;
  rows: readonly TableRow[];
  columns: readonly TableColumn[];
  change(label: string, preset: Preset): void;
};

/** Any character but the one that asks for the keys of the page. */
const TYPED = /^[^?]$/u;

/** What the preset's table needs to know and do: the cell in focus, the range, typing, copy and paste. */
export function useTable({ world, preset, rows, columns, change }: Wanted): TableState {
  const [focus, setFocus] = useState<CellPlace>(() => ({
    row: 0,
    // A control with pages of its own is told there: the first cell is one that can be filled.
    col: Math.max(
      0,
      columns.findIndex((c) => rows[0] && isHere(preset, rows[0].control.id, c)),
    ),
  }));
  const copied = useRef<Copied | null>(null);
  const isDragging = useRef(false);
  const holdsFocus = useRef(false);
  const at: CellPlace = {
    row: Math.min(rows.length - 1, Math.max(0, focus.row)),
    col: Math.min(columns.length - 1, Math.max(0, focus.col)),
  };
  const textAt = (row: TableRow, { page }: TableColumn) => {
    const assignment = page.assignments.find((a) => a.controlId === row.control.id);
    return editText(cellContext(world, preset), assignment, row.list);
  };
  /** @returns why it was refused, or `null`. */
  const take = (label: string, result: Pasted): string | null => {
    if ('error' in result) return result.error;
    if (result.changed > 0) change(label, result.preset);
    return null;
  };
  const cells = (range: TableState['range'], order?: FillOrder) =>
    cellsIn(preset, rows, columns, range, order);
  const grid = useCellGrid({
    of: preset.id,
    rowCount: rows.length,
    colCount: columns.length,
    // Where the cell in hand went, nothing is in hand: what is typed never goes into another one.
    at: focus,
    typed: TYPED,
    onMove: (to) => {
      holdsFocus.current = true;
      setFocus(to);
    },
    textAt: ({ row, col }) => textAt(nth(rows, row), nth(columns, col)),
    take: (spot, text) => {
      const [row, column] = [rows[spot.row], columns[spot.col]];
      // The row or the page may have gone while somebody typed, by undo or in another window.
      if (!row || !column || textAt(row, column) === text) return null;
      return take(`change ${row.control.name}`, typeCell(world, preset, row, column, text));
    },
    clear: (range) => take('clear cells', filledCells(preset, cells(range), { kind: 'clear' })),
    copied: (range) => {
      copied.current = copyRange(world, preset, rows, columns, range);
      return copied.current.text;
    },
    paste: (range, text) => {
      const own = copied.current;
      // What was copied here is pasted whole; the text says only a part of it.
      const isOwn = own && text.replace(/\r/g, '') === own.text;
      const result = isOwn
        ? pasteCopied(preset, own, rows, columns, range)
        : pasteText(world, preset, text, rows, columns, range);
      return take('paste cells', result) ?? range;
    },
  });
  const range = grid.range ?? rangeBetween(at, at);
  return {
    ...grid,
    focus: at,
    range,
    holdsFocus,
    suggestions: () => usedTexts(cellContext(world, preset), preset),
    cells: (order) => cells(range, order),
    press: (spot, isExtending) => {
      isDragging.current = true;
      grid.pick(spot.row, spot.col, isExtending);
    },
    drag: (spot) => {
      if (isDragging.current && (spot.row !== at.row || spot.col !== at.col))
        grid.pick(spot.row, spot.col, true);
    },
    lift: () => {
      isDragging.current = false;
    },
    focusOn: (spot) => {
      holdsFocus.current = true;
      if (spot.row !== at.row || spot.col !== at.col) setFocus(spot);
    },
    leave: () => {
      holdsFocus.current = false;
    },
  };
}
