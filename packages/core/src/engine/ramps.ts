import { applyCurve, type Action } from '../floor';
import type { Ramp } from './liveState';
import { durationMs, endMs, nextStepOf, RAMP_STEP_MS, rampDueMs, shareAt } from './rampTimes';
import { setFunction, setOnTheWay, type Turn } from './turn';

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
    stepsDone: 0,
  };
  const isInstant = durationMs(ramp) === 0;
  if (!isRunning || isInstant) setFunction(turn, functionId, isInstant ? action.to : from);
  if (!isInstant && turn.world.functions.has(functionId))
    turn.state.ramps = [...turn.state.ramps.filter((r) => r.functionId !== functionId), ramp];
}

/** Moves every ramp whose next step has come. Its last value is exact. */
export function moveRamps(turn: Turn): void {
  for (const ramp of turn.state.ramps) {
    if (rampDueMs(ramp, turn.lateUntilMs) > turn.nowMs || !turn.state.ramps.includes(ramp)) continue;
    const stepsDone = nextStepOf(ramp, turn.lateUntilMs);
    const isOver = turn.nowMs >= endMs(ramp);
    const share = isOver ? 1 : applyCurve(ramp.curve, shareAt(ramp, ramp.sinceMs + stepsDone * RAMP_STEP_MS));
    const value = Math.round(ramp.from + (ramp.to - ramp.from) * share);
    if (turn.value(ramp.functionId) !== value) setOnTheWay(turn, ramp.functionId, value);
    turn.state.ramps = isOver
      ? turn.state.ramps.filter((r) => r !== ramp)
      : turn.state.ramps.map((r) => (r === ramp ? { ...ramp, stepsDone } : r));
  }
}
