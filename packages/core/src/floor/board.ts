import type { Rig } from '../gear';

/** A controller as it lies on the floor. Positions and sizes in mm, from the upper left of the board. */
export type Board = {
  readonly id: string;
  /** The controller device that this board is the face of. */
  readonly deviceId: string;
  /** The preset in force on this board, or none yet. */
  readonly presetId: string | null;
  readonly widthMm: number;
  readonly heightMm: number;
  /** Where it lies before the feet: left edge and upper edge on the floor, mm. */
  readonly xMm: number;
  readonly yMm: number;
  readonly controls: readonly Control[];
};

export const CONTROL_KINDS = ['footswitch', 'expression-pedal'] as const;
export type ControlKind = (typeof CONTROL_KINDS)[number];

export type Control = {
  readonly id: string;
  /** Where it is, in words. Example: `far 3`. */
  readonly name: string;
  readonly kind: ControlKind;
  readonly xMm: number;
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
  /** What the hardware sends on its board's channel: 127 down and 0 up, or the pedal's position. */
  readonly sends: ControlMessage;
};

/** `number` 0–127. */
export type ControlMessage = { readonly kind: 'controller' | 'note'; readonly number: number };

/** A rig together with its boards: what is written down in the place Rig and kept as one. */
export type RigWithBoards = Rig & { readonly boards: readonly Board[] };
