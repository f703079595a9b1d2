import {
  contactDueMs,
  gestureDueMs,
  PLAIN_TIMING,
  type Assignment,
  type GestureWants,
  LAMP_OFF,
  LAMP_ON,
  type Lamp,
} from '../floor';
import { isInForce, takesValue } from '../gear';
import { controller, endsNote, noteOn, type Message } from '../midi';
import { planRecall, type PlannedSend, type RecallPlan, type RecallTarget, type RigKnowledge } from '../show';
import type { Effect, LiveNote } from './events';
import { isHeld, passRoutes, type RoutedSend } from '../routing';
import { drivenBy } from './drivenBy';
import { lampNow, lampOf } from './lamps';
import { copied, type LiveState, type SoundingNote } from './liveState';
import { conditionsOf, modulationsDueMs } from './routeConditions';
import { rampsDueMs, retimed } from './rampTimes';
import { pageInForce, type World, type WorldBank, type WorldBoard, type WorldLamp } from './world';

/** Of a control that nothing is assigned to. */
const NO_GESTURES: GestureWants = { ...PLAIN_TIMING, hold: false, doublePress: false };

/** What a lamp can follow: while none of it has changed, no lamp has. */
const LAMP_CAUSES = [
  'values',
  'position',
  'banks',
  'pages',
  'ramps',
  'clocks',
  'latched',
  'held',
  'routes',
] as const satisfies readonly (keyof LiveState)[];

/** A coarse half that gets no fine one within this time stands for itself, in ms. Our own choice. */
export const FINE_WITHIN_MS = 10;

/**
 * One step in the making: the state being written and the effects so far. Every record of the state is copied
 * before its first change, so the state that came in is never touched.
 */
export class Turn {
  readonly state: ReturnType<typeof copied>;
  readonly effects: Effect[] = [];
  /** Every lamp is told again, changed or not: after a recall, a bank change and a reconnection. */
  tellsLamps = false;

  constructor(
    readonly world: World,
    private readonly before: LiveState,
    readonly nowMs: number,
  ) {
    this.state = copied(before);
  }

  note(note: LiveNote): void {
    this.effects.push({ kind: 'note', note });
  }

  value(functionId: string): number | undefined {
    return this.state.values[functionId];
  }

  /** Takes over what a function is now, without sending. */
  learn(functionId: string, value: number): void {
    if (this.state.values[functionId] !== value)
      this.state.values = { ...this.state.values, [functionId]: value };
  }

  assignmentOf(boardIndex: number, controlId: string): Assignment | undefined {
    return this.pageOf(boardIndex, controlId)?.assignments.get(controlId);
  }

  /** What the gestures of a control look out for in the page in force. */
  wantsOf(boardIndex: number, controlId: string): GestureWants {
    return this.pageOf(boardIndex, controlId)?.wants.get(controlId) ?? NO_GESTURES;
  }

  /** Sets one function, whatever it was before. A ramp that moved it ends. */
  set(functionId: string, value: number): void {
    const reached = this.world.functions.get(functionId);
    if (!reached) this.note({ code: 'function-gone', functionId });
    else this.recall([{ reached, value }], 'all');
  }

  /** Sets a function on the way of its ramp, which goes on. */
  setOnTheWay(functionId: string, value: number): void {
    const { ramps } = this.state;
    this.set(functionId, value);
    this.state.ramps = ramps;
  }

  /** Plans and carries out. Sends that have to wait stay pending, and a later plan for the same function wins. */
  recall(given: readonly RecallTarget[], mode: 'changes' | 'all'): RecallPlan {
    const { state } = this;
    const targets = given.filter((t) => this.accepts(t));
    let plan = planRecall(targets, this.knowledge(), mode);
    const staying = state.pending.filter((p) => !isOvertaken(p, plan));
    if (staying.length < state.pending.length) {
      // What is overtaken no longer takes up its port and its device, so the plan may be earlier.
      state.pending = staying;
      plan = planRecall(targets, this.knowledge(), mode);
    }
    for (const { reached } of plan.unreached)
      this.note({ code: 'no-way', deviceId: reached.device.id, functionId: reached.fn.id });
    this.forgetReloaded(plan);
    this.endRamps(plan);
    const values = { ...state.values };
    const waiting: PlannedSend[] = [];
    for (const send of plan.sends) {
      values[send.functionId] = send.value;
      if (send.atMs <= this.nowMs) this.emit(send);
      else waiting.push(send);
    }
    state.values = values;
    if (waiting.length > 0) state.pending = [...state.pending, ...waiting].sort((a, b) => a.atMs - b.atMs);
    return plan;
  }

