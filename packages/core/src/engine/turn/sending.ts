import { isInForce, takesValue } from '../../gear';
import { endsNote, type Message } from '../../midi';
import { isHeld, passRoutes, type RoutedSend } from '../../routing';
import {
  planRecall,
  type PlannedSend,
  type RecallPlan,
  type RecallTarget,
  type RigKnowledge,
} from '../../show';
import { drivenBy } from '../drivenBy';
import type { SoundingNote } from '../liveState';
import { conditionsOf } from '../routeConditions';
import type { Turn } from './turn';

/** Sets one function, whatever it was before. A ramp that moved it ends. */
export function setFunction(turn: Turn, functionId: string, value: number): void {
  const reached = turn.world.functions.get(functionId);
  if (!reached) turn.note({ code: 'function-gone', functionId });
  else recall(turn, [{ reached, value }], 'all');
}

/** Sets a function on the way of its ramp, which goes on. */
export function setOnTheWay(turn: Turn, functionId: string, value: number): void {
  const { ramps } = turn.state;
  setFunction(turn, functionId, value);
  turn.state.ramps = ramps;
}

/** Plans and carries out. Sends that have to wait stay pending, and a later plan for the same function wins. */
export function recall(turn: Turn, given: readonly RecallTarget[], mode: 'changes' | 'all'): RecallPlan {
  const { state } = turn;
  const targets = given.filter((t) => accepts(turn, t));
  const knowledge = new Knowledge(turn);
  let plan = planRecall(targets, knowledge, mode);
  if (state.pending.length > 0) {
    const told = functionsOf(plan);
    const staying = state.pending.filter((p) => !plan.reloaded.has(p.deviceId) && !told.has(p.functionId));
    if (staying.length < state.pending.length) {
      // What is overtaken no longer takes up its port and its device, so the plan may be earlier.
      state.pending = staying;
      plan = planRecall(targets, knowledge, mode);
    }
  }
  for (const { reached } of plan.unreached)
    turn.note({ code: 'no-way', deviceId: reached.device.id, functionId: reached.fn.id });
  forgetReloaded(turn, plan);
  endRamps(turn, plan);
  learnValues(turn, plan);
  const waiting: PlannedSend[] = [];
  for (const planned of plan.sends)
    if (planned.atMs <= turn.leavesMs) emit(turn, planned);
    else waiting.push(planned);
  if (waiting.length > 0) state.pending = [...state.pending, ...waiting].sort((a, b) => a.atMs - b.atMs);
  return plan;
}

/** Sends everything whose time has come. */
export function sendPending(turn: Turn): void {
  for (let first = turn.state.pending[0]; first && first.atMs <= turn.nowMs; first = turn.state.pending[0]) {
    turn.state.pending = turn.state.pending.slice(1);
    emit(turn, first);
  }
}

/** What this application says by a port: a route that takes from there has it first. */
export function send(turn: Turn, portId: string, message: Message, functionId: string | null): void {
  const { routes } = turn.world;
  if (routes.sources.has(portId) || isHeld(turn.state.routes, portId, message))
    route(turn, portId, message, functionId);
  else deliver(turn, portId, message, functionId, null);
}

/** Sends a message through the routes of the port that it comes by. */
export function route(turn: Turn, portId: string, message: Message, functionId: string | null): void {
  const { world, state, nowMs } = turn;
  const conditions = conditionsOf(state);
  const { memory, sends, passages } = passRoutes(
    world.routes,
    state.routes,
    conditions,
    portId,
    message,
    nowMs,
  );
  state.routes = memory;
  for (const passage of passages) {
    turn.effects.push({ kind: 'routed', portId, ...passage });
    if (passage.outcome === 'loop') turn.note({ code: 'route-loop', routeId: passage.routeId });
  }
  deliverAll(turn, sends, functionId);
}

/** What came out of routes leaves, and what it drives is known from now on. */
export function deliverAll(turn: Turn, sends: readonly RoutedSend[], functionId: string | null): void {
  for (const { portId, message, routeId } of sends) {
    if (turn.world.portsOff.has(portId)) {
      turn.note({ code: 'port-off', portId, functionId: null });
      continue;
    }
    // What this application set itself, and no route changed, is known already.
    const isKnown = routeId === null && functionId !== null;
    const driven = isKnown ? null : drivenBy(turn.world, portId, message);
    if (driven && driven.reached.fn.shape.kind !== 'trigger') turn.know(driven.reached.fn.id, driven.value);
    deliver(turn, portId, message, isKnown ? functionId : (driven?.reached.fn.id ?? null), routeId);
  }
}

/** Leaves by a port, whatever routes there are. */
export function deliver(
  turn: Turn,
  portId: string,
  message: Message,
  functionId: string | null,
  routeId: string | null,
): void {
  turn.effects.push({ kind: 'send', atMs: turn.leavesMs, portId, message, functionId, routeId });
  if (message.kind === 'note-on' || message.kind === 'note-off') trackNote(turn, portId, message);
}

