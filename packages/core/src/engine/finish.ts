import type { Effect } from './events';
import type { LiveState } from './liveState';
import { advance } from './advance';
import { nextDueMs, refreshLamps, type Turn } from './turn';

/** Closes a step: what fell due at once by it, lamps that changed, and when to be called again, later than now. */
export function finish(turn: Turn): { state: LiveState; effects: Effect[] } {
  advance(turn, turn.nowMs);
  refreshLamps(turn);
  turn.state.atMs = turn.nowMs;
  const atMs = nextDueMs(turn.world, turn.state, -Infinity);
  if (atMs < Infinity) turn.effects.push({ kind: 'wake', atMs });
  return { state: turn.state, effects: turn.effects };
}
