import * as ease from 'd3-ease';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyCurve, CURVES, sweepValue, type Curve } from '../index';

const sweep = (from: number, to: number, invert = false, curve: Curve = 'linear') => ({
  from,
  to,
  invert,
  curve,
  points: [],
});

describe('curves', () => {
  it.each(CURVES)('%s runs from exactly 0 to exactly 1 and never falls', (curve) => {
    expect(applyCurve(curve, 0)).toBe(0);
    expect(applyCurve(curve, 1)).toBe(1);
    for (let i = 1; i <= 1000; i++)
      expect(applyCurve(curve, i / 1000)).toBeGreaterThanOrEqual(applyCurve(curve, (i - 1) / 1000));
  });

  it('is a tenth at half travel for the audio taper, nine tenths for its mirror', () => {
    expect(applyCurve('audio', 0.5)).toBeCloseTo(0.1, 12);
    expect(applyCurve('reverse-audio', 0.5)).toBeCloseTo(0.9, 12);
  });

  it('bends as an independent easing library says', () => {
    // Witness: d3-ease 3. Its cubic in-out is 4t³, so the smoothstep is compared by their shared points and
    // symmetry; the linear one everywhere.
    for (let i = 0; i <= 100; i++) {
      const t = i / 100;
      expect(applyCurve('linear', t)).toBe(ease.easeLinear(t));
      expect(applyCurve('s', t) + applyCurve('s', 1 - t)).toBeCloseTo(
        ease.easeCubicInOut(t) + ease.easeCubicInOut(1 - t),
        12,
      );
    }
    for (const t of [0, 0.5, 1]) expect(applyCurve('s', t)).toBe(ease.easeCubicInOut(t));
  });

  it('clamps what is outside the travel', () => {
    for (const curve of CURVES) {
      expect(applyCurve(curve, -1)).toBe(0);
      expect(applyCurve(curve, 2)).toBe(1);
    }
  });
});

describe('sweep', () => {
  it.each([
    [sweep(0, 127), 0, 0],
    [sweep(0, 127), 64, 64],
    [sweep(0, 127), 127, 127],
    [sweep(20, 110), 64, 65],
    [sweep(0, 127, true), 0, 127],
    [sweep(0, 127, true), 127, 0],
    [sweep(110, 20), 127, 20],
    [sweep(0, 100, false, 'audio'), 127, 100],
  ] as const)('%j at %i is %i', (s, position, value) => expect(sweepValue(s, position)).toBe(value));

  it('stays within its range, gives both ends exactly, and goes one way only', () => {
    const d7 = fc.nat(127);
    fc.assert(
      fc.property(d7, d7, fc.boolean(), fc.constantFrom(...CURVES), (from, to, invert, curve) => {
        const values = Array.from({ length: 128 }, (_, p) => sweepValue(sweep(from, to, invert, curve), p));
        expect([values[0], values[127]]).toEqual(invert ? [to, from] : [from, to]);
        for (const v of values) expect(v >= Math.min(from, to) && v <= Math.max(from, to)).toBe(true);
        const steps = values
          .slice(1)
          .map((v, i) => Math.sign(v - values[i]!))
          .filter((s) => s !== 0);
        expect(new Set(steps).size).toBeLessThanOrEqual(1);
      }),
      { seed: 51 },
    );
  });
});