  /** Sends everything whose time has come. */
  flush(): void {
    for (
      let first = this.state.pending[0];
      first && first.atMs <= this.nowMs;
      first = this.state.pending[0]
    ) {
      this.state.pending = this.state.pending.slice(1);
      this.emit(first);
    }
  }

  /** What this application says by a port: a route that takes from there has it first. */
  send(portId: string, message: Message, functionId: string | null): void {
    const { routes } = this.world;
    if (routes.sources.has(portId) || isHeld(this.state.routes, portId, message))
      this.route(portId, message, functionId);
    else this.deliver(portId, message, functionId, null);
  }

  /** Sends a message through the routes of the port that it comes by. */
  route(portId: string, message: Message, functionId: string | null): void {
    const { world, state, nowMs } = this;
    const conditions = conditionsOf(world, state);
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
      this.effects.push({ kind: 'routed', portId, ...passage });
      if (passage.outcome === 'loop') this.note({ code: 'route-loop', routeId: passage.routeId });
    }
    this.deliverAll(sends, functionId);
  }

  /** What came out of routes leaves, and what it drives is known from now on. */
  deliverAll(sends: readonly RoutedSend[], functionId: string | null): void {
    for (const { portId, message, routeId } of sends) {
      if (this.world.portsOff.has(portId)) {
        this.note({ code: 'port-off', portId, functionId: null });
        continue;
      }
      // What this application set itself, and no route changed, is known already.
      const isKnown = routeId === null && functionId !== null;
      const driven = isKnown ? null : drivenBy(this.world, portId, message);
      if (driven && driven.reached.fn.shape.kind !== 'trigger')
        this.learn(driven.reached.fn.id, driven.value);
      this.deliver(portId, message, isKnown ? functionId : (driven?.reached.fn.id ?? null), routeId);
    }
  }

  /** Leaves by a port, whatever routes there are. */
  deliver(portId: string, message: Message, functionId: string | null, routeId: string | null): void {
    this.effects.push({ kind: 'send', atMs: this.nowMs, portId, message, functionId, routeId });
    if (message.kind === 'note-on' || message.kind === 'note-off') this.trackNote(portId, message);
  }

  /** Closes the step: lamps that changed, and when to be called again. */
  finish(): { state: LiveState; effects: Effect[] } {
    this.state.ramps = retimed(this.state.ramps, this.state.tempo.bpm, this.nowMs);
    if (
      this.tellsLamps ||
      this.before.lampsStale ||
      LAMP_CAUSES.some((k) => this.state[k] !== this.before[k])
    )
      this.refreshLamps();
    this.state.lampsStale = false;
    const atMs = this.nextDueMs();
    if (atMs !== null) this.effects.push({ kind: 'wake', atMs });
    return { state: this.state, effects: this.effects };
  }

  /** When something is due next: a send, an action, or a gesture. */
  private nextDueMs(): number | null {
    const { pending, delayed, held, ramps, clocks, contacts, coarse } = this.state;
    let atMs = Math.min(pending[0]?.atMs ?? Infinity, delayed[0]?.atMs ?? Infinity);
    for (const id in held) {
      const due = gestureDueMs(held[id]!.gesture, held[id]!.wants);
      if (due !== null && due < atMs) atMs = due;
    }
    for (const id in contacts) {
      const hardware = this.world.controls.get(id)?.control.hardware;
      const due = hardware ? contactDueMs(contacts[id]!, hardware.debounceMs) : null;
      if (due !== null && due < atMs) atMs = due;
    }
    for (const id in coarse) atMs = Math.min(atMs, coarse[id]!.atMs + FINE_WITHIN_MS);
    for (const portId in clocks) atMs = Math.min(atMs, clocks[portId]!);
    if (ramps.length > 0) atMs = Math.min(atMs, rampsDueMs(ramps, this.nowMs));
    atMs = Math.min(atMs, modulationsDueMs(this.world, this.state, this.nowMs));
    return atMs === Infinity ? null : atMs;
  }

  private pageOf(boardIndex: number, controlId: string): WorldBank | undefined {
    return pageInForce(this.world.boards[boardIndex]!, this.state, controlId);
  }

  /** What is set by something else is no longer on its ramp. */
  private endRamps(plan: RecallPlan): void {
    if (this.state.ramps.length === 0) return;
    const isSet = (id: string) => plan.sends.some((s) => s.functionId === id);
    this.state.ramps = this.state.ramps.filter((r) => !isSet(r.functionId));
  }

  /**
   * A chart edited after the value was written may no longer take it, the device may keep it for itself or not have
   * it under its setting, or the port may be switched off: said, not sent.
   */
  private accepts({ reached: { device, fn, path }, value }: RecallTarget): boolean {
    const functionId = fn.id;
    if (!takesValue(fn.shape, value)) this.note({ code: 'value-refused', functionId, value });
    else if (fn.reserved) this.note({ code: 'function-reserved', functionId });
    else if (!isInForce(device, fn)) this.note({ code: 'not-under-setting', functionId });
    else if (path && this.world.portsOff.has(path.portId))
      this.note({ code: 'port-off', portId: path.portId, functionId });
    else return true;
    return false;
  }

  /**
   * Sends now. One that goes out later than planned keeps its device settling for longer, so what waits behind it
   * for the same device is put off with it.
   */
  private emit(send: PlannedSend): void {
    const { state } = this;
    for (const message of send.messages) this.send(send.portId, message, send.functionId);
    const leftAtMs = Math.max(this.nowMs, state.portFreeFromMs[send.portId] ?? 0) + send.wireMs;
    if (send.wireMs > 0) state.portFreeFromMs = { ...state.portFreeFromMs, [send.portId]: leftAtMs };
    const settleMs = this.settleMsOf(send);
    if (settleMs === 0) return;
    const listensFromMs = leftAtMs + send.latencyMs + settleMs;
    state.listensFromMs = { ...state.listensFromMs, [send.deviceId]: listensFromMs };
    if (!state.pending.some((p) => p.deviceId === send.deviceId && p.atMs < listensFromMs)) return;
    state.pending = state.pending
      .map((p) =>
        p.deviceId === send.deviceId && p.atMs < listensFromMs ? { ...p, atMs: listensFromMs } : p,
      )
      .sort((a, b) => a.atMs - b.atMs);
  }

  /** What is known now: what was told or reported, and what is on its way or waiting. */
  private knowledge(): RigKnowledge {
    const { nowMs, state } = this;
    const latest = (waiting: readonly PlannedSend[], since: number, at: (p: PlannedSend) => number) =>
      waiting.reduce((ms, p) => Math.max(ms, at(p)), since);
    return {
      nowMs,
      known: (id) => state.values[id],
      listensFromMs: (id) =>
        latest(
          state.pending.filter((p) => p.deviceId === id && this.settleMsOf(p) > 0),
          state.listensFromMs[id] ?? 0,
          (p) => p.landsAtMs + this.settleMsOf(p),
        ),
      portFreeFromMs: (id) =>
        latest(
          state.pending.filter((p) => p.portId === id),
          state.portFreeFromMs[id] ?? 0,
          (p) => p.landsAtMs - p.latencyMs,
        ),
    };
  }

  private settleMsOf(send: PlannedSend): number {
    return this.world.functions.get(send.functionId)?.fn.settleMs ?? 0;
  }

  private forgetReloaded(plan: RecallPlan): void {
    if (plan.reloaded.size === 0) return;
    const isReloaded = (id: string) => plan.reloaded.has(this.world.functions.get(id)?.device.id ?? '');
    this.state.values = Object.fromEntries(
      Object.entries(this.state.values).filter(([id]) => !isReloaded(id)),
    );
  }

  private trackNote(portId: string, message: Message & { kind: 'note-on' | 'note-off' }): void {
    const { channel, note } = message;
    const same = (n: SoundingNote) => n.portId === portId && n.channel === channel && n.note === note;
    const others = this.state.sounding.filter((n) => !same(n));
    this.state.sounding = endsNote(message) ? others : [...others, { portId, channel, note }];
  }

  private refreshLamps(): void {
    const { world, state } = this;
    for (let boardIndex = 0; boardIndex < world.boards.length; boardIndex++) {
      const board = world.boards[boardIndex]!;
      this.refreshPage(boardIndex, board, board.banks[state.banks[board.board.id] ?? 0]);
      for (const { group, pages } of board.groups)
        this.refreshPage(boardIndex, board, pages[state.pages[group.id] ?? 0]);
    }
  }

  private refreshPage(boardIndex: number, board: WorldBoard, page: WorldBank | undefined): void {
    for (const entry of page?.lamps ?? []) {
      const { control } = entry;
      const mustTell = this.tellsLamps && control.hardware.lamp !== null;
      if (!mustTell && this.isPlainAndSame(boardIndex, entry)) continue;
      const lamp = lampNow(this.world, this.state, boardIndex, entry);
      const isSame = isSameLamp(this.lampOf(control.id), lamp);
      if (!isSame) this.showLamp(control.id, lamp);
      if (isSame && !this.tellsLamps) continue;
      const { lamp: own } = control.hardware;
      if (!own || board.lampPortId === null || board.board.mode === 'standalone') continue;
      const usual = lamp.light === 'off' ? own.off : lamp.light === 'blink' ? (own.blink ?? own.on) : own.on;
      const channel = control.channel ?? board.device.channel;
      const { kind, number } = control.sends;
      const make = kind === 'note' ? noteOn : controller;
      if (kind === 'note' || kind === 'controller')
        this.effects.push({
          kind: 'send',
          atMs: this.nowMs,
          portId: board.lampPortId,
          message: make(channel, number, lamp.sends ?? usual),
          functionId: null,
          routeId: null,
        });
    }
  }

  /** Most lamps follow their work and have not changed: found out without making anything, at every step. */
  private isPlainAndSame(boardIndex: number, { control, assignment, rule }: WorldLamp): boolean {
    if ((rule !== null && rule.kind !== 'work') || this.state.looks[control.id]) return false;
    const down = this.state.held[control.id]?.gesture.isDown ?? false;
    return (
      lampOf(this.world, this.state, boardIndex, assignment, down) === (this.state.lamps[control.id] ?? false)
    );
  }

  /** What a lamp was told last. */
  private lampOf(controlId: string): Lamp {
    const { lamps, looks } = this.state;
    return looks[controlId] ?? (lamps[controlId] ? LAMP_ON : LAMP_OFF);
  }

  private showLamp(controlId: string, { light, colour }: Lamp): void {
    const { state } = this;
    const on = light !== 'off';
    state.lamps = { ...state.lamps, [controlId]: on };
    const { [controlId]: _before, ...looks } = state.looks;
    const isPlain = light !== 'blink' && colour === null;
    if (!isPlain || controlId in state.looks)
      state.looks = isPlain ? looks : { ...looks, [controlId]: { light, colour } };
    this.effects.push({ kind: 'lamp', controlId, on, lamp: { light, colour } });
  }
}

const isSameLamp = (a: Lamp, b: Lamp): boolean => a.light === b.light && a.colour === b.colour;

/** Whether a waiting send is replaced by a plan: its function is set anew, or its device loads another program. */
const isOvertaken = (send: PlannedSend, plan: RecallPlan): boolean =>
  plan.reloaded.has(send.deviceId) || plan.sends.some((s) => s.functionId === send.functionId);
