import { createContext, useContext, useSyncExternalStore } from 'react';
import type { LiveHost, LiveSnapshot } from './LiveHost';

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
