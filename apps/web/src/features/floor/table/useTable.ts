import type { Preset, TableCell } from '@idle-step/core/floor';
import type { World } from '@idle-step/core/engine';
import { useRef, useState, type ClipboardEvent, type KeyboardEvent, type RefObject } from 'react';
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
  type Range,
  type TableColumn,
  type TableRow,
} from './tableCells';
import {
  gridDeed,
  isBareKey,
  LEAVE_STEPS,
  onTypingKey,
  rangeBetween,
  tabTo,
  type Leave,
} from '../../../ui/gridKeys';

export type Spot = { readonly row: number; readonly col: number };
export type TypedCell = Spot & { readonly text: string; readonly isWhole: boolean };

export type TableState = {
  readonly focus: Spot;
  readonly range: Range;
  readonly editing: TypedCell | null;
  /** What is wrong with the last thing typed or pasted. */
  readonly error: string | null;
  readonly holdsFocus: RefObject<boolean>;
  cells(order?: FillOrder): TableCell[];
  press(at: Spot, isExtending: boolean): void;
  drag(at: Spot): void;
  lift(): void;
  focusOn(at: Spot): void;
  /** The focus goes elsewhere; the table no longer draws it to itself. */
  leave(): void;
  startEdit(at: Spot, text: string | null): void;
  type(text: string): void;
  commit(go: Leave): void;
  onEditKey(event: KeyboardEvent): void;
  onKey(event: KeyboardEvent, at: Spot): void;
  onCopy(event: ClipboardEvent): void;
  onPaste(event: ClipboardEvent): void;
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
  const [focus, setFocus] = useState<Spot>(() => ({
    row: 0,
    // A control with pages of its own is told there: the first cell is one that can be filled.
    col: Math.max(
      0,
      columns.findIndex((c) => rows[0] && isHere(preset, rows[0].control.id, c)),
    ),
  }));
  const [anchor, setAnchor] = useState<Spot | null>(null);
  const [editing, setEditingState] = useState<TypedCell | null>(null);
  const [error, setError] = useState<string | null>(null);
  const open = useRef<TypedCell | null>(null);
  const copied = useRef<Copied | null>(null);
  const isDragging = useRef(false);
  const holdsFocus = useRef(false);
  const setEditing = (next: TypedCell | null) => {
    open.current = next;
    setEditingState(next);
  };
  const inside = ({ row, col }: Spot): Spot => ({
    row: Math.min(rows.length - 1, Math.max(0, row)),
    col: Math.min(columns.length - 1, Math.max(0, col)),
  });
  const at = inside(focus);
  const from = anchor ? inside(anchor) : at;
  const range: Range = rangeBetween(from, at);
  const moveTo = (spot: Spot, isExtending: boolean) => {
    setAnchor(isExtending ? from : null);
    holdsFocus.current = true;
    setFocus(inside(spot));
  };
  const take = (label: string, result: Pasted): boolean => {
    if ('error' in result) {
      setError(result.error);
      return false;
    }
    setError(null);
    if (result.changed > 0) change(label, result.preset);
    return true;
  };
  const startEdit = (spot: Spot, text: string | null) => {
    const row = rows[spot.row]!;
    const column = columns[spot.col]!;
    const assignment = column.page.assignments.find((a) => a.controlId === row.control.id);
    setFocus(spot);
    setAnchor(null);
    setEditing({
      ...spot,
      text: text ?? editText(cellContext(world, preset), assignment, row.list),
      isWhole: text === null,
    });
  };
  const commit = (go: Leave) => {
    const typed = open.current;
    if (!typed) return;
    const row = rows[typed.row]!;
    const column = columns[typed.col]!;
    const assignment = column.page.assignments.find((a) => a.controlId === row.control.id);
    const isSame = editText(cellContext(world, preset), assignment, row.list) === typed.text;
    if (!isSame && !take(`change ${row.control.name}`, typeCell(world, preset, row, column, typed.text)))
      return;
    setEditing(null);
    const [down, across] = LEAVE_STEPS[go];
    if (go !== 'stay') moveTo({ row: typed.row + down, col: typed.col + across }, false);
  };
  return {
    focus: at,
    range,
    editing,
    error,
    holdsFocus,
    suggestions: () => usedTexts(cellContext(world, preset), preset),
    cells: (order) => cellsIn(preset, rows, columns, range, order),
    press: (spot, isExtending) => {
      isDragging.current = true;
      setError(null);
      moveTo(spot, isExtending);
    },
    drag: (spot) => {
      if (isDragging.current && (spot.row !== at.row || spot.col !== at.col)) moveTo(spot, true);
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
    startEdit,
    type: (text) => open.current && setEditing({ ...open.current, text }),
    commit,
    onEditKey: (event) =>
      onTypingKey(event, commit, () => {
        holdsFocus.current = true;
        setError(null);
        setEditing(null);
      }),
    onKey: (event, spot) => {
      const deed = gridDeed(event, columns.length, TYPED);
      const next =
        event.key === 'Tab' && isBareKey(event)
          ? tabTo(spot, event.shiftKey, rows.length, columns.length)
          : null;
      const isLetGo = event.key === 'Escape' && anchor !== null;
      if (next) moveTo(next, false);
      if (isLetGo) setAnchor(null);
      if (deed || next || isLetGo) event.preventDefault();
      if (!deed) return;
      switch (deed.kind) {
        case 'move':
          moveTo({ row: spot.row + deed.by[0], col: spot.col + deed.by[1] }, deed.isExtending);
          return;
        case 'open':
          startEdit(spot, deed.text);
          return;
        case 'clear':
        case 'take-out':
          take('clear cells', filledCells(preset, cellsIn(preset, rows, columns, range), { kind: 'clear' }));
          return;
        case 'all':
          setAnchor({ row: 0, col: 0 });
          setFocus({ row: rows.length - 1, col: columns.length - 1 });
      }
    },
    onCopy: (event) => {
      if (editing) return;
      event.preventDefault();
      copied.current = copyRange(world, preset, rows, columns, range);
      event.clipboardData.setData('text/plain', copied.current.text);
    },
    onPaste: (event) => {
      if (editing) return;
      event.preventDefault();
      const text = event.clipboardData.getData('text/plain');
      const own = copied.current;
      // What was copied here is pasted whole; the text says only a part of it.
      take(
        'paste cells',
        own && text.replace(/\r/g, '') === own.text
          ? pasteCopied(preset, own, rows, columns, range)
          : pasteText(world, preset, text, rows, columns, range),
      );
    },
  };
}
