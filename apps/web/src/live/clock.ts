/** The time that playing goes by. The host is handed one, so that a test can hold it still. */
export type LiveClock = {
  /** In ms, monotonic, on the clock that ports stamp their messages with. */
  now(): number;
  /** Time of day, in ms, for people. */
  wallMs(): number;
  /** Calls `wake` as soon after a time as it can; a later call replaces an earlier one, `null` takes it back. */
  wakeAt(atMs: number | null): void;
  /** What `wakeAt` calls. */
  wake: () => void;
  /** Calls once after some ms. */
  after(ms: number, call: () => void): void;
  /** Calls once at the next drawn frame, or at once where none comes. */
  atFrame(call: () => void): void;
};

/** What the timer's worker is told: to wake after some ms, or not at all. */
export type TimerWish = { readonly wish: number; readonly afterMs: number | null };

/** The clock of this window. Its timer is a worker's, which a hidden window does not slow down. */
export class WindowClock implements LiveClock {
  wake = (): void => undefined;
  private readonly worker = startTimer();
  private wish = 0;
  private wishedMs: number | null = null;

  constructor() {
    this.worker.onmessage = (event: MessageEvent<number>) => {
      // An answer to a wish that was replaced while it was on its way.
      if (event.data !== this.wish) return;
      this.wishedMs = null;
      this.wake();
    };
  }

  now(): number {
    return performance.now();
  }

  wallMs(): number {
    return Date.now();
  }

  wakeAt(atMs: number | null): void {
    // Most of what happens changes nothing about what comes next.
    if (atMs === this.wishedMs) return;
    this.wishedMs = atMs;
    this.wish++;
    // Timers may fire a little early; a rounded-up wait spares a second one.
    const afterMs = atMs === null ? null : Math.max(0, Math.ceil(atMs - this.now()));
    this.worker.postMessage({ wish: this.wish, afterMs } satisfies TimerWish);
  }

  after(ms: number, call: () => void): void {
    window.setTimeout(call, ms);
  }

  atFrame(call: () => void): void {
    if (document.hidden) call();
    else requestAnimationFrame(call);
  }
}

const startTimer = (): Worker =>
  new Worker(new URL('./timer.worker.ts', import.meta.url), { type: 'module', name: 'timer' });
