import { realTime } from '../midi';
import type { Action } from '../floor';
import { clockDueMs, CLOCKS_A_BEAT } from './clockTimes';
import { send, type Turn } from './turn';

/** Time for a receiver to get ready between a start and its first clock, in ms. Source: the same (from memory). */
const AFTER_START_MS = 1;

/** Starts, continues or stops MIDI clock on a port. */
export function turnClock(
  turn: Turn,
  { portId, to }: Pick<Action & { kind: 'clock' }, 'portId' | 'to'>,
): void {
  if (turn.world.portsOff.has(portId)) {
    turn.note({ code: 'port-off', portId, functionId: null });
    return;
  }
  send(turn, portId, realTime(to), null);
  const { [portId]: _running, ...others } = turn.state.clocks;
  turn.state.clocks =
    to === 'stop'
      ? others
      : {
          ...others,
          [portId]: { sinceMs: turn.nowMs + AFTER_START_MS, bpm: turn.state.tempo.bpm, sent: 0 },
        };
}

/** Sends the ticks that are due. After a sleep of more than a beat they go on from now instead of catching up. */
export function sendClocks(turn: Turn): void {
  for (const portId in turn.state.clocks) {
    const clock = turn.state.clocks[portId];
    if (!clock || clockDueMs(clock) > turn.nowMs) continue;
    send(turn, portId, realTime('clock'), null);
    const beatMs = 60_000 / clock.bpm;
    const overslept = turn.lateUntilMs - turn.nowMs > beatMs;
    const next = overslept
      ? { ...clock, sinceMs: turn.lateUntilMs + beatMs / CLOCKS_A_BEAT, sent: 0 }
      : { ...clock, sent: clock.sent + 1 };
    turn.state.clocks = { ...turn.state.clocks, [portId]: next };
  }
}
