import type { ChartFunction, Drive } from '../../gear';
import type { Heard } from './learn';
import { learn, type Candidate } from './learn';

/** A thing of a device that was moved, as a row of its chart. */
export type HeardRow = {
  readonly drive: Drive;
  readonly shape: ChartFunction['shape'];
  /** 0–15. */
  readonly channel: number;
  /** Messages that it came from. */
  readonly count: number;
};

/**
 * What was moved last, as a row: a note or a program as such, a controller that says two values at the most as a switch
 * with these, anything else as a range. `null` where nothing was moved that a row can have.
 * @param portId where the device is heard; `null` takes what comes anywhere.
 */
export function rowHeard(heard: readonly Heard[], portId: string | null): HeardRow | null {
  const own = heard.filter((h) => 'portId' in h && (portId === null || h.portId === portId));
  const all = [...learn(own, 'knob'), ...learn(own, 'footswitch')];
  const last = [...all].sort((a, b) => b.lastMs - a.lastMs || b.count - a.count)[0];
  const drive = last && driveOf(last);
  return last && drive
    ? { drive, shape: shapeOf(own, last), channel: last.channel, count: last.count }
    : null;
}

function driveOf({ sends: { kind, number } }: Candidate): Drive | null {
  switch (kind) {
    case 'controller':
    case 'controller-14':
      return { kind, controller: number };
    case 'note':
      return { kind, note: number };
    case 'program':
      return { kind, bank: null };
    case 'rpn':
    case 'nrpn':
      return { kind: 'parameter', registered: kind === 'rpn', parameter: number, bits: 14 };
    case 'pitch-bend':
    case 'channel-pressure':
      return { kind };
    case 'key':
      return null;
  }
}

function shapeOf(heard: readonly Heard[], { sends, channel }: Candidate): ChartFunction['shape'] {
  if (sends.kind === 'note') return { kind: 'trigger', sent: 127 };
  if (sends.kind === 'program') return { kind: 'program', names: [] };
  if (sends.kind !== 'controller') {
    const max = sends.kind === 'channel-pressure' ? 127 : 16383;
    return { kind: 'range', min: 0, max, shownFrom: 0 };
  }
  const values = new Set(
    heard.flatMap((h) =>
      'message' in h &&
      h.message.kind === 'controller' &&
      h.message.channel === channel &&
      h.message.controller === sends.number
        ? h.message.value
        : [],
    ),
  );
  if (values.size > 2 || values.size === 0) return { kind: 'range', min: 0, max: 127, shownFrom: 0 };
  const [low, high] = [Math.min(...values), Math.max(...values)];
  // Of one that was pressed once only what it sends then is known: off is the other end.
  return { kind: 'switch', off: low === high ? (high >= 64 ? 0 : 127) : low, on: high };
}
