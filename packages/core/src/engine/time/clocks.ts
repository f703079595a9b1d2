import { realTime } from '../../midi';
import type { Action } from '../../floor';
import { clockDueMs, CLOCKS_A_BEAT } from './clockTimes';
import { clockAheadMs, handAhead, isToHandOver } from '../live/ahead';
import { send } from '../live/sending';
import { type Live } from '../live/live';

/** Time for a receiver to get ready between a start and its first clock, in ms. Source: the same. */
const AFTER_START_MS = 1;

/** Starts, continues or stops MIDI clock on a port. */
export function switchClock(
  live: Live,
  { portId, to }: Pick<Action & { kind: 'clock' }, 'portId' | 'to'>,
): void {
  if (live.world.portsOff.has(portId)) {
    live.note({ code: 'port-off', portId, functionId: null });
    return;
  }
  send(live, portId, realTime(to), null);
  const { [portId]: running, ...others } = live.state.clocks;
  // A tick that was handed over already still comes before a start.
  const handedMs = running && running.sent > 0 ? clockDueMs({ ...running, sent: running.sent - 1 }) : 0;
  live.state.clocks =
    to === 'stop'
      ? others
      : {
          ...others,
          [portId]: {
            sinceMs: Math.max(live.nowMs, handedMs) + AFTER_START_MS,
            bpm: live.state.tempo.bpm,
            sent: 0,
          },
        };
}

/**
 * Sends the ticks that are due. After a sleep of more than a beat they go on from now instead of catching up.
 * @param nowMs the real time, where it is later than the moment that is worked through: see `isToHandOver`.
 */
export function sendClocks(live: Live, nowMs = live.nowMs): void {
  for (const portId in live.state.clocks) {
    const clock = live.state.clocks[portId];
    if (!clock) continue;
    const dueMs = clockDueMs(clock);
    const aheadMs = clockAheadMs(live.world, portId);
    if (!isToHandOver(live, dueMs, aheadMs, nowMs)) continue;
    handAhead(live, dueMs, () => send(live, portId, realTime('clock'), null));
    const beatMs = 60_000 / clock.bpm;
    const overslept = live.lateUntilMs - Math.max(dueMs, live.nowMs) > beatMs;
    const next = overslept
      ? { ...clock, sinceMs: live.lateUntilMs + beatMs / CLOCKS_A_BEAT, sent: 0 }
      : { ...clock, sent: clock.sent + 1 };
    live.state.clocks = { ...live.state.clocks, [portId]: next };
  }
}
