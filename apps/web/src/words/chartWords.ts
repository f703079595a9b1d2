import { ChartFunctionSchema, fieldErrors } from '@idle-step/contract';
import type { ChartColumn, CellError } from '@idle-step/core/formats';
import {
  messagesFor,
  sentText,
  shownText,
  valueBounds,
  type ChartFunction,
  type Device,
} from '@idle-step/core/gear';
import { encode, hex } from '@idle-step/core/midi';
import { nth } from '@idle-step/core/sure';

export type FunctionDoc = Device['chart'][number];

/** Words for the rows of an implementation chart. */

/** What it takes, as people see it. Example: `1 Dry to 8 Lead`, `on 127, off 0`. */
export function rangeWords(device: Device, fn: ChartFunction): string {
  const { shape } = fn;
  switch (shape.kind) {
    case 'trigger':
      return fn.drive.kind === 'transport' ? 'sent once' : `sends ${shape.sent}`;
    case 'switch':
      return fn.drive.kind === 'record-ready' ? 'on, off' : `on ${shape.on}, off ${shape.off}`;
    case 'program':
      return shape.names.length === 0 ? '128 programs' : `${shape.names.length} named programs`;
    case 'sound':
      return shape.names.length === 0 ? 'programs of all banks' : `${shape.names.length} named sounds`;
    default: {
      const { min, max } = valueBounds(shape);
      return `${shownText(device, fn, min)} to ${shownText(device, fn, max)}`;
    }
  }
}

/** The exact bytes of an example: the highest value. */
export function exampleBytes(device: Device, fn: ChartFunction): string {
  return messagesFor(device, fn, valueBounds(fn.shape).max)
    .map((m) => hex(encode(m)))
    .join('  ');
}

/** A value as people see it with the sent one where it differs. Example: `3 Full (sent 2)`. */
export function valueWords(device: Device, fn: ChartFunction, value: number): string {
  const shown = shownText(device, fn, value);
  const sent = sentText(fn, value);
  return shown.split(' ')[0] === sent || fn.shape.kind === 'trigger' ? shown : `${shown} (sent ${sent})`;
}

/** Which column of the chart a field of a function stands in. */
const COLUMN_OF: Record<string, ChartColumn> = { drive: 'message', shape: 'values', extraChannel: 'channel' };

/** What the contract or the rest of the chart holds against a row; empty when it may stand. */
export function rowErrors(device: Device, fn: ChartFunction): CellError[] {
  const errors: CellError[] = [];
  if (device.chart.some((f) => f.id !== fn.id && f.name.toLowerCase() === fn.name.toLowerCase()))
    errors.push({ column: 'name', sentence: `${device.name} has a function called ${fn.name} already.` });
  const result = ChartFunctionSchema.safeParse(fn);
  if (!result.success)
    for (const { path, message } of fieldErrors(result.error)) {
      const field = nth(path.split('.'), 0);
      // The other fields of a function are called as their columns are.
      errors.push({ column: COLUMN_OF[field] ?? (field as ChartColumn), sentence: message });
    }
  if (fn.extraChannel !== null && !device.extraChannels.some((e) => e.name === fn.extraChannel)) {
    const names = device.extraChannels.map((e) => e.name);
    errors.push({
      column: 'channel',
      sentence: `${device.name} has no extra channel called ${fn.extraChannel}; 1 to 16${names.length > 0 ? `, or ${names.join(', ')},` : ''} would be right.`,
    });
  }
  if (fn.under !== null && !device.setting?.options.includes(fn.under))
    errors.push({
      column: 'under',
      sentence: device.setting
        ? `${device.setting.name} has no option ${fn.under}; ${device.setting.options.join(' or ')} would be right.`
        : `${device.name} has no setting that changes its chart; add it under Device.`,
    });
  return errors;
}
