import {
  type Device,
  kindsFor,
  nextFree,
  numbersOfDevice,
  partChannels,
  PLAIN_FUNCTION,
  type ChartTemplate,
  type FunctionKind,
  type FunctionShape,
} from '@idle-step/core/gear';
import { cutText } from '@idle-step/core/typed';

import {
  cellsOf,
  CHART_COLUMNS,
  CHART_ROWS,
  copiedText,
  parseDrive,
  readPastedRows,
  withCell,
  type CellError,
  type ChartColumn,
  type FileFault,
} from '@idle-step/core/formats';
import { controllerName, type MiddleC } from '@idle-step/core/midi';
import { rowErrors, type FunctionDoc } from '../words/chartWords';
import { nth } from '@idle-step/core/sure';

/** Edits of a chart: pure, each gives the new rows or the reason why not. */

type Chart = Device['chart'];
export type ChartEdit =
  { readonly chart: Chart; readonly errors?: undefined } | { readonly errors: CellError[] };

const newId = () => crypto.randomUUID();

/** A cell typed anew. */
export function typeCell(
  device: Device,
  fn: FunctionDoc,
  column: ChartColumn,
  text: string,
  middleC: MiddleC,
): ChartEdit {
  const typed = withCell(fn, column, text, middleC);
  if (!typed.ok) return { errors: typed.error };
  const errors = rowErrors(device, typed.value);
  if (errors.length > 0) return { errors };
  return { chart: device.chart.map((f) => (f.id === fn.id ? typed.value : f)) };
}

/** A new row from its first cell: a name, or a message, which then gives it its name. */
export function startRow(device: Device, column: ChartColumn, text: string, middleC: MiddleC): ChartEdit {
  if (text.trim() === '') return { chart: device.chart };
  if (column !== 'name' && column !== 'message')
    return { errors: [{ column, sentence: 'A new row begins with its name or its message.' }] };
  const drive = column === 'message' ? parseDrive(text, middleC) : null;
  if (drive && !drive.ok) return { errors: [{ column, sentence: drive.error }] };
  const fn = newRow(device, drive?.ok ? drive.value : undefined);
  const named = { ...fn, name: column === 'name' ? text.trim() : fn.name };
  const errors = rowErrors(device, named);
  return errors.length > 0 ? { errors } : { chart: [...device.chart, named] };
}

/** A row on a message, by default the next free controller, with a name that is not taken. */
export function newRow(device: Device, drive?: FunctionDoc['drive']): FunctionDoc {
  const controller = nextFree(numbersOfDevice(device)) ?? 20;
  const driven = drive ?? { kind: 'controller' as const, controller };
  const wanted =
    driven.kind === 'controller'
      ? (controllerName(driven.controller) ?? `Controller ${driven.controller}`)
      : 'Function';
  return {
    ...PLAIN_FUNCTION,
    id: newId(),
    name: freeRowName(device.chart, wanted),
    drive: driven,
    shape: freshShape(nth(kindsFor(driven), 0)),
  };
}

function freshShape(kind: FunctionKind): FunctionDoc['shape'] {
  const fresh: Record<FunctionKind, FunctionShape> = {
    trigger: { kind: 'trigger', sent: 127 },
    switch: { kind: 'switch', off: 0, on: 127 },
    range: { kind: 'range', min: 0, max: 127, shownFrom: 0 },
    choice: { kind: 'choice', first: 0, shownFrom: 1, labels: ['1', '2', '3', '4'] },
    program: { kind: 'program', names: [] },
    sound: { kind: 'sound', names: [] },
  };
  return fresh[kind];
}

export function freeRowName(chart: Chart, wanted: string): string {
  const taken = new Set(chart.map((f) => f.name.toLowerCase()));
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted} (${n})`;
    if (!taken.has(name.toLowerCase())) return name;
  }
}

/** Copies of rows, each behind its original. */
export function duplicateRows(chart: Chart, ids: ReadonlySet<string>): Chart {
  const next: FunctionDoc[] = [];
  for (const fn of chart) {
    next.push(fn);
    if (ids.has(fn.id))
      next.push({ ...fn, id: newId(), name: freeRowName([...chart, ...next], `${fn.name} copy`) });
  }
  return next;
}

/** One copy of each row for every part of the device, on the part's channel, named after it. */
export function spreadOverParts(device: Device, ids: ReadonlySet<string>): Chart {
  const channels = partChannels(device);
  return device.chart.flatMap((fn) =>
    ids.has(fn.id)
      ? channels.map((channel, i) => ({
          ...fn,
          id: i === 0 ? fn.id : newId(),
          name: cutText(`${fn.name} ${i + 1}`, 80),
          channel,
        }))
      : [fn],
  );
}

/** What was copied from a spreadsheet, over the rows from a cell on or as new ones. All or nothing. */
export function pasteRows(
  device: Device,
  text: string,
  columns: readonly ChartColumn[],
  over: readonly FunctionDoc[],
  middleC: MiddleC,
): { readonly chart: Chart; readonly count: number } | { readonly faults: readonly FileFault[] } {
  const pasted = readPastedRows(text, middleC, columns, over);
  if (!pasted.ok) return { faults: pasted.error };
  const replaced = new Map(pasted.value.over.map((row, i) => [nth(over, i).id, row]));
  const chart = device.chart.map((f) => ({ ...f, ...replaced.get(f.id) }));
  return addRows({ ...device, chart }, pasted.value.added, replaced.size);
}

/** New rows at the end, unless one of them breaks a rule of the chart. */
export function addRows(
  device: Device,
  rows: readonly ChartTemplate[],
  replaced = 0,
): { readonly chart: Chart; readonly count: number } | { readonly faults: readonly FileFault[] } {
  // Rows are held against each other, which takes long where they are too many anyway.
  if (device.chart.length + rows.length > CHART_ROWS)
    return {
      faults: [
        {
          line: null,
          sentence: `${device.name} has ${device.chart.length} rows and these are ${rows.length} more; a chart holds ${CHART_ROWS}.`,
        },
      ],
    };
  const added = rows.map((row) => ({ ...row, id: newId() }));
  const next = { ...device, chart: [...device.chart, ...added] };
  const faults = next.chart.flatMap((fn, i) =>
    rowErrors(next, fn).map(({ sentence }) => ({
      line: i < device.chart.length ? null : i - device.chart.length + 1,
      sentence,
    })),
  );
  return faults.length > 0
    ? { faults: faults.slice(0, 10) }
    : { chart: next.chart, count: rows.length + replaced };
}

/** Rows as a spreadsheet takes them, without a header. */
export const copiedRows = (rows: readonly FunctionDoc[], middleC: MiddleC): string =>
  copiedText(
    rows.map((fn) => {
      const cells = cellsOf(fn, middleC);
      return CHART_COLUMNS.map((c) => cells[c]);
    }),
  );
