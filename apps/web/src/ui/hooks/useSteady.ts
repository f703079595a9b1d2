import { useEffect, useState } from 'react';

type Acts = Record<string, (...args: never[]) => unknown>;

/** Holds the functions of the last drawing behind others that never change. */
class Steady<T extends Acts> {
  readonly acts: T;
  constructor(private latest: T) {
    this.acts = Object.fromEntries(
      Object.keys(latest).map((name) => [name, (...args: never[]) => this.latest[name]!(...args)]),
      // Each name of `latest` has its function.
    ) as T;
  }
  take(latest: T): void {
    this.latest = latest;
  }
}

/**
 * Functions that stay the same from drawing to drawing and always do what those of the last drawing do, so that what is
 * handed them need not be drawn anew. They are for events, not to be called while drawing.
 */
export function useSteady<T extends Acts>(acts: T): T {
  const [steady] = useState(() => new Steady(acts));
  useEffect(() => steady.take(acts));
  return steady.acts;
}
