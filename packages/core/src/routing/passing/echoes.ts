import type { Message } from '../../midi';
import { begunKey, letsGo, repeatKey } from './begun';
import type { Repeats } from './routeMemory';
import { nth } from '../../sure';

/** A message that comes this often in a row may be an echo, and is looked into. */
export const LOOKED_INTO_AFTER = 8;
/** Equal messages within this time count as in a row, in ms. */
export const REPEAT_WITHIN_MS = 50;
/** An echo comes back within this time, in ms. */
const RING_MS = 30;
/** So many copies are too many for an echo: somebody plays fast. */
const COPIES_IN_RING = 4;
/** For how long copies are held back, the first and the second time, in ms. */
const HOLD_MS = [30, 55] as const;
/** How much the times of two rounds of an echo may differ, in ms. */
const SAME_WAY_MS = 4;
/** After somebody was found to play, the message is not looked into for this long, in ms. */
const PLAYS_MS = 500;

/** Keys of a port that are looked after at once. */
const KEYS_AT_ONCE = 4;

/** What becomes of a message that came, and of those held back before it. */
export type Heard = {
  readonly repeats: readonly Repeats[];
  /** What goes on now, in its order. */
  readonly pass: readonly Message[];
  /** Whether it was found to be an echo just now, and is stopped. */
  readonly isStopped: boolean;
};

/**
 * Tells an echo from a player, and loses nothing that is played. The same message again and again may be either, so it is
 * held back for a moment. If more copies come than fit into a ring, or later than a ring would need, somebody plays, and
 * all of them leave at once. If not, they leave after the moment, and the next time after a longer one. A message that
 * comes back equally long after it left both times has gone round, and is stopped: a player does not know when it left.
 * @param isEnd it ends something that was let through, and so is let through. The end of something that is held back
 * waits behind it.
 */
export function hearAgain(
  before: readonly Repeats[],
  portId: string,
  message: Message,
  isEnd: boolean,
  nowMs: number,
): Heard {
  if (!('channel' in message)) return { repeats: before, pass: [message], isStopped: false };
  const key = repeatKey(message);
  if (letsGo(message)) {
    const at = before.findIndex((r) => r.portId === portId && r.held.some((m) => isEndOf(message, m)));
    const entry = before[at];
    if (entry)
      return {
        repeats: before.with(at, { ...entry, held: [...entry.held, message] }),
        pass: [],
        isStopped: false,
      };
    if (isEnd) return { repeats: before, pass: [message], isStopped: false };
    // The end of a stopped message is an echo too, and has nothing to end.
    const isOfStopped = (r: Repeats): boolean =>
      r.portId === portId &&
      r.phase.kind === 'stopped' &&
      r.phase.ended === begunKey(message) &&
      nowMs - r.atMs <= REPEAT_WITHIN_MS;
    if (before.some(isOfStopped)) return { repeats: before, pass: [], isStopped: false };
  }
  const at = before.findIndex((r) => r.portId === portId && r.key === key);
  const last = before[at];
  if (!last || !isAgain(last, nowMs)) {
    const fresh: Repeats = { portId, key, count: 1, atMs: nowMs, held: [], phase: COUNTING, playsMs: null };
    return { repeats: put(before, at, fresh, portId), pass: [message], isStopped: false };
  }
  const { entry, pass, isStopped } = again({ ...last, count: last.count + 1, atMs: nowMs }, message, nowMs);
  return { repeats: before.with(at, entry), pass, isStopped };
}

const COUNTING: Repeats['phase'] = { kind: 'counting' };

const isEndOf = (end: Message, held: Message): boolean => begunKey(end) === begunKey(held);

const isAgain = ({ atMs, held, phase }: Repeats, nowMs: number): boolean =>
  held.length > 0 ||
  nowMs - atMs <= REPEAT_WITHIN_MS ||
  (phase.kind === 'left' && nowMs - phase.atMs <= REPEAT_WITHIN_MS);

type Again = { readonly entry: Repeats; readonly pass: readonly Message[]; readonly isStopped: boolean };

