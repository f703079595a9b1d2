import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { PRESS, Shown } from '../../live/use/afterPress.test-support';
import { drawInPace } from './drawInPace';

const FRAME_MS = 1000 / 60;

/** Lines that are counted only, and who waits for the next one. */
class Counted {
  total = 0;
  private readonly waiting = new Set<() => void>();

  readonly whenAdded = (tell: () => void): (() => void) => {
    this.waiting.add(tell);
    return () => this.waiting.delete(tell);
  };

  get isAwaited(): boolean {
    return this.waiting.size > 0;
  }

  add(): void {
    this.total++;
    const told = [...this.waiting];
    this.waiting.clear();
    for (const tell of told) tell();
  }
}

/** A monitor that draws nothing but when it would: in ms of the clock, and how many lines there were. */
class Drawing {
  readonly log = new Counted();
  readonly shown = new Shown();
  readonly drawn: { readonly atMs: number; readonly total: number; readonly perSecond: number | null }[] = [];
  readonly stop = drawInPace(
    { log: this.log, subscribe: this.shown.subscribe, getSnapshot: this.shown.getSnapshot },
    (total, { floodPerSecond }) =>
      this.drawn.push({ atMs: performance.now(), total, perSecond: floodPerSecond }),
  );

  press(): void {
    this.shown.tell({ lastPress: { ...PRESS } });
  }

  /** Lines come at an even pace, none where `perSecond` is 0. */
  run(forMs: number, perSecond: number): void {
    const untilMs = performance.now() + forMs;
    const everyMs = 1000 / perSecond;
    while (performance.now() + everyMs <= untilMs) {
      vi.advanceTimersByTime(everyMs);
      this.log.add();
    }
    vi.advanceTimersByTime(untilMs - performance.now());
  }

  /** A flood goes on until the first drawing more. */
  runToDrawing(): number {
    const before = this.drawn.length;
    while (this.drawn.length === before) this.run(4, 500);
    return this.drawn.at(-1)!.atMs;
  }
}

/** As a browser asks for frames, sixty a second. */
let asked: number;
beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] });
  asked = 0;
  vi.stubGlobal('requestAnimationFrame', (draw: (nowMs: number) => void) => {
    asked++;
    const leftMs = FRAME_MS - (performance.now() % FRAME_MS);
    return setTimeout(() => draw(performance.now()), leftMs);
  });
  vi.stubGlobal('cancelAnimationFrame', clearTimeout);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('a flood', () => {
  it('is drawn right after a press, and half a second later than it could be without one', () => {
    const drawing = new Drawing();
    // Until it is known for one and is drawn as seldom as it ever is.
    drawing.run(6000, 500);
    const beganMs = drawing.runToDrawing();
    expect(drawing.drawn.at(-1)!.perSecond).toBe(500);
    const leftAloneMs = drawing.runToDrawing() - beganMs;
    expect(leftAloneMs).toBeGreaterThanOrEqual(2000);
    expect(leftAloneMs).toBeLessThan(2000 + 3 * FRAME_MS);

    // Not for a press before its time, and for the first one after it at once.
    const drawings = drawing.drawn.length;
    drawing.run(1400, 500);
    drawing.press();
    drawing.run(200, 500);
    expect(drawing.drawn).toHaveLength(drawings);
    drawing.press();
    expect(drawing.drawn).toHaveLength(drawings + 1);
    expect(drawing.drawn.at(-1)!.total).toBe(drawing.log.total);
  });

  it('is shown to its end, and told of no more', () => {
    const drawing = new Drawing();
    drawing.run(6000, 500);
    drawing.run(5000, 0);
    expect(drawing.drawn.at(-1)).toMatchObject({ total: 3000, perSecond: null });
    const { length } = drawing.drawn;
    drawing.log.add();
    vi.advanceTimersByTime(2 * FRAME_MS);
    expect(drawing.drawn).toHaveLength(length + 1);
  });
});

it('no frame is asked for while nothing comes', () => {
  const drawing = new Drawing();
  drawing.run(1000, 10);
  vi.advanceTimersByTime(100);
  const before = asked;
  vi.advanceTimersByTime(60_000);
  expect(asked).toBe(before);
  expect(drawing.log.isAwaited).toBe(true);
  expect(drawing.drawn.at(-1)!.total).toBe(10);
});

it.each([
  ['a line', 100, 0],
  ['a frame', 100, 10],
  ['its time in a flood', 6000, 500],
])('is ended while it waits for %s', (_, forMs, perSecond) => {
  const drawing = new Drawing();
  if (perSecond > 0) drawing.run(forMs, perSecond);
  const { length } = drawing.drawn;
  drawing.stop();
  drawing.log.add();
  drawing.press();
  vi.advanceTimersByTime(5000);
  expect(drawing.drawn).toHaveLength(length);
});
