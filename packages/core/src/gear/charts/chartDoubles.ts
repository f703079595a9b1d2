import type { ChartFunction, Drive } from './chartFunction';
import { functionChannel } from '../cabling/listening';
import { sentValue, valueBounds } from './functionMessages';
import type { Device } from '../rig';

/**
 * Rows of a chart that cannot be told apart: the same message on the same channel, with values that overlap, under
 * the same option of the device's setting. @returns for each such row the rows that it is mistaken for.
 * Example: two rows on CC 22, channel 3.
 */
export function chartDoubles(device: Device): ReadonlyMap<string, readonly ChartFunction[]> {
  const byMessage = new Map<string, ChartFunction[]>();
  for (const fn of device.chart) {
    const key = `${functionChannel(device, fn)} ${driveKey(fn.drive)}`;
    byMessage.set(key, [...(byMessage.get(key) ?? []), fn]);
  }
  const doubles = new Map<string, ChartFunction[]>();
  for (const rows of byMessage.values())
    for (const fn of rows) {
      const others = rows.filter((other) => other !== fn && holdTogether(fn, other) && overlap(fn, other));
      if (others.length > 0) doubles.set(fn.id, others);
    }
  return doubles;
}

/** A text that is the same for two drives exactly when the same message drives both, whatever its value. */
export function driveKey(drive: Drive): string {
  switch (drive.kind) {
    case 'controller':
    case 'controller-14':
      // The coarse half of a pair is an ordinary controller.
      return `controller ${drive.controller}`;
    case 'note':
      return `note ${drive.note}`;
    case 'program':
      return `program ${drive.bank ?? 'any'}`;
    case 'sound':
      return 'sound';
    case 'parameter':
      return `parameter ${String(drive.registered)} ${drive.parameter}`;
    case 'sysex':
      return `sysex ${drive.template.toUpperCase()}`;
    case 'transport':
      return `transport ${drive.command}`;
    case 'record-ready':
      return `record-ready ${drive.track}`;
    case 'pitch-bend':
    case 'channel-pressure':
      return drive.kind;
  }
}

const holdTogether = (a: ChartFunction, b: ChartFunction): boolean =>
  a.under === null || b.under === null || a.under === b.under;

/** Two triggers on one message with different values are told apart by them; a range next to one is not. */
function overlap(a: ChartFunction, b: ChartFunction): boolean {
  const sent = ({ shape }: ChartFunction): [number, number] => {
    if (shape.kind === 'trigger') return [shape.sent, shape.sent];
    if (shape.kind === 'switch') return [0, 127];
    const { min, max } = valueBounds(shape);
    return [sentValue(shape, min), sentValue(shape, max)];
  };
  const [aMin, aMax] = sent(a);
  const [bMin, bMax] = sent(b);
  return aMin <= bMax && bMin <= aMax;
}
