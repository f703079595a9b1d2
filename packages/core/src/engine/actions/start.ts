import type { Action } from '../../floor';
import { isDoubled } from '../controls/stepGuard';
import { delayMsOf, putOff } from '../live/delayed';
import type { Live } from '../live/live';
import type { Origin } from '../state/liveState';
import { traitsOf } from './table';

/** Does an action now, or puts it off for its delay. */
export function start(live: Live, from: Origin, action: Action): void {
  const traits = traitsOf(action);
  if (action.isOff || (traits.steps(action) && isDoubled(live, action))) return;
  if (delayMsOf(live, action) === 0) traits.act(live, action, from);
  else putOff(live, from, action);
}

/** Actions whose delay is over. */
export function startDelayed(live: Live): void {
  for (let first = live.state.delayed[0]; first && first.atMs <= live.nowMs; first = live.state.delayed[0]) {
    live.state.delayed = live.state.delayed.slice(1);
    traitsOf(first.action).act(live, first.action, first.from);
  }
}
