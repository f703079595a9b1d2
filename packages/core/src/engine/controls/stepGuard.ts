import type { Action } from '../../floor';
import type { Live } from '../live/live';

/** Whether an action goes on or back by one, so that doing it twice leads somewhere else than doing it once. */
const isStep = (action: Action): boolean =>
  action.kind === 'show' ||
  (action.kind === 'song' && (action.to === 'next' || action.to === 'previous')) ||
  (action.kind === 'scene' && (action.to.kind === 'next' || action.to.kind === 'previous'));

/**
 * Whether a step comes so soon after the same one that the foot meant one: then it does not count, and the time goes on
 * from the one that did. Cues are not asked: what they do is never doubled.
 */
export function isDoubled(live: Live, action: Action): boolean {
  const guardMs = live.world.show.rig.stepGuardMs ?? 0;
  if (guardMs === 0 || !isStep(action)) return false;
  const before = live.state.steppedMs[action.id];
  if (before !== undefined && live.nowMs - before < guardMs) {
    live.note({ code: 'double-step', afterMs: live.nowMs - before });
    return true;
  }
  live.state.steppedMs = { ...live.state.steppedMs, [action.id]: live.nowMs };
  return false;
}
