import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { WorkerTimer, type TimerWish } from './clock';

/** A worker that answers when it is told to. */
class HeldWorker {
  static last: HeldWorker;
  onmessage: (event: { data: number }) => void = () => undefined;
  readonly wishes: TimerWish[] = [];
  constructor() {
    HeldWorker.last = this;
  }
  postMessage(wish: TimerWish): void {
    this.wishes.push(wish);
  }
}

beforeEach(() => vi.stubGlobal('Worker', HeldWorker));
afterEach(() => vi.unstubAllGlobals());

it('a timer wakes by the last wish alone, however late an answer to an earlier one comes', () => {
  let woken = 0;
  const timer = new WorkerTimer(() => woken++);
  const { last: worker } = HeldWorker;
  timer.set(50);
  timer.set(20);
  const [first, second] = worker.wishes as [TimerWish, TimerWish];
  expect([first.afterMs, second.afterMs]).toEqual([50, 20]);
  worker.onmessage({ data: first.wish });
  expect(woken).toBe(0);
  worker.onmessage({ data: second.wish });
  expect(woken).toBe(1);
  timer.set(null);
  worker.onmessage({ data: second.wish });
  expect(woken).toBe(1);
});