/**
 * A chart edited after the value was written may no longer take it, the device may keep it for itself or not have
 * it under its setting, or the port may be switched off: said, not sent.
 */
function accepts(turn: Turn, { reached: { device, fn, path }, value }: RecallTarget): boolean {
  const functionId = fn.id;
  if (!takesValue(fn.shape, value)) turn.note({ code: 'value-refused', functionId, value });
  else if (fn.reserved) turn.note({ code: 'function-reserved', functionId });
  else if (!isInForce(device, fn)) turn.note({ code: 'not-under-setting', functionId });
  else if (path && turn.world.portsOff.has(path.portId))
    turn.note({ code: 'port-off', portId: path.portId, functionId });
  else return true;
  return false;
}

/**
 * Sends now. One that goes out later than planned keeps its device settling for longer, so what waits behind it
 * for the same device is put off with it.
 */
function emit(turn: Turn, planned: PlannedSend): void {
  const { state } = turn;
  for (const message of planned.messages) send(turn, planned.portId, message, planned.functionId);
  const leftAtMs = Math.max(turn.leavesMs, state.portFreeFromMs[planned.portId] ?? 0) + planned.wireMs;
  if (planned.wireMs > 0) state.portFreeFromMs = { ...state.portFreeFromMs, [planned.portId]: leftAtMs };
  const settleMs = settleMsOf(turn, planned);
  if (settleMs === 0) return;
  const listensFromMs = leftAtMs + planned.latencyMs + settleMs;
  state.listensFromMs = { ...state.listensFromMs, [planned.deviceId]: listensFromMs };
  const isEarly = (p: PlannedSend) => p.deviceId === planned.deviceId && p.atMs < listensFromMs;
  if (!state.pending.some(isEarly)) return;
  state.pending = state.pending
    .map((p) => (isEarly(p) ? { ...p, atMs: listensFromMs } : p))
    .sort((a, b) => a.atMs - b.atMs);
}

/** What is known now: what was told or reported, and what is on its way or waiting. */
class Knowledge implements RigKnowledge {
  readonly nowMs: number;

  constructor(private readonly turn: Turn) {
    this.nowMs = turn.leavesMs;
  }

  known(functionId: string): number | undefined {
    return this.turn.state.values[functionId];
  }

  listensFromMs(deviceId: string): number {
    const { listensFromMs, pending } = this.turn.state;
    let ms = listensFromMs[deviceId] ?? 0;
    for (const p of pending) {
      const settleMs = p.deviceId === deviceId ? settleMsOf(this.turn, p) : 0;
      if (settleMs > 0) ms = Math.max(ms, p.landsAtMs + settleMs);
    }
    return ms;
  }

  portFreeFromMs(portId: string): number {
    const { portFreeFromMs, pending } = this.turn.state;
    let ms = portFreeFromMs[portId] ?? 0;
    for (const p of pending) if (p.portId === portId) ms = Math.max(ms, p.landsAtMs - p.latencyMs);
    return ms;
  }
}

/** Takes note of all that a plan tells: copied only where something is told that was not known. */
function learnValues({ state }: Turn, { sends }: RecallPlan): void {
  if (sends.length === 0) return;
  const values = { ...state.values };
  for (const { functionId, value } of sends) values[functionId] = value;
  state.values = values;
}

const settleMsOf = ({ world }: Turn, { functionId }: PlannedSend): number =>
  world.functions.get(functionId)?.fn.settleMs ?? 0;

const functionsOf = (plan: RecallPlan): ReadonlySet<string> => new Set(plan.sends.map((s) => s.functionId));

function forgetReloaded({ state, world }: Turn, plan: RecallPlan): void {
  if (plan.reloaded.size === 0) return;
  const isReloaded = (id: string) => plan.reloaded.has(world.functions.get(id)?.device.id ?? '');
  state.values = Object.fromEntries(Object.entries(state.values).filter(([id]) => !isReloaded(id)));
}

/** What is set by something else is no longer on its ramp. */
function endRamps({ state }: Turn, plan: RecallPlan): void {
  if (state.ramps.length === 0) return;
  const told = functionsOf(plan);
  state.ramps = state.ramps.filter((r) => !told.has(r.functionId));
}

function trackNote(
  { state }: Turn,
  portId: string,
  message: Message & { kind: 'note-on' | 'note-off' },
): void {
  const { channel, note } = message;
  const same = (n: SoundingNote) => n.portId === portId && n.channel === channel && n.note === note;
  const others = state.sounding.filter((n) => !same(n));
  state.sounding = endsNote(message) ? others : [...others, { portId, channel, note }];
}
