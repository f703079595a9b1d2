import type { SearchNow, SearchTold, SearchWish } from './search.worker';

/** A long search in a worker of its own: on its way, found, or broken off. */
export type SearchState<T> =
  | { readonly kind: 'idle' }
  | { readonly kind: 'running'; readonly now: SearchNow | null; readonly last: T | null }
  | { readonly kind: 'found'; readonly found: T }
  | { readonly kind: 'cancelled'; readonly last: T | null }
  | { readonly kind: 'failed'; readonly sentence: string; readonly last: T | null };

/** How long an edit is waited after before a search begins anew, in ms. */
const AFTER_EDIT_MS = 400;

/**
 * One kind of search at a time: a new wish ends the one on its way. What was found may stay until the next is there.
 * @param make a new worker.
 */
export class ProofSearch<T> {
  private state: SearchState<T> = { kind: 'idle' };
  private worker: Worker | null = null;
  private wish: SearchWish | null = null;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly make: () => Worker,
    private readonly foundIn: (told: SearchTold) => T | null,
    /** What was found of something else stays shown meanwhile; not where it could be taken. */
    private readonly keepsLast = true,
  ) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly getSnapshot = (): SearchState<T> => this.state;

  /** Looks for something, unless that is what is looked for, or was found, already. */
  ask(wish: SearchWish, isSame: (a: SearchWish, b: SearchWish) => boolean): void {
    if (this.wish && isSame(this.wish, wish) && this.state.kind !== 'idle') return;
    const isFirst = this.state.kind === 'idle';
    this.wish = wish;
    this.stop();
    this.become({ kind: 'running', now: null, last: this.keepsLast ? this.last() : null });
    this.timer = setTimeout(() => this.begin(wish), isFirst ? 0 : AFTER_EDIT_MS);
  }

  cancel = (): void => {
    if (this.state.kind !== 'running') return;
    this.stop();
    this.become({ kind: 'cancelled', last: this.last() });
  };

  again = (): void => {
    if (!this.wish) return;
    this.stop();
    this.become({ kind: 'running', now: null, last: this.last() });
    this.begin(this.wish);
  };

  private begin(wish: SearchWish): void {
    const worker = this.make();
    this.worker = worker;
    worker.onmessage = ({ data }: MessageEvent<SearchTold>) => {
      if (this.worker !== worker) return;
      const found = this.foundIn(data);
      if (data.kind === 'now') this.become({ kind: 'running', now: data.now, last: this.last() });
      else if (found !== null && data.kind === 'layout' && !data.isOver)
        this.become({ kind: 'running', now: null, last: found });
      else if (found !== null) {
        this.stop();
        this.become({ kind: 'found', found });
      }
    };
    worker.onerror = (event) => {
      event.preventDefault();
      if (this.worker !== worker) return;
      this.stop();
      this.become({
        kind: 'failed',
        sentence: 'The search broke off; look again. If it does so once more, tell us what the rig is like.',
        last: this.last(),
      });
    };
    worker.postMessage(wish);
  }

  private stop(): void {
    if (this.timer !== null) clearTimeout(this.timer);
    this.timer = null;
    this.worker?.terminate();
    this.worker = null;
  }

  private last(): T | null {
    const { state } = this;
    return state.kind === 'idle' ? null : state.kind === 'found' ? state.found : state.last;
  }

  private become(state: SearchState<T>): void {
    this.state = state;
    for (const listener of this.listeners) listener();
  }
}
