import type { Control } from '@idle-step/core/floor';
/** Changes how the controls in hand are built, as one step. */
export type SetHardware = (label: string, part: Partial<Control['hardware']>) => void;
