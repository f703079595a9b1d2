import { createContext } from 'react';

/** The room above the monitor in which a place shows the bytes of what is being edited. */
export const WireSlotContext = createContext<HTMLElement | null>(null);
