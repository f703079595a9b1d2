import type { World } from '../world/world';
import { initialState, type LiveState } from './liveState';

/** What of a state another window shows that follows it. */
const FOLLOWED = [
  'position',
  'tempo',
  'songStartedAtMs',
  'run',
  'isOver',
  'registers',
  'banks',
  'pages',
  'latched',
  'steps',
  'evens',
  'pedals',
  'raws',
  'held',
  'lamps',
  'line',
  'routes',
] as const satisfies readonly (keyof LiveState)[];

/** The part of a state that is shown. Plain data. */
export type Followed = Pick<LiveState, (typeof FOLLOWED)[number]>;

export const followedOf = (state: LiveState): Followed =>
  // Each part has its own type, which a table of all of them does not say.
  Object.fromEntries(FOLLOWED.map((part) => [part, state[part]])) as Followed;

/**
 * The state of a window that shows what another one plays and does nothing by itself: nothing waits, glides or sounds in
 * it. What this window shows large, and what it switches of its own computer, stays its own.
 * @param byMs how much later the same moment is on this window's clock, in ms.
 */
export function followedState(
  world: World,
  own: LiveState,
  followed: Followed,
  byMs: number,
  nowMs: number,
): LiveState {
  const { tempo, songStartedAtMs, run, line } = followed;
  return {
    ...initialState(world, nowMs),
    ...followed,
    view: own.view,
    here: own.here,
    tempo: { ...tempo, originMs: tempo.originMs + byMs },
    songStartedAtMs: songStartedAtMs === null ? null : songStartedAtMs + byMs,
    run: run && {
      ...run,
      startedAtMs: run.startedAtMs + byMs,
      pausedAtMs: run.pausedAtMs === null ? null : run.pausedAtMs + byMs,
    },
    line: line && { ...line, sinceMs: line.sinceMs + byMs },
  };
}
