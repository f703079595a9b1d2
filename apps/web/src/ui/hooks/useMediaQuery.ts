import { useCallback, useSyncExternalStore } from 'react';

/** Whether the window is so now. Example: `useMediaQuery('(max-width: 1199px)')`. */
export function useMediaQuery(query: string): boolean {
  const subscribe = useCallback(
    (tell: () => void) => {
      const list = window.matchMedia(query);
      list.addEventListener('change', tell);
      return () => list.removeEventListener('change', tell);
    },
    [query],
  );
  return useSyncExternalStore(subscribe, () => window.matchMedia(query).matches);
}
