import { liveNow, realMs, toLive, toReal } from './liveTime';

/** The time that playing goes by. The host is handed one, so that a test can hold it still. */
export type LiveClock = {
  /** In ms, monotonic, on the clock that ports stamp their messages with. */
  now(): number;
  /** Time of day, in ms, for people. */
  wallMs(): number;
  /** A stamp of a port as a time on this clock. */
  ofPort(stampMs: number): number;
  /**
   * Calls `wake` for a time: a little ahead of it, so that what is due then can be handed to the ports with its stamp, or
   * as soon after it as it can. A later call replaces an earlier one, `null` takes it back.
   */
  wakeAt(atMs: number | null): void;
  /** What `wakeAt` calls. @param atMs the time that is due, not before now. */
  wake: (atMs: number) => void;
  /** A time of this clock as a stamp for ports. */
  toPort(atMs: number): number;
  /** Calls once after some ms. */
  after(ms: number, call: () => void): void;
  /** A timer of its own, on the computer's clock. */
  timer(wake: () => void): { set(afterMs: number | null): void };
  /** Time goes at another pace since. */
  paceChanged(): void;
  /** Calls once at the next drawn frame, or at once where none comes. */
  atFrame(call: () => void): void;
};

/**
 * How far ahead of its time something is looked at, in ms of the computer's clock: more than timers are late, and so little
 * that it makes no difference to what a foot does in between.
 */
const AHEAD_MS = 4;

/**
 * How long before that what a glide or a clock says is handed to the ports, with its stamp, in ms: longer than a browser
 * takes to sweep its memory up (13 ms seen), and so short that a foot that takes over the same value does not notice. Our
 * own choice.
 */
export const HANDED_AHEAD_MS = 24;

/** What waits for a frame waits no longer than this, in ms: long beside a frame that is only late. */
const LONGEST_FRAME_MS = 200;

/** What the timer's worker is told: to wake after some ms, or not at all. */
export type TimerWish = { readonly wish: number; readonly afterMs: number | null };

/** A timer that a hidden window does not slow down: a worker's. */
export class WorkerTimer {
  private readonly worker = startTimer();
  private wish = 0;

  constructor(private readonly wake: () => void) {
    this.worker.onmessage = (event: MessageEvent<number>) => {
      // Not an answer to a wish that was replaced while it was on its way.
      if (event.data === this.wish) this.wake();
    };
  }

  /** In so many ms of the computer's clock, in place of what was wished before; `null` takes it back. */
  set(afterMs: number | null): void {
    this.wish++;
    this.worker.postMessage({ wish: this.wish, afterMs } satisfies TimerWish);
  }
}

/** The clock of this window. */
export class WindowClock implements LiveClock {
  wake: (atMs: number) => void = () => undefined;
  private readonly waker = new WorkerTimer(() => {
    const dueMs = this.wishedMs ?? 0;
    this.wishedMs = null;
    this.wake(Math.max(dueMs, this.now()));
  });
  private wishedMs: number | null = null;
  private atNextFrame: (() => void)[] = [];
  private nextFrame = 0;
  private noFrame: number | undefined;

  constructor() {
    // No frame comes to a window that is hidden meanwhile, and what waits for one would wait until it is seen again.
    document.addEventListener('visibilitychange', () => {
      if (document.hidden) this.frame();
    });
  }

  now(): number {
    return liveNow();
  }

  wallMs(): number {
    return Date.now();
  }

  toPort(atMs: number): number {
    return toReal(atMs);
  }

  ofPort(stampMs: number): number {
    return toLive(stampMs);
  }

  /** The time goes at another pace from now on: what was wished for is due at another time. */
  paceChanged(): void {
    const wishedMs = this.wishedMs;
    this.wishedMs = null;
    if (wishedMs !== null) this.wakeAt(wishedMs);
  }

  wakeAt(atMs: number | null): void {
    // Most of what happens changes nothing about what comes next.
    if (atMs === this.wishedMs) return;
    this.wishedMs = atMs;
    this.waker.set(atMs === null ? null : Math.max(0, Math.floor(realMs(atMs - this.now()) - AHEAD_MS)));
  }

  timer(wake: () => void): WorkerTimer {
    return new WorkerTimer(wake);
  }

  after(ms: number, call: () => void): void {
    window.setTimeout(call, realMs(ms));
  }

  atFrame(call: () => void): void {
    if (document.hidden) {
      call();
      return;
    }
    this.atNextFrame.push(call);
    if (this.atNextFrame.length > 1) return;
    this.nextFrame = requestAnimationFrame(this.frame);
    // A window that counts as seen but lies behind another one may get no frame.
    this.noFrame = window.setTimeout(this.frame, LONGEST_FRAME_MS);
  }

  private readonly frame = (): void => {
    cancelAnimationFrame(this.nextFrame);
    window.clearTimeout(this.noFrame);
    const calls = this.atNextFrame;
    this.atNextFrame = [];
    for (const call of calls) call();
  };
}

const startTimer = (): Worker =>
  new Worker(new URL('./timer.worker.ts', import.meta.url), { type: 'module', name: 'timer' });
