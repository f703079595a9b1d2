import type { RigDoc } from '@idle-step/contract';
import { useEffect, useRef, useState } from 'react';
import type { AnyDoc } from '../api/api';
import type { Difference } from './differences';
import type { DifferencesFound, DifferencesWish } from './differences.worker';

/** Where two texts differ, found in a worker; `null` until it is known, and for as long as there is nothing to compare. */
export function useDifferences(
  mine: AnyDoc | null | undefined,
  theirs: AnyDoc | null | undefined,
  rig: RigDoc | null,
): readonly Difference[] | null {
  const [found, setFound] = useState<DifferencesFound | null>(null);
  const worker = useRef<Worker | null>(null);
  const wish = useRef(0);
  useEffect(() => {
    const own = new Worker(new URL('./differences.worker.ts', import.meta.url), { type: 'module' });
    own.onmessage = ({ data }: MessageEvent<DifferencesFound>) => {
      if (data.wish === wish.current) setFound(data);
    };
    worker.current = own;
    return () => own.terminate();
  }, []);
  useEffect(() => {
    wish.current++;
    if (mine && theirs)
      worker.current?.postMessage({ wish: wish.current, of: [mine, theirs, rig] } satisfies DifferencesWish);
  }, [mine, theirs, rig]);
  return mine && theirs ? (found?.differences ?? null) : null;
}
