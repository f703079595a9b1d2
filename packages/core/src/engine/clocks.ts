import { realTime } from '../midi';
import type { Action } from '../floor';
import type { Turn } from './turn';

/** Clocks to a quarter note. Source: MIDI 1.0 Detailed Specification, "Timing Clock" (from memory). */
const CLOCKS_A_BEAT = 24;
/** Time for a receiver to get ready between a start and its first clock, in ms. Source: the same (from memory). */
const AFTER_START_MS = 1;

/** Starts, continues or stops MIDI clock on a port. */
export function turnClock(turn: Turn, { portId, to }: Action & { kind: 'clock' }): void {
  if (turn.world.portsOff.has(portId)) {
    turn.note({ code: 'port-off', portId, functionId: null });
    return;
  }
  turn.send(portId, realTime(to), null);
  const { [portId]: _running, ...others } = turn.state.clocks;
  turn.state.clocks = to === 'stop' ? others : { ...others, [portId]: turn.nowMs + AFTER_START_MS };
}

/** Sends the clocks that are due. A host that slept longer than a beat goes on from now instead of catching up. */
export function sendClocks(turn: Turn): void {
  const tickMs = 60_000 / turn.state.tempo.bpm / CLOCKS_A_BEAT;
  for (const [portId, dueMs] of Object.entries(turn.state.clocks)) {
    let nextMs = turn.nowMs - dueMs > tickMs * CLOCKS_A_BEAT ? turn.nowMs : dueMs;
    for (; nextMs <= turn.nowMs; nextMs += tickMs) turn.send(portId, realTime('clock'), null);
    if (nextMs !== dueMs) turn.state.clocks = { ...turn.state.clocks, [portId]: nextMs };
  }
}
