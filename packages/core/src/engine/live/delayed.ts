import type { Action } from '../../floor';
import type { Live } from './live';
import type { Origin } from '../state/liveState';

/** How long an action waits, in ms: beats at the tempo of now. */
export function delayMsOf({ state }: Live, { delay }: Action): number {
  if (!delay) return 0;
  return delay.unit === 'beats' ? (delay.amount * 60_000) / state.tempo.bpm : delay.amount;
}

/** Has an action done once its delay is over: without one still at this moment, after those put off before it. */
export function putOff(live: Live, from: Origin, action: Action): void {
  if (action.isOff) return;
  const atMs = live.nowMs + delayMsOf(live, action);
  live.state.delayed = [...live.state.delayed, { atMs, from, action }].sort((a, b) => a.atMs - b.atMs);
}
