import { describe, expect, it } from 'vitest';
import { DrawPace } from './drawPace';

const FRAME_MS = 1000 / 60;

/** Lines come by `linesAt` (how many until a time), presses in some frames; when lines were drawn and how many by then. */
function play(
  linesAt: (ms: number) => number,
  untilMs: number,
  isPressedAt: (frame: number) => boolean = () => false,
): { atMs: number; total: number }[] {
  const pace = new DrawPace();
  pace.drawn(-10_000, 0);
  const drawn: { atMs: number; total: number }[] = [];
  for (let frame = 0; frame * FRAME_MS <= untilMs; frame++) {
    const atMs = frame * FRAME_MS;
    const total = linesAt(atMs);
    if (!pace.hasMore(total) || pace.leftMs(atMs) > 0) continue;
    if (pace.mayWaitMs(atMs) > 0 && !isPressedAt(frame)) continue;
    pace.drawn(atMs, total);
    drawn.push({ atMs, total });
  }
  return drawn;
}
const between = (list: readonly { atMs: number }[], fromMs: number, toMs: number): number =>
  list.filter((d) => d.atMs >= fromMs && d.atMs < toMs).length;

describe('lines are drawn', () => {
  it('with every frame that has one while little comes', () => {
    // A clock of 24 a beat at 120 bpm (MIDI 1.0 Detailed Specification 4.2: 24 clocks a quarter note).
    expect(play((ms) => Math.floor((ms * 48) / 1000), 2010)).toHaveLength(96);
  });

  it.each([300, 500, 3000])('seldom in a flood of %i/s, and seldom from its beginning', (perSecond) => {
    const drawn = play((ms) => Math.floor((ms * perSecond) / 1000), 12_000);
    expect(between(drawn, 0, 1000)).toBeLessThanOrEqual(7);
    expect(between(drawn, 6000, 12_000)).toBeLessThanOrEqual(4);
    expect(between(drawn, 6000, 12_000)).toBeGreaterThanOrEqual(2);
  });

  it('a burst within a tenth of a second, whole', () => {
    // A scene that sends forty messages within 50 ms.
    const drawn = play((ms) => Math.min(40, Math.floor(ms * 0.8)), 1000);
    expect(drawn.at(-1)).toMatchObject({ total: 40 });
    expect(drawn.at(-1)!.atMs).toBeLessThan(150);
  });

  it('in the frame of a press while a flood goes on and presses come', () => {
    const pressed = (frame: number) => frame % 24 === 5;
    const drawn = play((ms) => Math.floor(ms / 2), 20_000, pressed).filter(({ atMs }) => atMs > 2000);
    expect(drawn.length).toBeGreaterThanOrEqual(9);
    expect(drawn.every(({ atMs }) => pressed(Math.round(atMs / FRAME_MS)))).toBe(true);
  });

  it('a burst without waiting for a press', () => {
    const drawn = play(
      (ms) => Math.min(40, Math.floor(ms * 0.8)),
      1000,
      (frame) => frame === 50,
    );
    expect(drawn.at(-1)).toMatchObject({ total: 40 });
    expect(drawn.at(-1)!.atMs).toBeLessThan(150);
  });

  it('to the last one after a flood, and at once again after that', () => {
    const drawn = play((ms) => (ms < 5000 ? ms * 0.5 : 2500 + (ms > 9000 ? 1 : 0)), 10_000);
    expect(drawn.some((d) => d.total >= 2499 && d.atMs <= 7001)).toBe(true);
    expect(drawn.at(-1)).toMatchObject({ total: 2501 });
    expect(drawn.at(-1)!.atMs).toBeLessThan(9000 + 2 * FRAME_MS);
  });
});

it('a flood is told within half a second, and not after it', () => {
  const pace = new DrawPace();
  pace.drawn(0, 0);
  let total = 0;
  const told: (number | null)[] = [];
  for (let atMs = 0; atMs <= 8000; atMs += 10) {
    total += 5;
    if (pace.leftMs(atMs) > 0) continue;
    pace.drawn(atMs, total);
    told.push(pace.floodPerSecond);
  }
  expect(told.slice(0, 3)).toEqual([null, null, null]);
  expect(told[3]).toBeGreaterThan(400);
  expect(told.at(-1)).toBe(500);
  pace.drawn(11_000, total + 3);
  expect([pace.floodPerSecond, pace.isThinned]).toEqual([null, false]);
});
