import { encode, hex } from '../midi';
import type { Effect, LiveEvent } from './state/events';
import { changeShow } from './changeShow';
import { initialState, type LiveState } from './state/liveState';
import { step } from './step';
import { compileWorld } from './compile/compileWorld';
import { type Show, type World } from './world/world';

/** What happened while playing, in order: events as they reached the core, and edits. */
export type RecordedEntry =
  | { readonly kind: 'event'; readonly event: LiveEvent }
  | { readonly kind: 'show'; readonly atMs: number; readonly show: Show };

/** An evening or a rehearsal from its first moment on. */
export type Recording = {
  readonly startedAtMs: number;
  /** How long before their time glides and clocks were handed over, in ms; 0 where it does not say. */
  readonly aheadMs?: number;
  readonly show: Show;
  readonly entries: readonly RecordedEntry[];
};

/** One message that was sent: when, by which port, and its bytes as hexadecimal pairs. */
export type SentBytes = { readonly atMs: number; readonly portId: string; readonly bytes: string };

/** Plays a recording again, entry by entry. The same recording gives the same bytes every time. */
export class Replay {
  private at = 0;
  private worldNow: World;
  private stateNow: LiveState;

  constructor(readonly recording: Recording) {
    this.worldNow = compileWorld(recording.show, recording.aheadMs);
    this.stateNow = initialState(this.worldNow, recording.startedAtMs);
  }

  get world(): World {
    return this.worldNow;
  }

  get state(): LiveState {
    return this.stateNow;
  }

  /** Entries played so far. */
  get position(): number {
    return this.at;
  }

  /** When the next entry comes, in ms of the recording; `null` at its end. */
  get nextAtMs(): number | null {
    const entry = this.recording.entries[this.at];
    return entry ? timeOf(entry) : null;
  }

  /** Plays the next entry, or a piece of a long wait before it. @returns `null` at the end. */
  next(): { readonly entry: RecordedEntry; readonly effects: readonly Effect[] } | null {
    const entry = this.recording.entries[this.at];
    if (!entry) return null;
    const wait = waitBefore(entry, this.stateNow.atMs);
    if (wait) return this.take(wait);
    this.at++;
    if (entry.kind === 'event') return this.take(entry);
    const { world, state, effects } = changeShow(this.worldNow, this.stateNow, entry.show, entry.atMs);
    this.worldNow = world;
    this.stateNow = state;
    return { entry, effects };
  }

  private take(entry: RecordedEntry & { kind: 'event' }) {
    const { state, effects } = step(this.worldNow, this.stateNow, entry.event);
    this.stateNow = state;
    return { entry, effects };
  }
}

/** Longer waits are played in pieces of this, in ms, so that a replay can be stopped within them. */
const WAIT_MS = 10_000;

/** A piece of a long wait before an entry; `null` where it comes soon, or time went on unseen before it. */
function waitBefore(entry: RecordedEntry, nowMs: number): (RecordedEntry & { kind: 'event' }) | null {
  const isLate = entry.kind === 'event' && entry.event.leavesMs !== undefined;
  return !isLate && timeOf(entry) - nowMs > WAIT_MS
    ? { kind: 'event', event: { kind: 'tick', atMs: nowMs + WAIT_MS } }
    : null;
}

export const timeOf = (entry: RecordedEntry): number =>
  entry.kind === 'event' ? entry.event.atMs : entry.atMs;

/** Everything that a recording sends. */
export function sentBy(recording: Recording): SentBytes[] {
  const replay = new Replay(recording);
  const sent: SentBytes[] = [];
  for (let done = replay.next(); done; done = replay.next()) sent.push(...sentIn(done.effects));
  return sent;
}

export const sentIn = (effects: readonly Effect[]): SentBytes[] =>
  effects.flatMap((e) =>
    e.kind === 'send' ? [{ atMs: e.atMs, portId: e.portId, bytes: hex(encode(e.message)) }] : [],
  );

/** The first place at which two lists of what was sent differ, or `null` when they are the same. */
export function firstDifference(
  a: readonly SentBytes[],
  b: readonly SentBytes[],
): { readonly index: number; readonly a: SentBytes | null; readonly b: SentBytes | null } | null {
  for (let i = 0; i < Math.max(a.length, b.length); i++) {
    const [x, y] = [a[i] ?? null, b[i] ?? null];
    if (x?.portId !== y?.portId || x?.bytes !== y?.bytes || x?.atMs !== y?.atMs)
      return { index: i, a: x, b: y };
  }
  return null;
}
