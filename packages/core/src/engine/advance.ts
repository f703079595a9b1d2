import { startDelayed } from './actions';
import { sendClocks } from './clocks';
import { settleCoarse } from './moves';
import { moveRamps } from './ramps';
import { moveModulations } from './routes';
import { passGestures, settleContacts } from './switches';
import { dueNow, nextDueMs, refreshLamps, sendPending, type Turn } from './turn';

/** Rounds at one and the same moment before it is taken to go on for ever. Our own choice. */
export const ROUNDS_AT_ONE_MOMENT = 10_000;

/** What falls due at one moment makes something fall due at the same moment, without end. */
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
 * moment: sends that waited, contacts, coarse halves, gestures, delayed actions, ramps, clocks, modulations.
 * @throws EndlessMoment where time would never go on.
 */
export function advance(turn: Turn, toMs: number): void {
  let rounds = 0;
  for (;;) {
    const dueMs = nextDueMs(turn.world, turn.state, turn.lateUntilMs);
    if (dueMs > toMs) break;
    rounds = dueMs > turn.nowMs ? 0 : rounds + 1;
    if (rounds > ROUNDS_AT_ONE_MOMENT)
      throw new EndlessMoment(turn.nowMs, dueNow(turn.world, turn.state, turn.nowMs));
    turn.nowMs = Math.max(turn.nowMs, dueMs);
    sendPending(turn);
    settleContacts(turn);
    settleCoarse(turn);
    passGestures(turn);
    startDelayed(turn);
    moveRamps(turn);
    sendClocks(turn);
    moveModulations(turn);
    if (refreshLamps(turn)) turn.rememberLamps();
  }
  turn.nowMs = Math.max(turn.nowMs, toMs);
}
