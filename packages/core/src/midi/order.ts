import type { ChannelMessage, Message } from './message';

/**
 * Whether a message has to leave after one that was handed to the same port before it: where the two say something of the
 * same thing, the newest word is the last, and what belongs together comes in its order. Everything else may go first.
 *
 * Real-time messages may stand between any others, but not out of their own order. On one channel different controllers,
 * bend, pressure and notes do not touch each other; a program, and controllers that only mean something together or that
 * say something of the whole channel, touch everything there.
 * Source: MIDI 1.0 Detailed Specification, "System Real Time Messages", "Data Entry", "Channel Mode Messages" (from
 * memory); that a hold pedal touches notes: common practice, no source.
 */
export function mustFollow(later: Message, earlier: Message): boolean {
  if (ofTime(later) || ofTime(earlier)) return ofTime(later) && ofTime(earlier);
  if (!('channel' in later) || !('channel' in earlier)) return true;
  if (later.channel !== earlier.channel) return false;
  const [a, b] = [touched(later), touched(earlier)];
  return a === 'all' || b === 'all' || a === b;
}

/** What stands for the beat and the place in the song. */
const ofTime = ({ kind }: Message): boolean =>
  kind === 'clock' ||
  kind === 'start' ||
  kind === 'continue' ||
  kind === 'stop' ||
  kind === 'song-position' ||
  kind === 'active-sensing';

/** What of its channel a message says something of; a number for one controller, with its fine half. */
function touched(message: ChannelMessage): 'all' | 'notes' | 'bend' | number {
  switch (message.kind) {
    case 'controller':
      if (BOUND.has(message.controller) || message.controller >= 120) return 'all';
      return message.controller < 64 ? message.controller % 32 : message.controller;
    case 'program':
      return 'all';
    case 'pitch-bend':
      return 'bend';
    default:
      return 'notes';
  }
}

/** Controllers that mean nothing by themselves (banks, parameters and their data), and pedals that hold notes. */
const BOUND: ReadonlySet<number> = new Set([0, 32, 6, 38, 96, 97, 98, 99, 100, 101, 64, 66, 69]);
