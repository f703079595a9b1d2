import type { Action, PlainCurve, RampTime } from '../../floor';
import { messagesFor } from '../../gear';
import { byteLength, wireTimeMs } from '../../midi';
import { glideStepMs, glideValue, GLIDE_STEP_MS } from '../../show';
import type { Ramp } from '../state/liveState';
import { durationMs, endMs, rampDueMs, recounted, stepNow } from './rampTimes';
import { functionAheadMs, handAhead, isToHandOver } from '../live/ahead';
import { setFunction, setOnTheWay } from '../live/sending';
import { type Live } from '../live/live';
import { got } from '../../sure';

/** Starts a ramp; one that runs on the same function is taken over from where it is. */
export function startRamp(live: Live, action: Action & { kind: 'ramp' }): void {
  const { functionId, to, curve, time } = action;
  const isRunning = live.state.ramps.some((r) => r.functionId === functionId);
  const now = live.value(functionId);
  const from = (isRunning ? now : action.from) ?? now ?? to;
  const ramp = newRamp(live, { functionId, from, to, curve, time });
  const isInstant = durationMs(ramp) === 0;
  if (!isRunning || isInstant) setFunction(live, functionId, isInstant ? to : from);
  if (!isInstant && live.world.functions.has(functionId)) join(live, [ramp]);
}

/** What a scene moves over time: from where it is, once its device listens; `isSwitch` only at the end of that time. */
export type Glide = {
  readonly functionId: string;
  readonly from: number;
  readonly to: number;
  readonly time: RampTime;
  readonly curve: PlainCurve;
  readonly isSwitch: boolean;
  /** How far it has come already, 0–1. */
  readonly share?: number;
};

/** Starts the glides of a scene. None of them may be over at once. */
export function startGlides(live: Live, glides: readonly Glide[]): void {
  join(
    live,
    glides.map(({ isSwitch, functionId, from, to, time, curve, share }) => {
      const glide = { functionId, from, to, time, curve, ...(share !== undefined && { share }) };
      const deviceId = live.world.functions.get(functionId)?.device.id ?? '';
      const sinceMs = Math.max(live.nowMs, live.state.listensFromMs[deviceId] ?? 0);
      return { ...newRamp(live, glide), sinceMs, stepMs: isSwitch ? null : GLIDE_STEP_MS };
    }),
  );
}

const newRamp = (live: Live, { time, ...way }: Omit<Glide, 'isSwitch'>): Ramp => ({
  ...way,
  ...time,
  bpm: live.state.tempo.bpm,
  sinceMs: live.nowMs,
  share: way.share ?? 0,
  stepMs: GLIDE_STEP_MS,
  stepsDone: 0,
});

/** Ramps that join those on their way: whatever shares a link with them is spread so that the link bears it. */
function join(live: Live, joining: readonly Ramp[]): void {
  if (joining.length === 0) return;
  const ids = new Set(joining.map((r) => r.functionId));
  const all = [...live.state.ramps.filter((r) => !ids.has(r.functionId)), ...joining];
  const wires = new Map<string, number[]>();
  for (const ramp of all) {
    const wire = ramp.stepMs === null ? null : wireOf(live, ramp);
    if (wire) wires.set(wire.portId, [...(wires.get(wire.portId) ?? []), wire.ms]);
  }
  live.state.ramps = all.map((ramp) => {
    const wire = ramp.stepMs === null ? null : wireOf(live, ramp);
    const stepMs = wire ? glideStepMs(got(wires, wire.portId)) : ramp.stepMs;
    if (stepMs === ramp.stepMs) return ramp;
    return joining.includes(ramp) ? { ...ramp, stepMs } : recounted(ramp, live.nowMs, { stepMs });
  });
}

/** The port that a ramp speaks by, and how long one of its messages takes there, in ms. */
function wireOf(live: Live, { functionId, to }: Ramp): { portId: string; ms: number } | null {
  const reached = live.world.functions.get(functionId);
  if (!reached?.path) return null;
  const bytes = messagesFor(reached.device, reached.fn, to).reduce((sum, m) => sum + byteLength(m), 0);
  return { portId: reached.path.portId, ms: wireTimeMs(bytes, reached.path.link) };
}

/**
 * Moves every ramp whose next step has come. Its last value is exact.
 * @param nowMs the real time, where it is later than the moment that is worked through: see `isToHandOver`.
 */
export function moveRamps(live: Live, nowMs = live.nowMs): void {
  for (const ramp of live.state.ramps) {
    const dueMs = rampDueMs(ramp, live.lateUntilMs);
    const aheadMs = functionAheadMs(live.world, ramp.functionId);
    if (!isToHandOver(live, dueMs, aheadMs, nowMs) || !live.state.ramps.includes(ramp)) continue;
    const { stepsDone, share } = stepNow(ramp, live.lateUntilMs);
    const isOver = Math.max(dueMs, nowMs) >= endMs(ramp);
    const value = glideValue(ramp.from, ramp.to, ramp.curve, isOver ? 1 : share);
    if (live.value(ramp.functionId) !== value)
      handAhead(live, dueMs, () => setOnTheWay(live, ramp.functionId, value));
    live.state.ramps = isOver
      ? live.state.ramps.filter((r) => r !== ramp)
      : live.state.ramps.map((r) => (r === ramp ? { ...ramp, stepsDone } : r));
  }
}
