import type { TapeMark } from '../gear';

export const LIGHTS = ['off', 'steady', 'blink'] as const;
/** How a lamp shines; `colour` where its hardware has more than one, else `null`. */
export type Lamp = { readonly light: (typeof LIGHTS)[number]; readonly colour: TapeMark['colour'] | null };

/** From this value of the function on, up to the next stop, the lamp looks like this. */
export type LampStop = Lamp & {
  readonly from: number;
  /** What is sent to the hardware for it, 0–127; `null` for its usual value. */
  readonly sends: number | null;
};

/** What the lamp of a control follows. */
export type LampRule =
  /** What the control is about: the function that it toggles, the value that it sets, the scene, the bank. */
  | { readonly kind: 'work' }
  /** The switch itself: lit while it is down, turned over by each press where it latches. */
  | { readonly kind: 'switch' }
  /** What a function is told and reports. */
  | { readonly kind: 'function'; readonly functionId: string; readonly stops: readonly LampStop[] };

export const LAMP_OFF: Lamp = { light: 'off', colour: null };
export const LAMP_ON: Lamp = { light: 'steady', colour: null };

/** The stop in force at a value, or nothing below the first. The stops may stand in any order. */
export function stopAt(stops: readonly LampStop[], value: number): LampStop | undefined {
  let found: LampStop | undefined;
  for (const stop of stops) if (stop.from <= value && (!found || stop.from >= found.from)) found = stop;
  return found;
}
