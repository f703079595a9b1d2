import { createContext, useContext, useSyncExternalStore } from 'react';
import type { EveningKeeper, EveningStatus } from './EveningKeeper';

export const EveningContext = createContext<EveningKeeper | null>(null);

const NOTHING: EveningStatus = { isShowKept: false, unsent: 0, trouble: null };
const never = () => () => undefined;

/** What of the evening lies in this browser. */
export function useEveningStatus(): EveningStatus {
  const keeper = useContext(EveningContext);
  return useSyncExternalStore(keeper?.subscribe ?? never, keeper?.getStatus ?? (() => NOTHING));
}
