import type { Effect } from './events';
import type { LiveState } from './liveState';
import { advance, handOver } from './advance';
import { nextDueMs, refreshLamps, type Live } from './live';

/** Closes a step: what fell due at once by it, lamps that changed, and when to be called again, later than now. */
export function finish(live: Live): { state: LiveState; effects: Effect[] } {
  advance(live, live.nowMs);
  handOver(live);
  refreshLamps(live);
  live.state.atMs = live.nowMs;
  const atMs = nextDueMs(live.world, live.state, -Infinity);
  if (atMs < Infinity) live.effects.push({ kind: 'wake', atMs });
  return { state: live.state, effects: live.effects };
}
