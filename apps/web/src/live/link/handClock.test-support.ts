import type { LinkTimer } from './BoardLink';

/** A clock that is moved by hand, and the one timer that goes by it. */
export class HandClock {
  nowMs = 0;
  /** When the timer wakes, in ms; `null` where it was taken back or has done so. */
  dueMs: number | null = null;
  private wake: () => void = () => undefined;

  readonly timerOf = (wake: () => void): LinkTimer => {
    this.wake = wake;
    return { set: (afterMs) => void (this.dueMs = afterMs === null ? null : this.nowMs + afterMs) };
  };

  /** @param lateMs how late the timer is each time. */
  go(toMs: number, lateMs = 0): void {
    while (this.dueMs !== null && this.dueMs + lateMs <= toMs) {
      this.nowMs = Math.max(this.nowMs, this.dueMs + lateMs);
      this.dueMs = null;
      this.wake();
    }
    this.nowMs = toMs;
  }
}
