import { type Device, kindsFor } from '@idle-step/core/gear';
import type { FunctionDoc } from '../../../words/chartWords';
import { cellsOf, type ChartColumn } from '@idle-step/core/formats';
import type { MiddleC } from '@idle-step/core/midi';

/** The columns in the order in which rows are pasted, with their widths in px. */
export const GRID_COLUMNS: readonly { column: ChartColumn; title: string; px: number; hint?: string }[] = [
  { column: 'name', title: 'Function', px: 150 },
  { column: 'group', title: 'Group', px: 92 },
  {
    column: 'message',
    title: 'Message',
    px: 116,
    hint: 'CC 22, CC 7+39, note 60, program 1/0, NRPN 2/17, bend, F0 … F7',
  },
  { column: 'kind', title: 'Kind', px: 76 },
  {
    column: 'channel',
    title: 'Channel',
    px: 76,
    hint: 'Empty: the device’s own. A number, or the name of an extra channel.',
  },
  {
    column: 'values',
    title: 'Values, as sent',
    px: 150,
    hint: '0-127, 0/127 for off and on, or 0=Dry; 1=Full',
  },
  {
    column: 'shownFrom',
    title: 'Shown from',
    px: 92,
    hint: 'What the device shows for the lowest value, or for both ends with their unit: -60 to 12 dB',
  },
  { column: 'powerOn', title: 'At power-on', px: 96, hint: 'As sent; on or off for a switch' },
  { column: 'settleMs', title: 'Settles, ms', px: 88, hint: 'How long the device is deaf after it' },
  {
    column: 'reserved',
    title: 'Kept',
    px: 56,
    hint: 'yes: the device keeps this message for its own hardware',
  },
  {
    column: 'under',
    title: 'Only under',
    px: 110,
    hint: 'The option of the device’s setting that brings this row',
  },
  { column: 'arms', title: 'Arms track', px: 92 },
  { column: 'remark', title: 'Remark', px: 180 },
  {
    column: 'request',
    title: 'Asked with',
    px: 150,
    hint: 'The bytes that ask the device for its value, like F0 7D 01 F7: an encoder goes on from the answer',
  },
  {
    column: 'input',
    title: 'Listens to',
    px: 92,
    hint: 'The input of the track that it arms: two armed tracks on one input are marked in the cue sheet',
  },
];

/** What a cell that is chosen and not typed can be; `null` for a cell of free text. */
export function cellOptions(
  device: Device,
  fn: FunctionDoc | undefined,
  column: ChartColumn,
): readonly string[] | null {
  if (column === 'kind') return fn ? kindsFor(fn.drive) : null;
  if (column === 'reserved') return ['', 'yes'];
  return column === 'under' && device.setting ? ['', ...device.setting.options] : null;
}

/** Columns in which the same is often written again. */
const REPEATED: ReadonlySet<ChartColumn> = new Set([
  'group',
  'channel',
  'values',
  'shownFrom',
  'powerOn',
  'settleMs',
  'arms',
  'input',
]);
/** Values offered at the most. */
const OFFERED = 50;

/** What stands in a column already, offered while one types into it; empty where rows are each their own. */
export function cellSuggestions(device: Device, column: ChartColumn, middleC: MiddleC): readonly string[] {
  if (!REPEATED.has(column)) return [];
  return [...new Set(device.chart.map((fn) => cellsOf(fn, middleC)[column]).filter(Boolean))].slice(
    0,
    OFFERED,
  );
}
