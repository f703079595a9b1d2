import type { LineCheck } from '@idle-step/core/check';
import { useSyncExternalStore } from 'react';
import { useLiveHost } from '../live/use/useLive';

/** The line check on its way, or the last one of this page. */
export function useLineCheck(): LineCheck | null {
  const { lineCheck } = useLiveHost();
  return useSyncExternalStore(lineCheck.subscribe, lineCheck.getSnapshot);
}
