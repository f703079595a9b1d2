import type { FullRig } from '@idle-step/core/routing';
import { type Device, sentValue, valueBounds, type FunctionKind } from '@idle-step/core/gear';
import { cellsOf, type CellError, type ChartColumn, type FileFault } from '@idle-step/core/formats';
import { useMemo, useRef, useState, type ClipboardEvent, type KeyboardEvent, type RefObject } from 'react';
import { cellOptions, cellSuggestions, GRID_COLUMNS } from './gridColumns';
import { copiedRows, pasteRows, startRow, typeCell } from '../../../edits/chartEdits';
import { exampleBytes, type FunctionDoc } from '../../../words/chartWords';
import { gridDeed, isBareKey, LEAVE_STEPS, onTypingKey, tabTo, type Leave } from '../../../ui/grid/gridKeys';
import { nth } from '@idle-step/core/sure';

/** Stands for the empty row at the end, where a new function is begun. */
export const NEW_ROW = 'new';

type CellFault = CellError & { readonly typed: string };
type Editing = {
  readonly id: string;
  readonly column: ChartColumn;
  readonly text: string;
  /** The whole text is marked, as when Enter opens the cell. */
  readonly isWhole: boolean;
};

export type ChartFilter = {
  readonly search: string;
  readonly group: string;
  readonly kind: FunctionKind | '';
};
export const NO_FILTER: ChartFilter = { search: '', group: '', kind: '' };

export type ChartGridState = {
  readonly columns: typeof GRID_COLUMNS;
  readonly rows: readonly FunctionDoc[];
  readonly focus: { readonly row: number; readonly col: number };
  readonly editing: Editing | null;
  readonly sort: { readonly column: ChartColumn; readonly isDown: boolean } | null;
  readonly holdsFocus: RefObject<boolean>;
  /** Rows in hand: from the one where the range began to the one in focus. */
  readonly selected: readonly FunctionDoc[];
  sortBy(column: ChartColumn): void;
  focusOn(row: number, col: number): void;
  /** The focus goes elsewhere; the grid no longer draws it to itself. */
  leave(): void;
  /** The mouse goes down in a row; with Shift the range goes on to it. */
  press(row: number, isExtending: boolean): void;
  isInRange(row: number): boolean;
  startEdit(row: number, col: number, text: string | null): void;
  /** Goes to a row by its function, also to one that is only about to stand there. */
  goTo(functionId: string): void;
  type(text: string): void;
  commit(go: Leave): void;
  onKey(event: KeyboardEvent, row: number, col: number): void;
  onEditKey(event: KeyboardEvent): void;
  onPaste(event: ClipboardEvent): void;
  onCopy(event: ClipboardEvent): void;
  errorAt(id: string, column: ChartColumn): CellFault | null;
  bytesOf(fn: FunctionDoc): string;
  /** What stands in a column already, to be chosen while one types. */
  suggestions(column: ChartColumn): readonly string[];
};

type Wanted = {
  rig: FullRig;
  device: Device;
  filter: ChartFilter;
  setChart(label: string, chart: Device['chart']): void;
  onPasted(result: { count: number } | { faults: readonly FileFault[] }): void;
  onDelete(rows: readonly FunctionDoc[]): void;
};

