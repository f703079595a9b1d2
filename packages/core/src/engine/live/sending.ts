import { isInForce, keepsNumber, registersOf, takesValue } from '../../gear';
import { endsNote, type Message } from '../../midi';
import { echoesDueMs, hasBegun, passRoutes, releaseEchoes, type RoutedSend } from '../../routing';
import {
  planRecall,
  type PlannedSend,
  type Reached,
  type RecallPlan,
  type RecallTarget,
  type RigKnowledge,
} from '../../show';
import { drivenBy } from '../heard/drivenBy';
import { stands } from '../state/known';
import type { SoundingNote } from '../state/liveState';
import { conditionsOf } from '../heard/routeConditions';
import type { Live } from './live';
import { takeIn, takeTurn } from './takeIn';

/** Sets one function, whatever it was before. A ramp that moved it ends. */
export function setFunction(live: Live, functionId: string, value: number): void {
  const reached = live.world.functions.get(functionId);
  if (!reached) live.note({ code: 'function-gone', functionId });
  else recall(live, [{ reached, value }], 'all');
}

/** Sets a function on the way of its ramp, which goes on. */
export function setOnTheWay(live: Live, functionId: string, value: number): void {
  const { ramps } = live.state;
  setFunction(live, functionId, value);
  live.state.ramps = ramps;
}

/** Plans and carries out. Sends that have to wait stay pending, and a later plan for the same function wins. */
export function recall(live: Live, given: readonly RecallTarget[], mode: 'changes' | 'all'): RecallPlan {
  const { state } = live;
  const targets = given.filter((t) => accepts(live, t));
  const knowledge = new Knowledge(live);
  let plan = planRecall(targets, knowledge, mode);
  if (state.pending.length > 0) {
    const told = toldBy(plan);
    const staying = state.pending.filter((p) => !plan.reloaded.has(p.deviceId) && !told.whole(p));
    if (staying.length < state.pending.length) {
      // Sends that the plan replaces do not use their port and device any more, so the plan is made again and may be earlier.
      state.pending = staying;
      plan = planRecall(targets, knowledge, mode);
    }
  }
  for (const { reached } of plan.unreached)
    live.note({ code: 'no-way', deviceId: reached.device.id, functionId: reached.fn.id });
  endRamps(live, plan);
  const waiting: PlannedSend[] = [];
  for (const planned of plan.sends)
    if (planned.atMs <= live.leavesMs) emit(live, planned);
    else waiting.push(planned);
  if (waiting.length > 0) state.pending = [...state.pending, ...waiting].sort((a, b) => a.atMs - b.atMs);
  return plan;
}

/** Sends everything whose time has come. */
export function sendPending(live: Live): void {
  for (let first = live.state.pending[0]; first && first.atMs <= live.nowMs; first = live.state.pending[0]) {
    live.state.pending = live.state.pending.slice(1);
    emit(live, first);
  }
}

/** What this application says by a port: a route that takes from there has it first. */
export function send(live: Live, portId: string, message: Message, functionId: string | null): void {
  const { routes } = live.world;
  if (routes.sources.has(portId) || hasBegun(live.state.routes, portId, message))
    route(live, portId, message, functionId);
  else deliver(live, portId, message, functionId, null);
}

/** Sends a message through the routes of the port that it comes by. */
export function route(live: Live, portId: string, message: Message, functionId: string | null): void {
  const { world, state, nowMs } = live;
  const conditions = conditionsOf(world, state);
  const done = passRoutes(world.routes, state.routes, conditions, portId, message, nowMs);
  takeRouted(live, done, () => portId, functionId);
}

/** What was held back, since it may have gone round, leaves. */
export function releaseRouted(live: Live): void {
  const { world, state, nowMs, leavesMs } = live;
  if (echoesDueMs(state.routes.repeats) > nowMs) return;
  const conditions = conditionsOf(world, state);
  const done = releaseEchoes(world.routes, state.routes, conditions, nowMs, leavesMs);
  takeRouted(live, done, (id) => world.routes.byId.get(id)?.from.portIds[0] ?? '', null);
}

function takeRouted(
  live: Live,
  { memory, sends, passages }: ReturnType<typeof passRoutes>,
  portOf: (routeId: string) => string,
  functionId: string | null,
): void {
  live.state.routes = memory;
  for (const passage of passages) {
    live.effects.push({ kind: 'routed', portId: portOf(passage.routeId), ...passage });
    if (passage.outcome === 'loop') live.note({ code: 'route-loop', routeId: passage.routeId });
  }
  deliverAll(live, sends, functionId);
}

/** What came out of routes leaves. */
export function deliverAll(live: Live, sends: readonly RoutedSend[], functionId: string | null): void {
  for (const { portId, message, routeId } of sends) {
    if (live.world.portsOff.has(portId)) {
      live.note({ code: 'port-off', portId, functionId: null });
      continue;
    }
    // What this application set itself, and no route changed, is known already.
    const isKnown = routeId === null && functionId !== null;
    const driven = isKnown ? null : drivenBy(live.world, portId, message);
    deliver(live, portId, message, isKnown ? functionId : (driven?.reached.fn.id ?? null), routeId);
  }
}

