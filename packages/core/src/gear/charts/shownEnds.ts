import { readNumber } from '../../typed';
import { nth } from '../../sure';

/**
 * What a device shows for the lowest and the highest value of a range, in a unit of music: `-60 to 12 dB`,
 * `20 to 2000 ms`. Between them values go evenly, or by equal ratios where the device's scale is logarithmic; both ends
 * are above 0 then.
 */
export type ShownEnds = {
  readonly low: number;
  readonly high: number;
  readonly unit: string;
  readonly isLog: boolean;
};

/** A range of values, both ends included. */
type Bounds = { readonly min: number; readonly max: number };

/** Units that are typed in place of another one, and how many of that they are. */
const LARGER: Readonly<Record<string, { readonly unit: string; readonly of: number }>> = {
  ms: { unit: 's', of: 1000 },
  hz: { unit: 'khz', of: 1000 },
};
/** Decimals at the most: a range of 14 bits over the finest unit needs no more. */
const DECIMALS = 6;

/** What is shown for a value, which may lie between two, in its unit. */
export function shownAt(ends: ShownEnds, { min, max }: Bounds, value: number): number {
  const share = max === min ? 0 : (value - min) / (max - min);
  return ends.isLog ? ends.low * (ends.high / ends.low) ** share : ends.low + (ends.high - ends.low) * share;
}

/** The other way round: the nearest value; `null` where it lies beyond the ends by more than rounding does. */
export function valueAtShown(ends: ShownEnds, bounds: Bounds, shown: number): number | null {
  const { min, max } = bounds;
  const { low, high, isLog } = ends;
  if (isLog && shown <= 0) return null;
  const share = isLog ? Math.log(shown / low) / Math.log(high / low) : (shown - low) / (high - low);
  const value = Math.round(min + share * (max - min));
  return value >= min && value <= max ? value : null;
}

/** Example: `50.4 %`, `-12 dB`, `340 ms`. As many decimals as tell neighbours apart. */
export function endsText(ends: ShownEnds, bounds: Bounds, value: number): string {
  const shown = shownAt(ends, bounds, value);
  const toNext = Math.abs(shownAt(ends, bounds, value + 1) - shown);
  const toLast = Math.abs(shown - shownAt(ends, bounds, value - 1));
  const half = Math.min(toNext, toLast) / 2;
  const decimals = Math.min(DECIMALS, Math.max(0, Math.ceil(-Math.log10(half))));
  return `${Number(shown.toFixed(decimals))} ${ends.unit}`;
}

/** Reads `50`, `50 %`, `0,34 s` (where the unit is ms). `null` where it is no number of that unit, or lies beyond. */
export function readShown(ends: ShownEnds, bounds: Bounds, text: string): number | null | 'beyond' {
  const match = /^(\S*?\d[\d.,]*|[-+−]?[.,]\d+)\s*(\S*)$/.exec(text.trim());
  const number = match ? readNumber(nth(match, 1)) : null;
  if (!match || number === null) return null;
  const typed = nth(match, 2).toLowerCase();
  const larger = LARGER[ends.unit.toLowerCase()];
  const factor =
    typed === '' || typed === ends.unit.toLowerCase() ? 1 : typed === larger?.unit ? larger.of : null;
  if (factor === null) return null;
  return valueAtShown(ends, bounds, number * factor) ?? 'beyond';
}

/** As it is written in a chart. Example: `20 to 2000 ms`, `20 to 20000 Hz log`. */
export const shownEndsText = ({ low, high, unit, isLog }: ShownEnds): string =>
  `${low} to ${high} ${unit}${isLog ? ' log' : ''}`;

const NUMBER = '([-+−]?\\d[\\d.,]*)';
/** The unit of the lower end, which may stand there too. */
const FIRST_UNIT = '\\s*[^\\s\\d.,–…-]*';
const UNIT = '\\s*([^\\s\\d]\\S{0,7})(\\s+log)?';
/** A stroke may be the sign of the upper end where “to” stands before it. */
const BY_WORD = new RegExp(`^${NUMBER}${FIRST_UNIT}\\s+to\\s+${NUMBER}${UNIT}$`, 'i');
const BY_STROKE = new RegExp(`^${NUMBER}${FIRST_UNIT}\\s*[-–…]\\s*${NUMBER}${UNIT}$`, 'i');

/** Reads what `shownEndsText` writes, also with a stroke between: `0-100 %`. `null` where it is none of that. */
export function readShownEnds(text: string): ShownEnds | null {
  const match = BY_WORD.exec(text.trim()) ?? BY_STROKE.exec(text.trim());
  if (!match) return null;
  const [low, high] = [readNumber(nth(match, 1)), readNumber(nth(match, 2))];
  const isLog = match[4] !== undefined;
  if (low === null || high === null || low === high || (isLog && (low <= 0 || high <= 0))) return null;
  return { low, high, unit: nth(match, 3), isLog };
}