/** What the chart's table needs to know and do: focus, range, typing, sorting, copy and paste. */
export function useChartGrid({ rig, device, filter, setChart, onPasted, onDelete }: Wanted): ChartGridState {
  const [sort, setSort] = useState<ChartGridState['sort']>(null);
  const columns = useMemo(
    () => GRID_COLUMNS.filter((c) => c.column !== 'under' || device.setting !== null),
    [device.setting],
  );
  const rows = useMemo(
    () =>
      sorted(
        device.chart.filter((fn) => passes(filter, fn, rig)),
        sort,
        rig,
      ),
    [device.chart, filter, sort, rig],
  );
  const { focus, anchor, setFocus, setAnchor, setAwaited, holdsFocus, moveTo, selected } = useRows(
    rows,
    columns.length,
  );
  const idAt = (row: number) => rows[row]?.id ?? NEW_ROW;

  const cells = useCellTyping({ rig, device, setChart });
  const { editing } = cells;
  const startEdit = (row: number, col: number, text: string | null) => {
    setFocus({ row, col });
    cells.start(idAt(row), rows[row], nth(columns, col).column, text);
  };
  const commit = (go: Leave) => {
    if (!cells.commit() || go === 'stay') return;
    const [down, across] = LEAVE_STEPS[go];
    moveTo(focus.row + down, focus.col + across);
  };

  const doDeed = (deed: ReturnType<typeof gridDeed>, event: KeyboardEvent, row: number, col: number) => {
    // The row at the end, where a new function is begun, is a row like the others.
    const next =
      event.key === 'Tab' && isBareKey(event)
        ? tabTo({ row, col }, event.shiftKey, rows.length + 1, columns.length)
        : null;
    const isLetGo = event.key === 'Escape' && anchor !== null;
    if (next) moveTo(next.row, next.col);
    if (isLetGo) setAnchor(null);
    if (deed || next || isLetGo) event.preventDefault();
    if (!deed) return;
    switch (deed.kind) {
      case 'move':
        // Whole rows are in hand: to the side nothing is added.
        moveTo(row + deed.by[0], col + deed.by[1], deed.isExtending && deed.by[0] !== 0);
        return;
      case 'open':
        startEdit(row, col, deed.text);
        return;
      case 'clear':
        startEdit(row, col, '');
        return;
      case 'take-out':
        onDelete(selected());
        moveTo(Math.min(row, anchor ?? row), col);
        return;
      case 'all':
        moveTo(rows.length - 1, col);
        setAnchor(0);
    }
  };

  return {
    columns,
    suggestions: (column) => cellSuggestions(device, column, rig.middleC),
    rows,
    focus,
    editing,
    sort,
    holdsFocus,
    selected: selected(),
    sortBy: (column) =>
      setSort(
        sort?.column !== column ? { column, isDown: false } : sort.isDown ? null : { column, isDown: true },
      ),
    leave: () => {
      holdsFocus.current = false;
    },
    focusOn: (row, col) => {
      holdsFocus.current = true;
      if (focus.row !== row || focus.col !== col) setFocus({ row, col });
    },
    press: (row, isExtending) => setAnchor(isExtending && focus.row !== row ? (anchor ?? focus.row) : null),
    isInRange: (row) =>
      anchor !== null && row >= Math.min(anchor, focus.row) && row <= Math.max(anchor, focus.row),
    startEdit,
    goTo: (functionId) => {
      holdsFocus.current = true;
      setAwaited(functionId);
    },
    type: cells.type,
    commit,
    onKey: (event, row, col) => doDeed(gridDeed(event, columns.length), event, row, col),
    onEditKey: (event) =>
      onTypingKey(event, commit, () => {
        holdsFocus.current = true;
        cells.leave();
      }),
    onPaste: (event) => {
      if (editing) return;
      event.preventDefault();
      const text = event.clipboardData.getData('text/plain');
      const into = columns.slice(focus.col).map((c) => c.column);
      const result = pasteRows(device, text, into, rows.slice(focus.row), rig.middleC);
      if ('chart' in result) setChart('paste rows', result.chart);
      onPasted(result);
    },
    onCopy: (event) => {
      if (editing) return;
      event.preventDefault();
      event.clipboardData.setData('text/plain', copiedRows(selected(), rig.middleC));
    },
    errorAt: cells.errorAt,
    bytesOf: (fn) => exampleBytes(device, fn),
  };
}

/** The row and the cell in focus, and the rows in hand with it. */
function useRows(rows: readonly FunctionDoc[], columnCount: number) {
  const [focus, setFocus] = useState({ row: 0, col: 0 });
  const [anchor, setAnchor] = useState<number | null>(null);
  const holdsFocus = useRef(false);
  /** A row that was just added: it is gone to as soon as it stands there. */
  const [awaited, setAwaited] = useState<string | null>(null);
  const awaitedRow = awaited === null ? -1 : rows.findIndex((fn) => fn.id === awaited);
  if (awaitedRow >= 0) {
    setAwaited(null);
    setAnchor(null);
    setFocus({ row: awaitedRow, col: 0 });
  }
  const moveTo = (row: number, col: number, isExtending = false) => {
    setAnchor(isExtending ? (anchor ?? focus.row) : null);
    holdsFocus.current = true;
    setFocus({
      row: Math.min(rows.length, Math.max(0, row)),
      col: Math.min(columnCount - 1, Math.max(0, col)),
    });
  };
  const selected = (): readonly FunctionDoc[] => {
    const from = Math.min(anchor ?? focus.row, focus.row);
    return rows.slice(from, Math.max(anchor ?? focus.row, focus.row) + 1);
  };
  return { focus, anchor, setFocus, setAnchor, setAwaited, holdsFocus, moveTo, selected };
}