/** Leaves by a port, whatever routes there are; what it writes in the gear behind it is known from now on. */
export function deliver(
  live: Live,
  portId: string,
  message: Message,
  functionId: string | null,
  routeId: string | null,
): void {
  live.effects.push({
    kind: 'send',
    atMs: live.leavesMs,
    dueMs: live.dueMs,
    portId,
    message,
    functionId,
    routeId,
  });
  takeIn(live, portId, message);
  if (functionId !== null) takeTurn(live, functionId);
  if (message.kind === 'note-on' || message.kind === 'note-off') trackNote(live, portId, message);
}

/**
 * A chart edited after the value was written may no longer take it, the device may keep it for itself or not have
 * it under its setting, or the port may be switched off: said, not sent.
 */
function accepts(live: Live, { reached: { device, fn, path }, value }: RecallTarget): boolean {
  const functionId = fn.id;
  if (!takesValue(fn.shape, value)) live.note({ code: 'value-refused', functionId, value });
  else if (fn.reserved) live.note({ code: 'function-reserved', functionId });
  else if (fn.drive.kind === 'controller' && keepsNumber(device, fn.drive.controller))
    live.note({ code: 'function-reserved', functionId });
  else if (!isInForce(device, fn)) live.note({ code: 'not-under-setting', functionId });
  else if (path && live.world.portsOff.has(path.portId))
    live.note({ code: 'port-off', portId: path.portId, functionId });
  else return true;
  return false;
}

/** Sends now. Where it leaves later than planned its device settles later, and sends that wait for it are put off. */
function emit(live: Live, planned: PlannedSend): void {
  const { state } = live;
  for (const message of planned.messages) send(live, planned.portId, message, planned.functionId);
  // What is handed over ahead does not make later sends wait.
  const fromMs = Math.max(live.nowMs, live.lateUntilMs, state.portFreeFromMs[planned.portId] ?? 0);
  const leftAtMs = fromMs + planned.wireMs;
  if (planned.wireMs > 0) state.portFreeFromMs = { ...state.portFreeFromMs, [planned.portId]: leftAtMs };
  const settleMs = settleMsOf(live, planned);
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

  constructor(private readonly live: Live) {
    this.nowMs = live.leavesMs;
  }

  stands(reached: Reached, value: number): boolean {
    return stands(this.live.state, reached, value);
  }

  listensFromMs(deviceId: string): number {
    const { listensFromMs, pending } = this.live.state;
    let ms = listensFromMs[deviceId] ?? 0;
    for (const p of pending) {
      const settleMs = p.deviceId === deviceId ? settleMsOf(this.live, p) : 0;
      if (settleMs > 0) ms = Math.max(ms, p.landsAtMs + settleMs);
    }
    return ms;
  }

  portFreeFromMs(portId: string): number {
    const { portFreeFromMs, pending } = this.live.state;
    let ms = portFreeFromMs[portId] ?? 0;
    for (const p of pending) if (p.portId === portId) ms = Math.max(ms, p.landsAtMs - p.latencyMs);
    return ms;
  }
}

const settleMsOf = ({ world }: Live, { functionId }: PlannedSend): number =>
  world.functions.get(functionId)?.fn.settleMs ?? 0;

/** The functions that a plan sends, and the registers that it writes. */
function toldBy(plan: RecallPlan): {
  /** Whether the plan sends everything that another send would. */
  readonly whole: (planned: PlannedSend) => boolean;
  /** Whether the plan changes anything that a function reads or writes. */
  readonly any: (reached: Reached) => boolean;
} {
  const ids = new Set<string>();
  const keys = new Set<string>();
  for (const { functionId, writes } of plan.sends) {
    ids.add(functionId);
    for (const { key } of writes) keys.add(key);
  }
  return {
    whole: ({ functionId, writes }) =>
      ids.has(functionId) || (writes.length > 0 && writes.every((w) => keys.has(w.key))),
    any: ({ device, fn }) => ids.has(fn.id) || registersOf(device, fn).touches.some((key) => keys.has(key)),
  };
}

/** Ends glides of functions that the plan sets. */
function endRamps({ state, world }: Live, plan: RecallPlan): void {
  if (state.ramps.length === 0) return;
  const told = toldBy(plan);
  state.ramps = state.ramps.filter((r) => {
    const reached = world.functions.get(r.functionId);
    return !reached || !told.any(reached);
  });
}

function trackNote(
  { state }: Live,
  portId: string,
  message: Message & { kind: 'note-on' | 'note-off' },
): void {
  const { channel, note } = message;
  const same = (n: SoundingNote) => n.portId === portId && n.channel === channel && n.note === note;
  const others = state.sounding.filter((n) => !same(n));
  // A note-off that an unplugged port misses is sent once the port is back.
  if (endsNote(message) && others.length < state.sounding.length && state.lostPorts.includes(portId))
    state.hung = [...state.hung.filter((n) => !same(n)), { portId, channel, note }];
  state.sounding = endsNote(message) ? others : [...others, { portId, channel, note }];
}
