import { createContext, useContext, useEffect } from 'react';

/** The room above the monitor in which a place shows the bytes of what is being edited. */
export type WireRoom = {
  readonly slot: HTMLElement | null;
  /** Says that there is something to show. @returns takes it back. */
  ask(): () => void;
};

export const WireRoomContext = createContext<WireRoom>({ slot: null, ask: () => () => undefined });

/** The room for the bytes of what is being edited, asked for while the caller is shown. */
export function useWireSlot(): HTMLElement | null {
  const { slot, ask } = useContext(WireRoomContext);
  useEffect(ask, [ask]);
  return slot;
}