/** What is typed into a cell: begun, taken over or refused with a sentence, and left. */
function useCellTyping({ rig, device, setChart }: Pick<Wanted, 'rig' | 'device' | 'setChart'>) {
  const [editing, setEditingState] = useState<Editing | null>(null);
  /** The same at once: leaving a cell can be told twice, and is carried out once. */
  const open = useRef<Editing | null>(null);
  const setEditing = (next: Editing | null) => {
    open.current = next;
    setEditingState(next);
  };
  const [faults, setFaults] = useState<ReadonlyMap<string, CellFault>>(new Map());
  const keyOf = (id: string, column: ChartColumn) => `${id}/${column}`;

  const start = (id: string, fn: FunctionDoc | undefined, column: ChartColumn, text: string | null) => {
    const written = faults.get(keyOf(id, column))?.typed ?? (fn ? cellsOf(fn, rig.middleC)[column] : '');
    // A letter chooses what begins with it; one that begins nothing leaves the cell as it is.
    const options = cellOptions(device, fn, column);
    const chosen =
      options && text ? (options.find((o) => o !== '' && o.startsWith(text.toLowerCase())) ?? written) : text;
    setEditing({ id, column, text: chosen ?? written, isWhole: text === null });
  };

  /** @returns whether a cell was open. */
  const commit = (): boolean => {
    const typed = open.current;
    if (!typed) return false;
    const { id, column, text } = typed;
    const fn = device.chart.find((f) => f.id === id);
    const key = keyOf(id, column);
    const isSame = fn !== undefined && cellsOf(fn, rig.middleC)[column] === text;
    const result = isSame
      ? { chart: device.chart }
      : fn
        ? typeCell(device, fn, column, text, rig.middleC)
        : startRow(device, column, text, rig.middleC);
    const next = new Map(faults);
    next.delete(key);
    if (result.errors) {
      const own = result.errors.find((e) => e.column === column) ?? nth(result.errors, 0);
      next.set(key, { column, sentence: own.sentence, typed: text });
    } else if (result.chart !== device.chart)
      setChart(fn ? `change ${fn.name}` : 'add a function', result.chart);
    setFaults(next);
    setEditing(null);
    return true;
  };

  return {
    editing,
    start,
    commit,
    type: (text: string): void => {
      if (open.current) setEditing({ ...open.current, text });
    },
    leave: () => {
      // What was refused and is left is no longer held against the cell.
      const left = open.current;
      if (left)
        setFaults((before) => new Map([...before].filter(([k]) => k !== keyOf(left.id, left.column))));
      setEditing(null);
    },
    errorAt: (id: string, column: ChartColumn) => faults.get(keyOf(id, column)) ?? null,
  };
}

function passes({ search, group, kind }: ChartFilter, fn: FunctionDoc, rig: FullRig): boolean {
  if (group !== '' && fn.group !== group) return false;
  if (kind !== '' && fn.shape.kind !== kind) return false;
  const wanted = search.trim().toLowerCase();
  if (wanted === '') return true;
  return Object.values(cellsOf(fn, rig.middleC)).some((text) => text.toLowerCase().includes(wanted));
}

/** By number where a column is numbers, else by words; rows that are equal keep their order. */
function sorted(
  rows: readonly FunctionDoc[],
  sort: ChartGridState['sort'],
  rig: FullRig,
): readonly FunctionDoc[] {
  if (!sort) return rows;
  const words = new Intl.Collator('en', { numeric: true });
  const sign = sort.isDown ? -1 : 1;
  const valueOf = (fn: FunctionDoc) =>
    sort.column === 'values'
      ? String(sentValue(fn.shape, valueBounds(fn.shape).max))
      : cellsOf(fn, rig.middleC)[sort.column];
  return [...rows].sort((a, b) => sign * words.compare(valueOf(a), valueOf(b)));
}
