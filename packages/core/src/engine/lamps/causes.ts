import type { LiveState } from '../state/liveState';

/** What of the live state a lamp can follow, each as a bit: while none of it has changed, no lamp has. */
export const LAMP_CAUSES = {
  registers: 1,
  position: 2,
  banks: 4,
  pages: 8,
  ramps: 16,
  clocks: 32,
  line: 64,
  latched: 128,
  evens: 256,
  held: 512,
  routes: 1024,
  run: 2048,
  here: 4096,
} as const;

export type LampCause = keyof typeof LAMP_CAUSES;

/** All bits: of a lamp that may follow any of them, and where all have to be looked at. */
export const EVERY_CAUSE = -1;

/** What lamps follow, as it is at one moment. */
export type LampCauses = Pick<LiveState, LampCause | 'pending'>;
