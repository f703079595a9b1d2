import {
  messagesFor,
  PLAIN_DEVICE,
  valueBounds,
  type ChartTemplate,
  type Device,
  type Drive,
  type StandInKind,
} from '../gear';
import { feedStandIn, STAND_INS, startStandIn } from './standInState';
import { nth } from '../sure';

/** Drives whose message tells by itself where a function stands. */
const STATED: ReadonlySet<Drive['kind']> = new Set(['controller', 'record-ready']);

/**
 * The value that a stand-in's function has when the gear is switched on: the only one that, when told, changes nothing.
 * @returns 0–127 as sent, or 0 and 1 for a switch; `null` for what has no value (triggers, notes) or does not tell.
 */
export function restingValue(kind: StandInKind, row: ChartTemplate): number | null {
  if (row.shape.kind === 'trigger' || !STATED.has(row.drive.kind)) return null;
  const extra = STAND_INS[kind].extraChannel;
  const device: Device = {
    ...PLAIN_DEVICE,
    id: '',
    name: '',
    role: 'receiver',
    extraChannels: extra ? [{ name: extra.name, channel: extra.above }] : [],
    mark: { shape: 'cross', colour: 'coral' },
  };
  const fresh = startStandIn(kind);
  const before = JSON.stringify(fresh.state);
  const { min, max } = valueBounds(row.shape);
  const same: number[] = [];
  for (let value = min; value <= max; value++) {
    const after = messagesFor(device, { ...row, id: '' }, value).reduce(
      (state, message) => feedStandIn(state, message, device.channel, 0),
      fresh,
    );
    if (JSON.stringify(after.state) === before) same.push(value);
  }
  return same.length === 1 ? nth(same, 0) : null;
}
