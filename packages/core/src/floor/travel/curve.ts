import { nth } from '../../sure';
/** How a pedal's travel becomes a value. All run from 0 to 1 and rise throughout. */
export const CURVES = ['linear', 'audio', 'reverse-audio', 's', 'points'] as const;
export type Curve = (typeof CURVES)[number];
/** A curve that needs no points of one's own. */
export type PlainCurve = Exclude<Curve, 'points'>;
/** Curves without points of their own. */
export const PLAIN_CURVES = [
  'linear',
  'audio',
  'reverse-audio',
  's',
] as const satisfies readonly PlainCurve[];

/** Curves in words: the tapers of potentiometers. Source: common practice, no source. */
export const CURVE_WORDS: Record<Curve, string> = {
  linear: 'linear',
  audio: 'audio taper',
  'reverse-audio': 'reverse audio taper',
  s: 'S curve',
  points: 'own points',
};

/** A place that a curve of one's own goes through; travel and share 0–1. */
export type CurvePoint = { readonly x: number; readonly y: number };

/** Both ends, which every curve has. */
export const CURVE_ENDS: readonly CurvePoint[] = [
  { x: 0, y: 0 },
  { x: 1, y: 1 },
];

/** Base of the exponential taper: half the travel gives about a tenth. Common practice, no source. */
const TAPER = 81;

/**
 * The share of the range (0–1) at a share of the travel (0–1, clamped).
 * `audio` is an exponential taper, `reverse-audio` its mirror, `s` the smoothstep 3t² − 2t³.
 * `points` goes straight from one of its points to the next, from 0/0 to 1/1.
 * Example: `applyCurve('audio', 0.5)` is 0.1.
 */
export function applyCurve(curve: Curve, travel: number, points: readonly CurvePoint[] = CURVE_ENDS): number {
  const t = Math.min(1, Math.max(0, travel));
  switch (curve) {
    case 'linear':
      return t;
    case 'audio':
      return (TAPER ** t - 1) / (TAPER - 1);
    case 'reverse-audio':
      return 1 - (TAPER ** (1 - t) - 1) / (TAPER - 1);
    case 's':
      return t * t * (3 - 2 * t);
    case 'points':
      return between(
        [nth(CURVE_ENDS, 0), ...points.filter((p) => p.x > 0 && p.x < 1), nth(CURVE_ENDS, 1)],
        t,
      );
  }
}

/** Points in order of `x`; the share on the straight line between the two beside `t`. */
function between(points: readonly CurvePoint[], t: number): number {
  const right = points.findIndex((p) => p.x >= t);
  const b = nth(points, Math.max(1, right));
  const a = nth(points, Math.max(1, right) - 1);
  return b.x === a.x ? b.y : a.y + ((b.y - a.y) * (t - a.x)) / (b.x - a.x);
}
