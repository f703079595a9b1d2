import type { Effect } from './state/events';
import type { LiveState } from './state/liveState';
import { advance, handOver } from './time/advance';
import { nextDueMs } from './live/due';
import { refreshLamps } from './lamps/lampUpdate';
import { type Live } from './live/live';
import { followTempo } from './song/followTempo';

/** Closes a step: what fell due at once by it, lamps that changed, and when to be called again, later than now. */
export function finish(live: Live): { state: LiveState; effects: Effect[] } {
  advance(live, live.nowMs);
  if (followTempo(live, live.bpmBefore)) advance(live, live.nowMs);
  handOver(live);
  refreshLamps(live);
  live.state.atMs = live.nowMs;
  const atMs = nextDueMs(live.world, live.state, -Infinity);
  if (atMs < Infinity) live.effects.push({ kind: 'wake', atMs });
  return { state: live.state, effects: live.effects };
}
