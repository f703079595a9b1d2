import type { Action } from '../../floor';
import type { Live } from '../live/live';

/**
 * Whether an action that steps comes so soon after the same one that the foot meant one: then it does not count, and the time goes on
 * from the one that did. Cues are not asked: what they do is never doubled.
 */
export function isDoubled(live: Live, action: Action): boolean {
  const guardMs = live.world.show.rig.stepGuardMs ?? 0;
  if (guardMs === 0) return false;
  const before = live.state.steppedMs[action.id];
  if (before !== undefined && live.nowMs - before < guardMs) {
    live.note({ code: 'double-step', afterMs: live.nowMs - before });
    return true;
  }
  live.state.steppedMs = { ...live.state.steppedMs, [action.id]: live.nowMs };
  return false;
}
