import { useMemo, useRef, useState } from 'react';

/** What is dragged: as it is drawn, and as it was set last. */
export type Dragged<T> = {
  /** What the last drawing was made with; `null` where nothing is dragged. */
  readonly drawn: T | null;
  /** What it is now. */
  now(): T | null;
  set(next: T | null): void;
};

/**
 * Something that is dragged. On a slow computer the pointer moves faster than is drawn, so whoever drops it asks what it is
 * now: what was drawn lies where it was a moment before.
 */
export function useDragged<T>(): Dragged<T> {
  const [drawn, setDrawn] = useState<T | null>(null);
  const latest = useRef<T | null>(null);
  return useMemo(
    () => ({
      drawn,
      now: () => latest.current,
      set: (next: T | null) => {
        latest.current = next;
        setDrawn(next);
      },
    }),
    [drawn],
  );
}
