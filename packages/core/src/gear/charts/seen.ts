import { describeKind, type Message } from '../../midi';
import { readFunction } from './functionMessages';
import type { ChartFunction } from './chartFunction';
import { isInForce } from '../cabling/listening';
import type { Device, Rig } from '../rig';

/** What one thing that was pressed or turned has sent so far. Channels 0–15; values 0–127, for bend 0–16383. */
export type Seen = {
  readonly portId: string;
  readonly kind: Message['kind'];
  readonly channel: number | null;
  /** Controller, note or program number; `null` for kinds without one. */
  readonly number: number | null;
  readonly lowest: number;
  readonly highest: number;
  readonly last: Message;
  readonly count: number;
};

/** Messages that come by themselves and say nothing about what was touched. */
const UNTOUCHED: ReadonlySet<Message['kind']> = new Set(['clock', 'active-sensing', 'quarter-frame']);

/**
 * Takes one message into the list of what was seen, the last touched first. Note-on and note-off of a key count as one
 * thing. The list comes back as it was when the message says nothing about what was touched.
 */
export function look(seen: readonly Seen[], portId: string, message: Message): readonly Seen[] {
  if (UNTOUCHED.has(message.kind)) return seen;
  const { kind, number, value } = describeKind(message);
  const channel = 'channel' in message ? message.channel : null;
  const same = (s: Seen) =>
    s.portId === portId && s.kind === kind && s.channel === channel && s.number === number;
  const before = seen.find(same);
  const now: Seen = {
    portId,
    kind,
    channel,
    number,
    lowest: Math.min(before?.lowest ?? value, value),
    highest: Math.max(before?.highest ?? value, value),
    last: message,
    count: (before?.count ?? 0) + 1,
  };
  return [now, ...seen.filter((s) => !same(s))];
}

/** The functions of a rig that a message would move, if it got there: whatever the cables. */
export const whoAnswers = (
  rig: Rig,
  message: Message,
): { device: Device; fn: ChartFunction; value: number }[] =>
  rig.devices.flatMap((device) =>
    device.chart.flatMap((fn) => {
      const value = isInForce(device, fn) ? readFunction(device, fn, message) : null;
      return value === null ? [] : [{ device, fn, value }];
    }),
  );
