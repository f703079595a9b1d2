import type { ControlDoc } from '@idle-step/contract';

/** Changes how the controls in hand are built, as one step. */
export type SetHardware = (label: string, part: Partial<ControlDoc['hardware']>) => void;
