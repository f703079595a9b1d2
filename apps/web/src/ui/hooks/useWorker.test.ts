import { beforeEach, describe, expect, it } from 'vitest';
import { askWorker, WishQueue } from './useWorker';

/** Stands for the browser's worker: what it was told, and its answers when the test gives them. */
class HeldWorker {
  static made: HeldWorker[] = [];
  readonly told: unknown[] = [];
  isEnded = false;
  onmessage: ((event: { data: unknown }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  constructor() {
    HeldWorker.made.push(this);
  }
  postMessage(wish: unknown): void {
    this.told.push(wish);
  }
  terminate(): void {
    this.isEnded = true;
  }
}
const make = () => new HeldWorker() as unknown as Worker;
beforeEach(() => void (HeldWorker.made = []));

describe('wishes to a worker', () => {
  const begun = () => {
    const found: unknown[] = [];
    const queue = new WishQueue<string, string>(make, (f) => found.push(f));
    return { queue, found };
  };
  it('are told one at a time, and the last of those that came meanwhile', () => {
    const { queue, found } = begun();
    for (const wish of ['a', 'b', 'c', 'd']) queue.ask(wish);
    const [worker] = HeldWorker.made;
    expect(worker!.told).toEqual(['a']);
    worker!.onmessage!({ data: 'of a' });
    expect(worker!.told).toEqual(['a', 'd']);
    expect(found).toEqual([]);
    worker!.onmessage!({ data: 'of d' });
    expect(found).toEqual(['of d']);
    expect(HeldWorker.made).toHaveLength(1);
  });
  it('go to another worker after one has failed', () => {
    const { queue, found } = begun();
    queue.ask('a');
    queue.ask('b');
    HeldWorker.made[0]!.onerror!({ message: 'not loaded' });
    expect(HeldWorker.made[0]!.isEnded).toBe(true);
    expect(HeldWorker.made[1]!.told).toEqual(['b']);
    HeldWorker.made[1]!.onmessage!({ data: 'of b' });
    expect(found).toEqual(['of b']);
  });
  it('begin anew after their end', () => {
    const { queue } = begun();
    queue.ask('a');
    queue.end();
    queue.ask('b');
    expect(HeldWorker.made.map((w) => [w.told, w.isEnded])).toEqual([
      [['a'], true],
      [['b'], false],
    ]);
  });
});

describe('a worker that is asked once', () => {
  it('answers and ends', async () => {
    const answer = askWorker<string, string>(make, 'a');
    HeldWorker.made[0]!.onmessage!({ data: 'of a' });
    await expect(answer).resolves.toBe('of a');
    expect(HeldWorker.made[0]!.isEnded).toBe(true);
  });
  it('or says why not, and ends', async () => {
    const answer = askWorker<string, string>(make, 'a');
    HeldWorker.made[0]!.onerror!({ message: 'not loaded' });
    await expect(answer).rejects.toThrow('not loaded');
    expect(HeldWorker.made[0]!.isEnded).toBe(true);
  });
});
