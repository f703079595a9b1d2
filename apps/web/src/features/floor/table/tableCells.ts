import {
  type Bank,
  assignmentAt,
  actionCell,
  copiedTo,
  fillCells,
  fillOn,
  GESTURES,
  isPressed,
  readActionCell,
  readSweepCell,
  sweepCell,
  withAssignments,
  type Assignment,
  type Board,
  type TableCell,
  type CellContext,
  type CellMessage,
  type CellTextError,
  type Control,
  type Fill,
  type FillOn,
  type Gesture,
  type Preset,
  movedBy,
} from '@idle-step/core/floor';
import type { World } from '@idle-step/core/engine';
import { copiedText, pastedCells } from '@idle-step/core/formats';
import { shownText } from '@idle-step/core/gear';
import { actionWords } from '../../../actions/actionWords';
import { nth } from '@idle-step/core/sure';

/** One line of a preset's table: a control, and which of its lists. */
export type TableRow = { readonly control: Control; readonly list: TableCell['list'] };

/** One column: a bank, or a page of a group. */
export type TableColumn = { readonly page: Bank; readonly groupId: string | null; readonly title: string };

/** A rectangle of cells, both ends included. */
export type Range = {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
};

/** The order in which a fill counts. */
export type FillOrder = 'down' | 'across';

export const tableRows = (board: Board, shown: ReadonlySet<Gesture>): TableRow[] =>
  board.controls.flatMap((control): TableRow[] =>
    isPressed(control.kind)
      ? GESTURES.filter((g) => shown.has(g)).map((list) => ({ control, list }))
      : [{ control, list: 'sweeps' }],
  );

export const tableColumns = (preset: Preset): TableColumn[] => [
  ...preset.banks.map((page, i) => ({ page, groupId: null, title: `${i + 1} ${page.name}` })),
  ...preset.groups.flatMap((g) =>
    g.pages.map((page) => ({ page, groupId: g.id, title: `${g.name}: ${page.name}` })),
  ),
];

/** Gestures that a preset uses; the press always. */
export function gesturesUsed(preset: Preset): Set<Gesture> {
  const used = new Set<Gesture>(['press']);
  const pages = [...preset.banks, ...preset.groups.flatMap((g) => g.pages)];
  for (const a of pages.flatMap((p) => p.assignments))
    for (const g of GESTURES) if (a[g].length > 0) used.add(g);
  return used;
}

/** Whether a control is told in a column: in its group's pages, or in the banks. */
export const isHere = (preset: Preset, controlId: string, column: TableColumn): boolean =>
  (preset.groups.find((g) => g.controlIds.includes(controlId))?.id ?? null) === column.groupId;

export const cellAt = (row: TableRow, column: TableColumn): TableCell => ({
  pageId: column.page.id,
  controlId: row.control.id,
  list: row.list,
});

/** The cells of a range that can be filled, in the order in which a fill counts. */
export function cellsIn(
  preset: Preset,
  rows: readonly TableRow[],
  columns: readonly TableColumn[],
  range: Range,
  order: FillOrder = 'down',
): TableCell[] {
  const inRows = rows.slice(range.top, range.bottom + 1);
  const inColumns = columns.slice(range.left, range.right + 1);
  const pairs =
    order === 'down'
      ? inColumns.flatMap((column) => inRows.map((row) => ({ row, column })))
      : inRows.flatMap((row) => inColumns.map((column) => ({ row, column })));
  return pairs.flatMap(({ row, column }) =>
    isHere(preset, row.control.id, column) ? cellAt(row, column) : [],
  );
}

export const filledCells = (preset: Preset, cells: readonly TableCell[], fill: Fill | FillOn) =>
  fill.kind === 'on' ? fillOn(preset, cells, fill, newId) : fillCells(preset, cells, fill, newId);

const newId = () => crypto.randomUUID();

/** What stands in a cell, short. */
export function cellWords(world: World, assignment: Assignment | undefined, list: TableCell['list']): string {
  if (!assignment) return '';
  if (list === 'sweeps') {
    const [first, ...more] = assignment.sweeps;
    if (!first) return '';
    const found = world.functions.get(movedBy(first));
    if (!found) return 'gone';
    const { device, fn } = found;
    const range = `${shownText(device, fn, first.from)}–${shownText(device, fn, first.to)}`;
    return `${fn.name} ${range}${more.length > 0 ? ` +${more.length}` : ''}`;
  }
  const [first, ...more] = assignment[list];
  if (!first) return '';
  const { title, value } = actionWords(world, first);
  const words = first.kind === 'message' ? value : `${title} ${value}`.trim();
  return `${words}${more.length > 0 ? ` +${more.length}` : ''}`;
}

/** Where a new message goes when nothing says so: to the first receiver, on its channel. */
export const plainFallback = (world: World): CellMessage & { deviceId: string | null } => ({
  send: 'note',
  number: 36,
  value: 100,
  channel: null,
  deviceId:
    [...world.ways.values()].find(({ device, path }) => device.role === 'receiver' && path)?.device.id ??
    null,
});

/** What cells of a preset are read with, and written for. */
export const cellContext = (world: World, preset: Preset): CellContext => ({
  devices: world.show.rig.devices,
  middleC: world.show.rig.middleC,
  fallback: plainFallback(world),
  banks: preset.banks,
});

/** The text that a cell is edited as; empty where it can only be edited as a whole. */
export const editText = (
  context: CellContext,
  assignment: Assignment | undefined,
  list: TableCell['list'],
): string =>
  !assignment
    ? ''
    : list === 'sweeps'
      ? sweepCell(assignment.sweeps, context)
      : actionCell(assignment[list], context);

