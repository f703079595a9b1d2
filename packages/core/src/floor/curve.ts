/** How a pedal's travel becomes a value. All run from 0 to 1 and rise throughout. */
export const CURVES = ['linear', 'audio', 'reverse-audio', 's'] as const;
export type Curve = (typeof CURVES)[number];

/** Base of the exponential taper: half the travel gives about a tenth. Common practice, no source. */
const TAPER = 81;

/**
 * The share of the range (0–1) at a share of the travel (0–1, clamped).
 * `audio` is an exponential taper, `reverse-audio` its mirror, `s` the smoothstep 3t² − 2t³.
 * Example: `applyCurve('audio', 0.5)` is 0.1.
 */
export function applyCurve(curve: Curve, travel: number): number {
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
  }
}
