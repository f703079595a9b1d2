import type { FullRig } from '@idle-step/core/routing';
import { useMemo } from 'react';
import type { AnyDoc } from '../api/api';
import { useWorker } from '../ui/hooks/useWorker';
import type { DifferencesFound, DifferencesWish } from './saving/differences.worker';

const makeWorker = (): Worker =>
  new Worker(new URL('./saving/differences.worker.ts', import.meta.url), { type: 'module' });

/** Where two texts differ, found in a worker; `null` until it is known, and for as long as there is nothing to compare. */
export function useDifferences(
  mine: AnyDoc | null | undefined,
  theirs: AnyDoc | null | undefined,
  rig: FullRig | null,
): DifferencesFound | null {
  const wish = useMemo<DifferencesWish | null>(
    () => (mine && theirs ? [mine, theirs, rig] : null),
    [mine, theirs, rig],
  );
  return useWorker<DifferencesWish, DifferencesFound>(makeWorker, wish);
}
