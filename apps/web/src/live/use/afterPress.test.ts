import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { afterPress } from './afterPress';
import { PRESS, Shown } from './afterPress.test-support';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

function awaited(): { shown: Shown; calls: boolean[]; stop: () => void } {
  const shown = new Shown();
  const calls: boolean[] = [];
  const stop = afterPress(shown, 500, (isAfterPress) => calls.push(isAfterPress));
  return { shown, calls, stop };
}

it('comes with the next press and not with anything else that is shown, once', () => {
  const { shown, calls } = awaited();
  shown.tell({ said: 'Song 2' });
  expect(calls).toEqual([]);
  shown.tell({ lastPress: PRESS });
  shown.tell({ lastPress: { ...PRESS, label: 'CHORUS' } });
  vi.advanceTimersByTime(1000);
  expect(calls).toEqual([true]);
});

it('comes without a press after its time, once', () => {
  const { shown, calls } = awaited();
  vi.advanceTimersByTime(499);
  expect(calls).toEqual([]);
  vi.advanceTimersByTime(1);
  shown.tell({ lastPress: PRESS });
  expect(calls).toEqual([false]);
});

it('is taken back', () => {
  const { shown, calls, stop } = awaited();
  stop();
  shown.tell({ lastPress: PRESS });
  vi.advanceTimersByTime(1000);
  expect(calls).toEqual([]);
});
