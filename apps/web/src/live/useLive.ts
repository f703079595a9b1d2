import { createContext, useContext, useSyncExternalStore } from 'react';
import { useSyncExternalStoreWithSelector } from 'use-sync-external-store/with-selector';
import type { LiveHost } from './LiveHost';
import type { LiveSnapshot } from './snapshot';

export const LiveContext = createContext<LiveHost | null>(null);

export function useLiveHost(): LiveHost {
  const host = useContext(LiveContext);
  if (!host) throw new Error('No live host above this component');
  return host;
}

/** The live rig as it was drawn last; new at most once a frame. */
export function useLive(): LiveSnapshot {
  const host = useLiveHost();
  return useSyncExternalStore(host.subscribe, host.getSnapshot);
}

/**
 * A part of the live rig: drawn anew only when that part has changed.
 * @param isSame whether two parts are the same to the eye; by identity where nothing else is said.
 */
export function useLiveOf<T>(
  select: (live: LiveSnapshot) => T,
  isSame: (a: T, b: T) => boolean = Object.is,
): T {
  const host = useLiveHost();
  return useSyncExternalStoreWithSelector(host.subscribe, host.getSnapshot, host.getSnapshot, select, isSame);
}
