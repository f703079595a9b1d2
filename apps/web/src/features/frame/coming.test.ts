import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { MonitorLog } from '../../live/log/monitorLog';
import { QUIET_MS, REST_MS, staysForMs, watchComing, type Hand } from './coming';

const AWAY: Hand = { isDown: false, movedMs: -Infinity, isInside: false };
const SAID = { kind: 'note', code: 'panic', sentence: 'all quiet', atMs: 0, wallMs: 0 } as const;
const OTHER = { kind: 'note', code: 'endless', sentence: 'no matter', atMs: 0, wallMs: 0 } as const;

describe('how long what opened by itself stays open', () => {
  it.each([
    ['something has just come', 0, AWAY, QUIET_MS],
    ['half of the quiet is over', QUIET_MS / 2, AWAY, QUIET_MS / 2],
    ['the quiet is over', QUIET_MS, AWAY, 0],
    ['the mouse has just moved', QUIET_MS, { ...AWAY, movedMs: QUIET_MS - 400 }, REST_MS - 400],
    ['the mouse has rested', QUIET_MS, { ...AWAY, movedMs: QUIET_MS - REST_MS }, 0],
    ['the hand is in it', 2 * QUIET_MS, { ...AWAY, isInside: true }, REST_MS],
    ['something is being dragged', 2 * QUIET_MS, { ...AWAY, isDown: true }, REST_MS],
  ])('%s', (_, nowMs, hand, ms) => expect(staysForMs(nowMs, 0, hand)).toBe(ms));
});

describe('what comes', () => {
  let hand = AWAY;
  let told: boolean[] = [];
  const log = new MonitorLog();
  let end = (): void => undefined;
  beforeEach(() => {
    vi.useFakeTimers();
    hand = AWAY;
    told = [];
    log.add(SAID);
    end = watchComing(
      log,
      (line) => line.kind === 'note' && line.code === 'panic',
      () => hand,
      (isOpen) => told.push(isOpen),
    );
  });
  afterEach(() => {
    end();
    expect(vi.getTimerCount()).toBe(0);
    vi.useRealTimers();
  });

  it('opens, and quiet folds; what was there before and what does not matter do neither', () => {
    vi.advanceTimersByTime(1000);
    log.add(OTHER);
    vi.advanceTimersByTime(1000);
    expect(told).toEqual([]);
    log.add(SAID);
    vi.advanceTimersByTime(10);
    expect(told).toEqual([true]);
    vi.advanceTimersByTime(QUIET_MS / 2);
    log.add(SAID);
    vi.advanceTimersByTime(QUIET_MS - 100);
    log.add(OTHER);
    expect(told).toEqual([true]);
    vi.advanceTimersByTime(2 * REST_MS);
    expect(told).toEqual([true, false]);
    log.add(SAID);
    vi.advanceTimersByTime(500);
    expect(told).toEqual([true, false, true]);
  });

  it('is not told while a button is down, and is not forgotten', () => {
    hand = { ...AWAY, isDown: true };
    log.add(SAID);
    vi.advanceTimersByTime(5000);
    expect(told).toEqual([]);
    hand = AWAY;
    vi.advanceTimersByTime(500);
    expect(told).toEqual([true]);
  });

  it('stays under a hand for as long as it is there', () => {
    log.add(SAID);
    vi.advanceTimersByTime(500);
    hand = { ...AWAY, isInside: true };
    vi.advanceTimersByTime(3 * QUIET_MS);
    expect(told).toEqual([true]);
    hand = AWAY;
    vi.advanceTimersByTime(2 * REST_MS);
    expect(told).toEqual([true, false]);
  });

  it('that is a flood of what does not matter opens nothing; one line of what does, among many, opens', () => {
    for (let i = 0; i < 5000; i++) {
      log.add(OTHER);
      vi.advanceTimersByTime(1);
    }
    expect(told).toEqual([]);
    log.add(SAID);
    for (let i = 0; i < 50; i++) log.add(OTHER);
    vi.advanceTimersByTime(500);
    expect(told).toEqual([true]);
  });
});
