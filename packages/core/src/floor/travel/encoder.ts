import { applyCurve, type PlainCurve } from './curve';

/** How an encoder says which way it was turned and how far. */
export const RELATIVE_ENCODINGS = ['twos-complement', 'offset-64', 'sign-bit', 'sign-bit-inverted'] as const;
export type RelativeEncoding = (typeof RELATIVE_ENCODINGS)[number];

/**
 * The steps that a data byte stands for, right turns above 0.
 *
 * Two's complement: 01 is +1, 7F is −1, 40 is −64. Offset 64: 41 is +1, 3F is −1, 40 is none. Sign bit: 01 is +1,
 * 41 is −1, and inverted the other way round.
 * @param value 0–127; anything else is a bug and throws `RangeError`. Result −64 to 63.
 * Source: common practice, no source.
 */
export function relativeSteps(encoding: RelativeEncoding, value: number): number {
  if (!Number.isInteger(value) || value < 0 || value > 127) throw new RangeError(`no data byte: ${value}`);
  switch (encoding) {
    case 'twos-complement':
      return value < 64 ? value : value - 128;
    case 'offset-64':
      return value - 64;
    case 'sign-bit':
      return signed(value);
    case 'sign-bit-inverted':
      return signed(value) === 0 ? 0 : -signed(value);
  }
}

/** The data byte for a number of steps; the mirror of `relativeSteps`. Throws `RangeError` beyond its range. */
export function relativeByte(encoding: RelativeEncoding, steps: number): number {
  const { least, most } = relativeRange(encoding);
  if (!Number.isInteger(steps) || steps < least || steps > most)
    throw new RangeError(`${encoding} cannot say ${steps} steps`);
  switch (encoding) {
    case 'twos-complement':
      return steps < 0 ? steps + 128 : steps;
    case 'offset-64':
      return steps + 64;
    case 'sign-bit':
      return steps < 0 ? 64 - steps : steps;
    case 'sign-bit-inverted':
      return steps > 0 ? 64 + steps : -steps;
  }
}

/** The most steps that one message can say, each way. */
export const relativeRange = (encoding: RelativeEncoding): { least: number; most: number } =>
  encoding.startsWith('sign') ? { least: -63, most: 63 } : { least: -64, most: 63 };

const signed = (value: number): number => (value < 64 ? value : value === 64 ? 0 : 64 - value);

/** How far one detent of an encoder moves its function. */
export type TurnResponse = {
  /** Steps a detent when turned slowly and when turned fast, 1–127. */
  readonly slowStep: number;
  readonly fastStep: number;
  /** Turning this fast or faster is fast, in detents a second. */
  readonly fastPerS: number;
  /** How the step grows between slow and fast. */
  readonly growth: PlainCurve;
  readonly reverse: boolean;
  /** Beyond the ends it begins again at the other one. */
  readonly wrap: boolean;
};

/** Slower than this is slow, in detents a second. */
const SLOW_PER_S = 4;

/**
 * How many steps of the function a turn makes.
 * @param detents as the encoder says. @param gapMs since its last message, `null` for the first one (slow).
 */
export function turnSteps(response: TurnResponse, detents: number, gapMs: number | null): number {
  const perS = gapMs === null ? 0 : (Math.abs(detents) * 1000) / Math.max(1, gapMs);
  const share = (perS - SLOW_PER_S) / Math.max(1, response.fastPerS - SLOW_PER_S);
  const { slowStep, fastStep, growth } = response;
  const step = Math.round(slowStep + (fastStep - slowStep) * applyCurve(growth, share));
  return (response.reverse ? -detents : detents) * step;
}

/** Where a value stands after some steps within `low` and `high`; it stops there or goes round. */
export function stepped(value: number, steps: number, low: number, high: number, wrap: boolean): number {
  const next = value + steps;
  if (!wrap) return Math.min(high, Math.max(low, next));
  const size = high - low + 1;
  return low + ((((next - low) % size) + size) % size);
}
