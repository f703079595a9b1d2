import type { HandDone } from '@idle-step/core/memory';
import { ACTION_LISTS } from '@idle-step/core/floor';
import { useCallback, useMemo, useState, useSyncExternalStore } from 'react';
import { z } from 'zod';
import { lasting } from '../../../storage/keptTexts';

const DoneSchema = z.record(
  z.string(),
  z.object({
    text: z.string(),
    pageName: z.string(),
    controlName: z.string(),
    list: z.enum([...ACTION_LISTS, 'sweeps']),
  }),
);

const listeners = new Set<() => void>();

const keyOf = (presetId: string): string => `idle-step.by-hand.${presetId}`;

/** What was kept; what cannot be read counts as nothing. */
function readDone(text: string | null): HandDone {
  try {
    return DoneSchema.safeParse(JSON.parse(text ?? '{}')).data ?? {};
  } catch {
    return {};
  }
}

function subscribe(tell: () => void): () => void {
  listeners.add(tell);
  // Another window of this browser ticks too.
  window.addEventListener('storage', tell);
  return () => {
    listeners.delete(tell);
    window.removeEventListener('storage', tell);
  };
}

/** What was set on a board by hand and ticked off, as this browser keeps it. */
export function useHandDone(presetId: string): {
  readonly done: HandDone;
  /** The browser keeps nothing: ticks are gone with the page. */
  readonly isRefused: boolean;
  /** @param change of what is kept now, which another window may have changed. */
  keep(change: (done: HandDone) => HandDone): void;
} {
  const key = keyOf(presetId);
  const text = useSyncExternalStore(
    subscribe,
    useCallback(() => lasting.store.getItem(key), [key]),
  );
  const [isFull, setFull] = useState(false);
  const keep = useCallback(
    (change: (done: HandDone) => HandDone) => {
      try {
        lasting.store.setItem(key, JSON.stringify(change(readDone(lasting.store.getItem(key)))));
        setFull(false);
      } catch {
        setFull(true);
      }
      listeners.forEach((tell) => tell());
    },
    [key],
  );
  return { done: useMemo(() => readDone(text), [text]), isRefused: lasting.isRefused || isFull, keep };
}
