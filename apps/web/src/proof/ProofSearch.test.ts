import { beforeEach, describe, expect, it, vi } from 'vitest';
import { ProofSearch } from './ProofSearch';
import type { SearchTold, SearchWish } from './search.worker';

/** Stands for the other end of a worker. */
class Bench {
  readonly asked: unknown[] = [];
  isOver = false;
  onmessage: ((event: { data: SearchTold }) => void) | null = null;
  onerror: ((event: { preventDefault(): void }) => void) | null = null;
  postMessage(wish: unknown): void {
    this.asked.push(wish);
  }
  terminate(): void {
    this.isOver = true;
  }
  tell(data: SearchTold): void {
    this.onmessage?.({ data });
  }
}

// Only what tells two wishes apart matters here.
const wish = (name: string) => ({ kind: 'breaks', show: name }) as unknown as SearchWish;
const isSame = (a: SearchWish, b: SearchWish) => a.show === b.show;
const found = (n: number) => ({ kind: 'breaks', found: Array(n) }) as unknown as SearchTold;
const now = (text: string): SearchTold => ({ kind: 'now', now: { share: null, text } });

let workers: Bench[];
let search: ProofSearch<number>;
beforeEach(() => {
  vi.useFakeTimers();
  workers = [];
  search = new ProofSearch<number>(
    () => {
      const worker = new Bench();
      workers.push(worker);
      return worker as unknown as Worker;
    },
    (told) => (told.kind === 'breaks' ? told.found.length : told.kind === 'layout' ? told.found.tried : null),
  );
});
const kind = () => search.getSnapshot().kind;

describe('a search beside the page', () => {
  it('tells how far it is, and what it found', () => {
    search.ask(wish('a'), isSame);
    vi.advanceTimersByTime(0);
    workers[0]!.tell(now('half'));
    expect(search.getSnapshot()).toEqual({ kind: 'running', now: { share: null, text: 'half' }, last: null });
    workers[0]!.tell(found(3));
    expect(search.getSnapshot()).toEqual({ kind: 'found', found: 3 });
    expect(workers[0]!.isOver).toBe(true);
    // The same once more is known already.
    search.ask(wish('a'), isSame);
    expect(kind()).toBe('found');
    expect(workers).toHaveLength(1);
  });

  it('begins anew after an edit, keeps what was found meanwhile, and hears the old one no more', () => {
    search.ask(wish('a'), isSame);
    vi.advanceTimersByTime(0);
    const [old] = workers;
    search.ask(wish('b'), isSame);
    search.ask(wish('c'), isSame);
    expect(old!.isOver).toBe(true);
    vi.advanceTimersByTime(1000);
    expect(workers).toHaveLength(2);
    expect(workers[1]!.asked).toEqual([wish('c')]);
    old!.tell(found(9));
    expect(kind()).toBe('running');
    workers[1]!.tell(found(2));
    search.ask(wish('d'), isSame);
    expect(search.getSnapshot()).toEqual({ kind: 'running', now: null, last: 2 });
  });

  it('is broken off and begun again, also while it waits after an edit', () => {
    search.ask(wish('a'), isSame);
    search.cancel();
    vi.advanceTimersByTime(1000);
    expect([kind(), workers.length]).toEqual(['cancelled', 0]);
    search.again();
    expect([kind(), workers.length]).toEqual(['running', 1]);
    workers[0]!.onerror?.({ preventDefault: () => undefined });
    expect(kind()).toBe('failed');
    search.again();
    workers[1]!.tell(found(1));
    expect(kind()).toBe('found');
  });

  it('lets go of what could be taken as soon as something else is looked for', () => {
    const own = new ProofSearch<number>(
      () => {
        const worker = new Bench();
        workers.push(worker);
        return worker as unknown as Worker;
      },
      (told) => (told.kind === 'breaks' ? told.found.length : null),
      false,
    );
    own.ask(wish('a'), isSame);
    vi.advanceTimersByTime(0);
    workers[0]!.tell(found(3));
    own.ask(wish('b'), isSame);
    own.cancel();
    expect(own.getSnapshot()).toEqual({ kind: 'cancelled', last: null });
  });

  it('keeps the best so far of what gets better', () => {
    search.ask(wish('a'), isSame);
    vi.advanceTimersByTime(0);
    const layout = (tried: number, isOver: boolean) =>
      ({ kind: 'layout', found: { tried }, isOver }) as unknown as SearchTold;
    workers[0]!.tell(layout(10, false));
    search.cancel();
    expect(search.getSnapshot()).toEqual({ kind: 'cancelled', last: 10 });
  });
});
