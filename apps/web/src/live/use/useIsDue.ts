import { dueThing } from '@idle-step/core/check';
import { useSyncExternalStore } from 'react';
import { useLiveHost } from './useLive';

/** `due` where a line check waits for a control, else nothing: a class of it wherever it is drawn. */
export function useIsDue(controlId: string): 'due' | '' {
  const { lineCheck } = useLiveHost();
  return useSyncExternalStore(lineCheck.subscribe, () => {
    const check = lineCheck.getSnapshot();
    return check && dueThing(check)?.id === controlId ? 'due' : '';
  });
}
