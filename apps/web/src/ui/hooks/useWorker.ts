import { useEffect, useState } from 'react';

/**
 * What a worker has found of the last wish that it was through with; `null` before that. It works at one wish at a time,
 * and of those that come meanwhile it is told the last, so that typing never queues up.
 * @param make a new worker that answers every message with one of its own.
 * @param wish compared by identity; `null` where there is nothing to find.
 */
export function useWorker<Wish, Found>(make: () => Worker, wish: Wish | null): Found | null {
  const [found, setFound] = useState<Found | null>(null);
  const [queue] = useState(() => new WishQueue<Wish, Found>(make, setFound));
  useEffect(() => () => queue.end(), [queue]);
  useEffect(() => {
    if (wish !== null) queue.ask(wish);
  }, [queue, wish]);
  return wish === null ? null : found;
}

/** One worker, made when it is asked for the first time, and the wish that waits for it. */
export class WishQueue<Wish, Found> {
  private worker: Worker | null = null;
  private isBusy = false;
  private waiting: { readonly wish: Wish } | null = null;

  constructor(
    private readonly make: () => Worker,
    private readonly tell: (found: Found) => void,
  ) {}

  ask(wish: Wish): void {
    if (this.isBusy) {
      this.waiting = { wish };
      return;
    }
    this.isBusy = true;
    this.worker ??= this.started();
    this.worker.postMessage(wish);
  }

  /** Nothing is told any more; the next wish begins anew. */
  end(): void {
    this.worker?.terminate();
    this.worker = null;
    this.isBusy = false;
    this.waiting = null;
  }

  private started(): Worker {
    const worker = this.make();
    worker.onmessage = ({ data }: MessageEvent<Found>) => {
      this.isBusy = false;
      const { waiting } = this;
      this.waiting = null;
      if (waiting) this.ask(waiting.wish);
      else this.tell(data);
    };
    // A worker that failed is of no more use; the next wish has another one.
    worker.onerror = () => {
      const { waiting } = this;
      this.end();
      if (waiting) this.ask(waiting.wish);
    };
    return worker;
  }
}

/** Asks a worker once. @throws where it could not be loaded, or failed. */
export function askWorker<Wish, Found>(make: () => Worker, wish: Wish): Promise<Found> {
  const worker = make();
  return new Promise<Found>((resolve, reject) => {
    worker.onmessage = ({ data }: MessageEvent<Found>) => resolve(data);
    worker.onerror = (event) => reject(new Error(event.message || 'A part of the page could not be loaded.'));
    worker.postMessage(wish);
  }).finally(() => worker.terminate());
}
