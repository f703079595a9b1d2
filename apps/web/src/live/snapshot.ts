import type { LiveState, World } from '@idle-step/core/engine';
import type { Heard } from '@idle-step/core/floor';
import type { Seen } from '@idle-step/core/gear';
import type { StandInState } from '@idle-step/core/standins';
import type { LastPress } from './use/lastPress';
import type { BrowserPort, PortsStatus } from './ports/midiPorts';
import type { RouteCounts, RoutedPair } from './log/routeTraffic';

/** What the screen is drawn from: one unchanging object a frame. */
export type LiveSnapshot = {
  readonly world: World;
  readonly state: LiveState;
  readonly standIns: ReadonlyMap<string, StandInState>;
  readonly lastPress: LastPress | null;
  readonly lastRecallMs: number | null;
  /** What was said last, until the next press or recall, however many messages come in between. */
  readonly said: string | null;
  readonly portsStatus: PortsStatus;
  readonly ports: readonly BrowserPort[];
  readonly portCounts: { readonly in: number; readonly out: number };
  /** What was touched since looking began, the last first; `null` when nobody looks. */
  readonly seen: readonly Seen[] | null;
  /** What was heard since learning began, in order; `null` when nobody learns. */
  readonly heard: readonly Heard[] | null;
  /** What each route let through, by route. */
  readonly routeCounts: ReadonlyMap<string, RouteCounts>;
  /** The last messages that routes took in, with what they sent on. */
  readonly routedPairs: readonly RoutedPair[];
  /** The stand-ins are heard. */
  readonly isHeard: boolean;
  /** The scene in play was edited since it was sent. */
  readonly isSceneEdited: boolean;
  /** This window shows what another one plays. */
  readonly isFollowing: boolean;
  /** How long the page was away, while nothing was recalled since; in ms. */
  readonly awayMs: number | null;
};

/**
 * The snapshot after something happened, with every part that has not changed the same object as before; the same
 * snapshot when nothing has, so that nothing is drawn anew.
 */
export function nextSnapshot(before: LiveSnapshot | null, now: LiveSnapshot): LiveSnapshot {
  // The host goes on writing into its own map.
  if (!before) return { ...now, standIns: new Map(now.standIns) };
  const next = {
    ...now,
    // That time went on is no change that anybody sees.
    state: isSame(before.state, { ...now.state, atMs: before.state.atMs }) ? before.state : now.state,
    standIns: sameMap(before.standIns, now.standIns),
  };
  return isSame(before, next) ? before : next;
}

/** Whether two plain objects have the same parts. */
export function isSame<T extends object>(a: T, b: T): boolean {
  for (const key in b) if (a[key] !== b[key]) return false;
  return true;
}

/** The map shown before, while it holds the same things. */
function sameMap<K, V>(before: ReadonlyMap<K, V>, now: ReadonlyMap<K, V>): ReadonlyMap<K, V> {
  const same = before.size === now.size && [...now].every(([key, value]) => before.get(key) === value);
  return same ? before : new Map(now);
}
