import { createContext, useContext } from 'react';
import { useSyncExternalStoreWithSelector } from 'use-sync-external-store/with-selector';
import { placeOf, type LiveState, type Place, type World } from '@idle-step/core/engine';
import type { LiveHost } from '../LiveHost';
import { isSame, type LiveSnapshot } from '../snapshot';

export const LiveContext = createContext<LiveHost | null>(null);

export function useLiveHost(): LiveHost {
  const host = useContext(LiveContext);
  if (!host) throw new Error('No live host above this component');
  return host;
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

/** The rig, presets and set in play: drawn anew only when they are edited. */
export const useWorld = (): World => useLiveOf((live) => live.world);

/** Whether a rig with its set has come to the live host yet: until then, that there are no songs says nothing. */
export const useIsShown = (rigId: string | undefined): boolean =>
  useLiveOf((live) => rigId !== undefined && live.world.show.rig.id === rigId);

/**
 * Some parts of the live state: drawn anew only when one of them has changed.
 * Example: `useLiveState('banks', 'pages')`.
 */
export function useLiveState<K extends keyof LiveState>(...parts: readonly K[]): Pick<LiveState, K> {
  return useLiveOf(
    ({ state }) => state,
    (a, b) => parts.every((part) => a[part] === b[part]),
  );
}

/** Where the evening is, as places in the running order. */
export function usePlace(): Place {
  return useLiveOf(({ world, state }) => placeOf(world, state), isSame);
}

/** Whether another window of this browser plays: this one neither hears feet nor reaches gear. */
export const useIsAside = (): boolean => useLiveOf((live) => live.portsStatus.kind === 'elsewhere');

/** Which song is in play, by its place: for what does not change from scene to scene. */
export function useSongIndex(): number {
  return useLiveOf(({ world, state }) => placeOf(world, state).songIndex);
}
