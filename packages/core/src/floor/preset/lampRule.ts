import { namesOf, TAPE_COLOURS, valueBounds, type ChartFunction, type TapeMark } from '../../gear';
import { nth } from '../../sure';

export const LIGHTS = ['off', 'steady', 'blink'] as const;
/**
 * How a lamp shines; `colour` where its hardware has more than one, else `null`. `unknown`: nothing tells whether what it
 * shows is on; hardware is dark then.
 */
export type Lamp = {
  readonly light: (typeof LIGHTS)[number] | 'unknown';
  readonly colour: TapeMark['colour'] | null;
};

/** From this value of the function on, up to the next stop, the lamp looks like this. */
export type LampStop = {
  readonly light: (typeof LIGHTS)[number];
  readonly colour: TapeMark['colour'] | null;
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
export const LAMP_UNKNOWN: Lamp = { light: 'unknown', colour: null };

/** The stop in force at a value, or nothing below the first. The stops may stand in any order. */
export function stopAt(stops: readonly LampStop[], value: number): LampStop | undefined {
  let found: LampStop | undefined;
  for (const stop of stops) if (stop.from <= value && (!found || stop.from >= found.from)) found = stop;
  return found;
}

/**
 * Whether a lamp shines for off and is dark for on: the two are then the wrong way round, here or in the chart.
 * @param on the value of the function that people call on, and `off` the other one.
 */
export function isTurnedRound(rule: LampRule | null, off = 0, on = 1): boolean {
  if (rule?.kind !== 'function') return false;
  const shines = (value: number) => (stopAt(rule.stops, value)?.light ?? 'off') !== 'off';
  return shines(off) && !shines(on);
}

/** Values that get a colour of their own at the most. */
const COLOURED = 16;

/**
 * A colour for each value that has a name (a choice's, a program's): dark for those that have none. Colours come again
 * after the last. Empty where a function names none.
 */
export function colourForEach(fn: ChartFunction): LampStop[] {
  const named = namesOf(fn)
    .map((n) => n.value)
    .slice(0, COLOURED);
  const dark = (from: number): LampStop => ({ from, light: 'off', colour: null, sends: null });
  const { min, max } = valueBounds(fn.shape);
  return named.flatMap((from, i): LampStop[] => {
    const lit: LampStop = {
      from,
      light: 'steady',
      colour: nth(TAPE_COLOURS, i % TAPE_COLOURS.length),
      sends: null,
    };
    const isGapAfter = from < max && named[i + 1] !== from + 1;
    return [...(i === 0 && from > min ? [dark(min)] : []), lit, ...(isGapAfter ? [dark(from + 1)] : [])];
  });
}

/** The same stops with what they show the other way round. */
export function turnedRound(stops: readonly LampStop[]): LampStop[] {
  const inOrder = [...stops].sort((a, b) => a.from - b.from);
  return inOrder.map((stop, i) => ({ ...nth(inOrder, inOrder.length - 1 - i), from: stop.from }));
}
