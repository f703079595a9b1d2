import type { Assignment } from '../floor';
import { takesValue } from '../gear';
import { endsNote, type Message } from '../midi';
import { planRecall, type PlannedSend, type RecallPlan, type RecallTarget } from '../show';
import type { Effect, LiveNote } from './events';
import { lampOf } from './lamps';
import type { LiveState, SoundingNote } from './liveState';
import type { World } from './world';

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

/**
 * One step in the making: the state being written and the effects so far. Every record of the state is copied
 * before its first change, so the state that came in is never touched.
 */
export class Turn {
  readonly state: Mutable<LiveState>;
  readonly effects: Effect[] = [];

  constructor(
    readonly world: World,
    before: LiveState,
    readonly nowMs: number,
  ) {
    this.state = { ...before };
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
    const { board, banks } = this.world.boards[boardIndex]!;
    return banks[this.state.banks[board.id] ?? 0]?.assignments.get(controlId);
  }

  /** Sets one function, whatever it was before. */
  set(functionId: string, value: number): void {
    const reached = this.world.functions.get(functionId);
    if (!reached) this.note({ code: 'function-gone', functionId });
    else this.recall([{ reached, value }], 'all');
  }

  /** Plans and carries out. Sends that have to wait stay pending, and a later plan for the same function wins. */
  recall(targets: readonly RecallTarget[], mode: 'changes' | 'all'): RecallPlan {
    const { state } = this;
    const plan = planRecall(
      targets.filter((t) => this.accepts(t)),
      {
        nowMs: this.nowMs,
        known: (id) => state.values[id],
        listensFromMs: (id) => state.listensFromMs[id] ?? 0,
        portFreeFromMs: (id) => state.portFreeFromMs[id] ?? 0,
      },
      mode,
    );
    for (const { reached } of plan.unreached)
      this.note({ code: 'no-way', deviceId: reached.device.id, functionId: reached.fn.id });
    this.dropOvertaken(plan);
    this.forgetReloaded(plan);
    if (plan.portFreeFromMs.size > 0)
      state.portFreeFromMs = { ...state.portFreeFromMs, ...Object.fromEntries(plan.portFreeFromMs) };
    if (plan.listensFromMs.size > 0)
      state.listensFromMs = { ...state.listensFromMs, ...Object.fromEntries(plan.listensFromMs) };
    const values = { ...state.values };
    const waiting: PlannedSend[] = [];
    for (const send of plan.sends) {
      values[send.functionId] = send.value;
      if (send.atMs <= this.nowMs) this.emit(send);
      else waiting.push(send);
    }
    state.values = values;
    if (waiting.length > 0) {
      state.pending = [...state.pending, ...waiting].sort((a, b) => a.atMs - b.atMs);
    }
    return plan;
  }

  /** Sends everything whose time has come. */
  flush(): void {
    const due = this.state.pending.filter((p) => p.atMs <= this.nowMs);
    if (due.length === 0) return;
    this.state.pending = this.state.pending.filter((p) => p.atMs > this.nowMs);
    for (const send of due) this.emit(send);
  }

  send(portId: string, message: Message, functionId: string | null): void {
    this.effects.push({ kind: 'send', atMs: this.nowMs, portId, message, functionId });
    if (message.kind === 'note-on' || message.kind === 'note-off') this.trackNote(portId, message);
  }

  /** Closes the step: lamps that changed, and when to be called again. */
  finish(): { state: LiveState; effects: Effect[] } {
    this.refreshLamps();
    const next = this.state.pending[0];
    if (next) this.effects.push({ kind: 'wake', atMs: next.atMs });
    return { state: this.state, effects: this.effects };
  }

  /** A chart edited after the value was written may no longer take it: said, not sent. */
  private accepts({ reached: { fn }, value }: RecallTarget): boolean {
    const takes = takesValue(fn.shape, value);
    if (!takes) this.note({ code: 'value-refused', functionId: fn.id, value });
    return takes;
  }

  private emit(send: PlannedSend): void {
    for (const message of send.messages) this.send(send.portId, message, send.functionId);
  }

  private dropOvertaken(plan: RecallPlan): void {
    if (this.state.pending.length === 0 || plan.sends.length === 0) return;
    const resent = new Set(plan.sends.map((s) => s.functionId));
    this.state.pending = this.state.pending.filter(
      (p) => !resent.has(p.functionId) && !plan.reloaded.has(p.deviceId),
    );
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
    let changed: Record<string, boolean> | null = null;
    world.boards.forEach(({ board }, boardIndex) => {
      for (const control of board.controls) {
        if (control.kind !== 'footswitch') continue;
        const on = lampOf(
          world,
          state,
          boardIndex,
          this.assignmentOf(boardIndex, control.id),
          state.held[control.id] !== undefined,
        );
        if ((state.lamps[control.id] ?? false) === on) continue;
        (changed ??= {})[control.id] = on;
        this.effects.push({ kind: 'lamp', controlId: control.id, on });
      }
    });
    if (changed) state.lamps = { ...state.lamps, ...(changed as Record<string, boolean>) };
  }
}
