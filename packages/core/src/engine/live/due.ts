import { contactDueMs, gestureDueMs } from '../../floor';
import { clockDueMs } from '../time/clockTimes';
import type { LiveState } from '../state/liveState';
import { lineDueMs } from '../time/lineTimes';
import { modulationsDueMs } from '../heard/routeConditions';
import { rampDueMs } from '../time/rampTimes';
import { clockAheadMs, functionAheadMs } from './ahead';
import { echoesDueMs } from '../../routing';
import type { World } from '../world/world';

/** A coarse half that gets no fine one within this time stands for itself, in ms. */
export const FINE_WITHIN_MS = 10;

/** What can fall due by itself. */
export type DueKind =
  'send' | 'delay' | 'hold' | 'contact' | 'coarse' | 'clock' | 'ramp' | 'line' | 'modulation';

/**
 * When something falls due next, in ms; infinite when nothing waits.
 * @param lateUntilMs what moves on a grid skips what lies before this.
 */
export function nextDueMs(world: World, state: LiveState, lateUntilMs: number): number {
  const { pending, delayed, held, contacts, coarse, clocks, ramps } = state;
  let atMs = Math.min(pending[0]?.atMs ?? Infinity, delayed[0]?.atMs ?? Infinity);
  for (const id in held) {
    const due = gestureDueMs(held[id]!.gesture, held[id]!.wants);
    if (due !== null && due < atMs) atMs = due;
  }
  for (const id in contacts) {
    const due = contactDue(world, state, id);
    if (due !== null && due < atMs) atMs = due;
  }
  for (const id in coarse) atMs = Math.min(atMs, coarse[id]!.atMs + FINE_WITHIN_MS);
  for (const portId in clocks)
    atMs = Math.min(atMs, clockDueMs(clocks[portId]!) - clockAheadMs(world, portId));
  for (const ramp of ramps)
    atMs = Math.min(atMs, rampDueMs(ramp, lateUntilMs) - functionAheadMs(world, ramp.functionId));
  if (state.line) atMs = Math.min(atMs, lineDueMs(world, state.line));
  atMs = Math.min(atMs, echoesDueMs(state.routes.repeats));
  return Math.min(atMs, modulationsDueMs(world, state, lateUntilMs));
}

/** Everything that is due by a time: to name the likely cycle where it never ends. */
export function dueNow(world: World, state: LiveState, nowMs: number): readonly string[] {
  const { pending, delayed, held, contacts, coarse, clocks, ramps } = state;
  const ids = <T>(
    kind: DueKind,
    record: Readonly<Record<string, T>>,
    isDue: (value: T, id: string) => boolean,
  ): string[] =>
    Object.entries(record).flatMap(([id, value]) => (isDue(value, id) ? `${kind} of ${id}` : []));
  return [
    ...pending.filter((p) => p.atMs <= nowMs).map((p) => `send of ${p.functionId}`),
    ...delayed.filter((d) => d.atMs <= nowMs).map((d) => `delay of ${d.action.kind} at ${d.from.controlId}`),
    ...ids('hold', held, (h) => (gestureDueMs(h.gesture, h.wants) ?? Infinity) <= nowMs),
    ...ids('contact', contacts, (_, id) => (contactDue(world, state, id) ?? Infinity) <= nowMs),
    ...ids('coarse', coarse, (c) => c.atMs + FINE_WITHIN_MS <= nowMs),
    ...ids('clock', clocks, (c, id) => clockDueMs(c) - clockAheadMs(world, id) <= nowMs),
    ...ramps
      .filter((r) => rampDueMs(r, -Infinity) - functionAheadMs(world, r.functionId) <= nowMs)
      .map((r) => `ramp of ${r.functionId}`),
    ...(state.line && lineDueMs(world, state.line) <= nowMs ? [`line at beat ${state.line.doneBeat}`] : []),
    ...(modulationsDueMs(world, state, -Infinity) <= nowMs ? ['modulation'] : []),
    ...(echoesDueMs(state.routes.repeats) <= nowMs ? ['what may have gone round'] : []),
  ];
}

function contactDue(world: World, { contacts }: LiveState, controlId: string): number | null {
  const hardware = world.controls.get(controlId)?.control.hardware;
  return hardware ? contactDueMs(contacts[controlId]!, hardware.debounceMs) : null;
}
