import { startDelayed } from '../actions/start';
import { sendClocks } from './clocks';
import { settleCoarse } from '../controls/moves';
import { moveLine } from './line';
import { moveRamps } from './ramps';
import { moveModulations } from '../heard/routes';
import { passGestures, settleContacts } from '../controls/switches';
import { dueNow, nextDueMs } from '../live/due';
import { refreshLamps } from '../lamps/lampUpdate';
import { releaseRouted, sendPending } from '../live/sending';
import { type Live } from '../live/live';

/** Rounds at one and the same moment before it is taken to go on for ever. */
export const ROUNDS_AT_ONE_MOMENT = 10_000;

/** Too many things fall due at one moment, because they cause each other without end. */
export class EndlessMoment extends Error {
  override readonly name = 'EndlessMoment';
  constructor(
    readonly atMs: number,
    /** What keeps falling due. */
    readonly cycle: readonly string[],
  ) {
    super(`At ${atMs} ms the same things fall due again and again: ${cycle.slice(0, 5).join(', ')}.`);
  }
}

/**
 * Works through everything that falls due up to a time, in the order in which it is due, each at its own time. At one
 * moment: sends that waited, contacts, coarse halves, gestures, delayed actions, the time line, ramps, clocks, what routes
 * held back, modulations.
 * @throws EndlessMoment where time would never go on.
 */
export function advance(live: Live, toMs: number): void {
  let rounds = 0;
  for (;;) {
    const dueMs = nextDueMs(live.world, live.state, live.lateUntilMs);
    if (dueMs > toMs) break;
    rounds = dueMs > live.nowMs ? 0 : rounds + 1;
    if (rounds > ROUNDS_AT_ONE_MOMENT)
      throw new EndlessMoment(live.nowMs, dueNow(live.world, live.state, live.nowMs));
    live.nowMs = Math.max(live.nowMs, dueMs);
    sendPending(live);
    settleContacts(live);
    settleCoarse(live);
    passGestures(live);
    startDelayed(live);
    moveLine(live);
    moveRamps(live);
    sendClocks(live);
    releaseRouted(live);
    moveModulations(live);
    if (refreshLamps(live)) live.rememberLamps();
  }
  live.nowMs = Math.max(live.nowMs, toMs);
}

/**
 * Hands over in advance what is due soon after the real time, where an event came late and the real time is later than the
 * moment that was worked through.
 */
export function handOver(live: Live): void {
  const fromMs = live.lateUntilMs;
  if (live.world.aheadMs === 0 || fromMs <= live.nowMs) return;
  for (let before: unknown = null; before !== live.state.ramps;) {
    before = live.state.ramps;
    moveRamps(live, fromMs);
  }
  for (let before: unknown = null; before !== live.state.clocks;) {
    before = live.state.clocks;
    sendClocks(live, fromMs);
  }
}