function again(entry: Repeats, message: Message, nowMs: number): Again {
  const { phase, held } = entry;
  switch (phase.kind) {
    case 'counting': {
      const rests = entry.playsMs !== null && nowMs - entry.playsMs < PLAYS_MS;
      if (entry.count <= LOOKED_INTO_AFTER || rests) return { entry, pass: [message], isStopped: false };
      return holdBack(entry, message, { kind: 'held', sinceMs: nowMs, cameAfterMs: null });
    }
    case 'held': {
      const copies = held.filter((m) => repeatKeyOf(m) === entry.key).length;
      if (copies >= COPIES_IN_RING || nowMs - phase.sinceMs > RING_MS) return plays(entry, message, nowMs);
      return { entry: { ...entry, held: [...held, message] }, pass: [], isStopped: false };
    }
    case 'left': {
      const cameAfterMs = nowMs - phase.atMs;
      if (cameAfterMs > RING_MS) return plays(entry, message, nowMs);
      if (phase.cameAfterMs === null)
        return holdBack(entry, message, { kind: 'held', sinceMs: nowMs, cameAfterMs });
      if (Math.abs(cameAfterMs - phase.cameAfterMs) > SAME_WAY_MS) return plays(entry, message, nowMs);
      return {
        entry: { ...entry, phase: { kind: 'stopped', ended: begunKey(message) } },
        pass: [],
        isStopped: true,
      };
    }
    case 'stopped':
      return { entry, pass: [], isStopped: false };
  }
}

const repeatKeyOf = (message: Message): number => ('channel' in message ? repeatKey(message) : -1);

const holdBack = (entry: Repeats, message: Message, phase: Repeats['phase']): Again => ({
  entry: { ...entry, held: [message], phase },
  pass: [],
  isStopped: false,
});

const plays = (entry: Repeats, message: Message, nowMs: number): Again => ({
  entry: { ...entry, held: [], phase: COUNTING, playsMs: nowMs },
  pass: [...entry.held, message],
  isStopped: false,
});

/** The last few keys of each port are looked after; the one that was heard longest ago goes first. */
function put(before: readonly Repeats[], at: number, entry: Repeats, portId: string): readonly Repeats[] {
  if (at >= 0) return before.with(at, entry);
  let count = 0;
  let oldest = -1;
  for (let i = 0; i < before.length; i++) {
    if (nth(before, i).portId !== portId) continue;
    count++;
    if (nth(before, i).held.length > 0) continue;
    if (oldest < 0 || nth(before, i).atMs < nth(before, oldest).atMs) oldest = i;
  }
  return count < KEYS_AT_ONCE || oldest < 0 ? [...before, entry] : before.with(oldest, entry);
}

/** When something that is held back leaves, in ms; infinite where nothing is. */
export function echoesDueMs(repeats: readonly Repeats[]): number {
  let dueMs = Infinity;
  for (const entry of repeats) {
    const due = leavesAt(entry);
    if (due < dueMs) dueMs = due;
  }
  return dueMs;
}

const leavesAt = ({ phase }: Repeats): number =>
  phase.kind === 'held' ? phase.sinceMs + HOLD_MS[phase.cameAfterMs === null ? 0 : 1] : Infinity;

/**
 * What was held back long enough leaves.
 * @param leavesMs when it really leaves.
 */
export function releaseHeld(
  before: readonly Repeats[],
  nowMs: number,
  leavesMs: number,
): {
  readonly repeats: readonly Repeats[];
  readonly released: readonly { readonly portId: string; readonly message: Message }[];
} {
  const released: { portId: string; message: Message }[] = [];
  const repeats = before.map((entry): Repeats => {
    const { phase, held, portId } = entry;
    if (phase.kind !== 'held' || leavesAt(entry) > nowMs) return entry;
    for (const message of held) released.push({ portId, message });
    return { ...entry, held: [], phase: { kind: 'left', atMs: leavesMs, cameAfterMs: phase.cameAfterMs } };
  });
  return { repeats: released.length === 0 ? before : repeats, released };
}
