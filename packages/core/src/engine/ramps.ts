import { applyCurve, type Action } from '../floor';
import type { Ramp } from './liveState';
import { durationMs, endMs, nextStepOf, RAMP_STEP_MS, rampDueMs, shareAt } from './rampTimes';
import { setFunction, setOnTheWay, type Live } from './live';

/** Starts a ramp; one that runs on the same function is taken over from where it is. */
export function startRamp(live: Live, action: Action & { kind: 'ramp' }): void {
  const { functionId } = action;
  const isRunning = live.state.ramps.some((r) => r.functionId === functionId);
  const now = live.value(functionId);
  const from = (isRunning ? now : action.from) ?? now ?? action.to;
  const ramp: Ramp = {
    functionId,
    from,
    to: action.to,
    curve: action.curve,
    ...action.time,
    bpm: live.state.tempo.bpm,
    sinceMs: live.nowMs,
    share: 0,
    stepsDone: 0,
  };
  const isInstant = durationMs(ramp) === 0;
  if (!isRunning || isInstant) setFunction(live, functionId, isInstant ? action.to : from);
  if (!isInstant && live.world.functions.has(functionId))
    live.state.ramps = [...live.state.ramps.filter((r) => r.functionId !== functionId), ramp];
}

/** Moves every ramp whose next step has come. Its last value is exact. */
export function moveRamps(live: Live): void {
  for (const ramp of live.state.ramps) {
    if (rampDueMs(ramp, live.lateUntilMs) > live.nowMs || !live.state.ramps.includes(ramp)) continue;
    const stepsDone = nextStepOf(ramp, live.lateUntilMs);
    const isOver = live.nowMs >= endMs(ramp);
    const share = isOver ? 1 : applyCurve(ramp.curve, shareAt(ramp, ramp.sinceMs + stepsDone * RAMP_STEP_MS));
    const value = Math.round(ramp.from + (ramp.to - ramp.from) * share);
    if (live.value(ramp.functionId) !== value) setOnTheWay(live, ramp.functionId, value);
    live.state.ramps = isOver
      ? live.state.ramps.filter((r) => r !== ramp)
      : live.state.ramps.map((r) => (r === ramp ? { ...ramp, stepsDone } : r));
  }
}
