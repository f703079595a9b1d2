import {
  sentText,
  shownText,
  valueBounds,
  messagesFor,
  type ChartFunction,
  type Device,
} from '@idle-step/core/gear';
import { encode, hex, noteLabel, type MiddleC } from '@idle-step/core/midi';

/** Words for the rows of an implementation chart. */

export function driveWords(fn: ChartFunction, middleC: MiddleC): string {
  const { drive } = fn;
  switch (drive.kind) {
    case 'controller':
      return `CC ${drive.controller}`;
    case 'note':
      return `Note ${noteLabel(drive.note, middleC)}`;
    case 'program':
      return drive.bank === null ? 'Program change' : `Bank ${drive.bank >> 7}/${drive.bank & 127}, program`;
    case 'transport':
      return `Machine ${drive.command.replaceAll('-', ' ')}`;
    case 'record-ready':
      return `Machine, track ${drive.track} record-ready`;
  }
}

/** What it takes, as people see it. Example: `1 to 8`, `on 127, off 0`. */
export function rangeWords(device: Device, fn: ChartFunction): string {
  const { shape } = fn;
  switch (shape.kind) {
    case 'trigger':
      return fn.drive.kind === 'transport' ? 'sent once' : `sends ${shape.sent}`;
    case 'switch':
      return fn.drive.kind === 'record-ready' ? 'on, off' : `on ${shape.on}, off ${shape.off}`;
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
