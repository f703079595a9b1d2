import {
  checkAgain,
  checkDueMs,
  checkOn,
  checkThings,
  learnedIn,
  startCheck,
  type Checked,
  type CheckEvent,
  type CheckMode,
  type LineCheck,
} from '@idle-step/core/check';
import type { World } from '@idle-step/core/engine';
import type { Message } from '@idle-step/core/midi';
import type { LinkTimer } from './BoardLink';

export type CheckHost = {
  world(): World;
  send(portId: string, message: Message): void;
  refusal(): string | null;
  /** What was told to lamps is no more what they should show. */
  lampsAreOff(): void;
};

/** A line check over the ports of this window: while it runs, what is pressed is only listened to. */
export class LineCheckRun {
  /** Who is told once a check has ended. */
  onDone: ((check: LineCheck) => void) | null = null;
  private check: LineCheck | null = null;
  private isToldOf = false;
  private readonly learning = new Set<string>();
  private readonly listeners = new Set<() => void>();
  private readonly timer: LinkTimer;

  constructor(
    private readonly host: CheckHost,
    timerOf: (wake: () => void) => LinkTimer,
    private readonly now: () => number = () => performance.now(),
  ) {
    this.timer = timerOf(() => this.event({ kind: 'tick', atMs: this.now() }));
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  /** The check on its way, or the last one of this page. */
  readonly getSnapshot = (): LineCheck | null => this.check;

  get isRunning(): boolean {
    return this.check !== null && !this.check.isDone;
  }

  /** @returns why it cannot begin, or `null`. */
  start(mode: CheckMode, onlyUsed: boolean): string | null {
    const why = this.host.refusal();
    if (why !== null) return why;
    const things = checkThings(this.host.world(), onlyUsed);
    if (things.length === 0)
      return 'There is nothing to check: no board that this application plays is cabled to the computer.';
    this.isToldOf = false;
    this.take(startCheck(things, mode, this.now(), Math.floor(this.now())));
    return null;
  }

  /** A message arrived. @returns whether it was listened to here, and is played no further. */
  heard(portId: string, message: Message): boolean {
    if (!this.isRunning) return false;
    this.event({ kind: 'message', atMs: this.now(), portId, message });
    return true;
  }

  key(number: number, isDown: boolean): boolean {
    if (!this.isRunning) return false;
    this.event({ kind: 'key', atMs: this.now(), number, isDown });
    return true;
  }

  portLost(portId: string): void {
    this.event({ kind: 'port-lost', atMs: this.now(), portId });
  }

  putOff(): void {
    this.event({ kind: 'put-off', atMs: this.now() });
  }

  stop(): void {
    this.event({ kind: 'stop', atMs: this.now() });
  }

  /** Checks some things once more. */
  again(ids: readonly string[]): void {
    if (!this.check) return;
    this.isToldOf = false;
    this.take(checkAgain(this.check, ids, this.now()));
  }

  /** What was said of the last check is put aside. */
  setAside(): void {
    if (this.isRunning) return;
    this.check = null;
    this.changed();
  }

  /** A control is learned anew from what the check heard: it is right once the rig that is played has it so. */
  learnsWhenEdited(controlId: string): void {
    this.learning.add(controlId);
  }

  /** The rig that is played was edited. */
  rigChanged(): void {
    const { boardById } = this.host.world();
    const boards = (this.check?.things ?? []).flatMap((t) => (t.kind === 'device' ? [] : t.boardId));
    const isOther = boards.length > 0 && boards.every((id) => !boardById.has(id));
    if (this.isRunning && isOther) this.stop();
    for (const id of this.learning) this.learned(id);
    this.learning.clear();
  }

  private learned(controlId: string): void {
    const entry = this.host.world().controls.get(controlId);
    const board = entry && this.host.world().boards[entry.boardIndex];
    if (!this.check || !entry || !board) return;
    this.check = learnedIn(this.check, entry.control, entry.control.channel ?? board.device.channel);
    this.isToldOf = false;
    this.tellOnce();
    this.changed();
  }

  private event(event: CheckEvent): void {
    if (!this.check) return;
    // A window that gave the ports away hears nothing any more: what it would find is not so.
    const isDeaf = this.isRunning && this.host.refusal() !== null;
    this.take(checkOn(this.check, isDeaf ? { kind: 'stop', atMs: this.now() } : event));
  }

  private take({ check, send }: Checked): void {
    const wasRunning = this.isRunning;
    this.check = check;
    for (const { portId, message } of send) this.host.send(portId, message);
    const dueMs = checkDueMs(check);
    this.timer.set(dueMs === null ? null : Math.max(0, dueMs - this.now()));
    if (check.isDone && wasRunning) this.host.lampsAreOff();
    this.tellOnce();
    this.changed();
  }

  private tellOnce(): void {
    if (!this.check?.isDone || this.isToldOf) return;
    this.isToldOf = true;
    if (Object.keys(this.check.results).length > 0) this.onDone?.(this.check);
  }

  private changed(): void {
    for (const listener of this.listeners) listener();
  }
}