/** Texts offered at the most. */
const OFFERED = 60;

/** What is typed in cells of a preset so far, each once. */
export function usedTexts(context: CellContext, preset: Preset): readonly string[] {
  const pages = [...preset.banks, ...preset.groups.flatMap((g) => g.pages)];
  const texts = pages.flatMap((p) =>
    p.assignments.flatMap((a) => GESTURES.map((g) => editText(context, a, g))),
  );
  return [...new Set(texts.filter(Boolean))].slice(0, OFFERED);
}

/** What was copied: as text for elsewhere, and whole for pasting here. */
export type Copied = {
  readonly text: string;
  readonly lists: readonly (readonly Assignment[])[];
  readonly rows: readonly TableCell['list'][];
};

export function copyRange(
  world: World,
  preset: Preset,
  rows: readonly TableRow[],
  columns: readonly TableColumn[],
  range: Range,
): Copied {
  const context = cellContext(world, preset);
  const inRows = rows.slice(range.top, range.bottom + 1);
  const inColumns = columns.slice(range.left, range.right + 1);
  const lists = inRows.map((row) => inColumns.map((column) => assignmentAt(preset, cellAt(row, column))));
  const text = copiedText(
    inRows.map((row, r) =>
      nth(lists, r).map((a) => editText(context, a, row.list) || cellWords(world, a, row.list)),
    ),
  );
  return { text, lists, rows: inRows.map((r) => r.list) };
}

export type Pasted = { readonly preset: Preset; readonly changed: number } | { readonly error: string };

/** Puts what was copied here at a cell, as often as it fits into the range. */
export function pasteCopied(
  preset: Preset,
  copied: Copied,
  rows: readonly TableRow[],
  columns: readonly TableColumn[],
  range: Range,
): Pasted {
  const high = Math.max(range.bottom - range.top + 1, copied.lists.length);
  const wide = Math.max(range.right - range.left + 1, copied.lists[0]?.length ?? 0);
  let next: Preset = preset;
  let changed = 0;
  for (let r = 0; r < high; r++)
    for (let c = 0; c < wide; c++) {
      const row = rows[range.top + r];
      const column = columns[range.left + c];
      const from = nth(copied.lists, r % copied.lists.length);
      const source = nth(from, c % from.length);
      const list = nth(copied.rows, r % copied.rows.length);
      if (!row || !column || !isHere(preset, row.control.id, column)) continue;
      if ((list === 'sweeps') !== (row.list === 'sweeps')) continue;
      const cell = cellAt(row, column);
      const before = assignmentAt(next, cell);
      const fresh = copiedTo(source, row.control.id, () => crypto.randomUUID());
      const after = { ...before, [row.list]: fresh[list] };
      next = withAssignments(next, new Map([[cell.pageId, new Map([[cell.controlId, after]])]]));
      changed++;
    }
  return changed === 0
    ? { error: 'What was copied does not fit here: switches take actions, pedals take sweeps.' }
    : { preset: next, changed };
}

/** Puts cells of a spreadsheet in from a cell on. All or nothing. */
export function pasteText(
  world: World,
  preset: Preset,
  text: string,
  rows: readonly TableRow[],
  columns: readonly TableColumn[],
  range: Range,
): Pasted {
  const lines = pastedCells(text);
  if (!lines) return { error: 'What was copied is no table of cells.' };
  let next: Preset = preset;
  let changed = 0;
  for (const [r, line] of lines.entries())
    for (const [c, typed] of line.entries()) {
      const row = rows[range.top + r];
      const column = columns[range.left + c];
      if (!row || !column) return { error: tooLarge(lines.length, line.length) };
      const result = typeCell(world, next, row, column, typed);
      if ('error' in result) return { error: `Line ${r + 1}, cell ${c + 1}: ${result.error}` };
      next = result.preset;
      changed += result.changed;
    }
  return { preset: next, changed };
}

const tooLarge = (high: number, wide: number) =>
  `${high} by ${wide} cells do not fit from here on; begin further up or to the left.`;

/** Takes over what was typed into one cell. */
export function typeCell(
  world: World,
  preset: Preset,
  row: TableRow,
  column: TableColumn,
  text: string,
): Pasted {
  const cell = cellAt(row, column);
  const context = cellContext(world, preset);
  if (!isHere(preset, row.control.id, column))
    return text.trim() === ''
      ? { preset, changed: 0 }
      : { error: `${row.control.name} has pages of its own; it is told there.` };
  if (row.list === 'sweeps') {
    const read = readSweepCell(text, context);
    if (!read.ok) return { error: refusal(read.error) };
    const { value } = read;
    if (value === null) return filledCells(preset, [cell], { kind: 'clear' });
    return filledCells(
      preset,
      [cell],
      value.functionId === null ? { kind: 'plain-sweep', ...value } : { kind: 'sweep', ...value },
    );
  }
  const now = assignmentAt(preset, cell)[row.list][0];
  const read = readActionCell(text, now?.kind === 'message' ? { ...context, fallback: now } : context);
  if (!read.ok) return { error: refusal(read.error) };
  return filledCells(
    preset,
    [cell],
    read.value === null ? { kind: 'clear' } : { kind: 'action', action: read.value },
  );
}

const refusal = ({ received, expected }: CellTextError): string =>
  `“${received}” is no action; ${expected} would be right.`;
