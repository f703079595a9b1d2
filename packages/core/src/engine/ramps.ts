import { applyCurve, type Action } from '../floor';
import type { Ramp } from './liveState';
import { durationMs, endMs, RAMP_STEP_MS, shareAt } from './rampTimes';
import type { Turn } from './turn';

/** Starts a ramp; one that runs on the same function is taken over from where it is. */
export function startRamp(turn: Turn, action: Action & { kind: 'ramp' }): void {
  const { functionId } = action;
  const isRunning = turn.state.ramps.some((r) => r.functionId === functionId);
  const now = turn.value(functionId);
  const from = (isRunning ? now : action.from) ?? now ?? action.to;
  const ramp: Ramp = {
    functionId,
    from,
    to: action.to,
    curve: action.curve,
    ...action.time,
    bpm: turn.state.tempo.bpm,
    sinceMs: turn.nowMs,
    share: 0,
  };
  if (!isRunning || durationMs(ramp) === 0) turn.set(functionId, durationMs(ramp) === 0 ? action.to : from);
  if (durationMs(ramp) > 0 && turn.world.functions.has(functionId))
    turn.state.ramps = [...turn.state.ramps.filter((r) => r.functionId !== functionId), ramp];
}

/** Moves every ramp to where it is now. Its last value is exact. */
export function moveRamps(turn: Turn): void {
  for (const ramp of turn.state.ramps) {
    const isOver = turn.nowMs >= endMs(ramp);
    // Only the grid counts, so that looking more often sends no more.
    const atMs = isOver
      ? turn.nowMs
      : ramp.sinceMs + Math.floor((turn.nowMs - ramp.sinceMs) / RAMP_STEP_MS) * RAMP_STEP_MS;
    const share = isOver ? 1 : applyCurve(ramp.curve, shareAt(ramp, atMs));
    const value = Math.round(ramp.from + (ramp.to - ramp.from) * share);
    if (turn.value(ramp.functionId) !== value) turn.setOnTheWay(ramp.functionId, value);
    if (isOver) turn.state.ramps = turn.state.ramps.filter((r) => r !== ramp);
  }
}
