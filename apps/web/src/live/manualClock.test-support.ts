import type { LiveClock } from './clock';

/** Time that stands still until it is told to go on. */
export class ManualClock implements LiveClock {
  nowMs = 1000;
  wake: (atMs: number) => void = () => undefined;
  wakes: (number | null)[] = [];
  private wishMs: number | null = null;
  private readonly todo: { atMs: number; call: () => void }[] = [];
  now = () => this.nowMs;
  wallMs = () => 0;
  ofPort = (stampMs: number) => stampMs;
  toPort = (atMs: number) => atMs;
  paceChanged = (): void => undefined;
  timer = () => ({ set: () => undefined });
  wakeAt(atMs: number | null): void {
    this.wishMs = atMs;
    this.wakes.push(atMs);
  }
  after(ms: number, call: () => void): void {
    this.todo.push({ atMs: this.nowMs + ms, call });
  }
  atFrame(call: () => void): void {
    call();
  }
  /** @param lateMs how late every timer is. */
  go(toMs: number, lateMs = 0): void {
    while (this.wishMs !== null && this.wishMs + lateMs <= toMs) {
      this.nowMs = Math.max(this.nowMs, this.wishMs + lateMs);
      this.wishMs = null;
      this.wake(this.nowMs);
    }
    this.nowMs = toMs;
  }
}
