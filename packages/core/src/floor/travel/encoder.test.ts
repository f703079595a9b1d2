import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  PLAIN_RESPONSE,
  RELATIVE_ENCODINGS,
  relativeByte,
  relativeRange,
  relativeSteps,
  stepped,
  turnSteps,
  type RelativeEncoding,
} from '../index';

describe('relative encodings', () => {
  // Common practice, no source: +1 and −1 in each encoding, and their furthest steps.
  it.each<[RelativeEncoding, number, number]>([
    ['twos-complement', 0x01, 1],
    ['twos-complement', 0x7f, -1],
    ['twos-complement', 0x3f, 63],
    ['twos-complement', 0x40, -64],
    ['twos-complement', 0x00, 0],
    ['offset-64', 0x41, 1],
    ['offset-64', 0x3f, -1],
    ['offset-64', 0x40, 0],
    ['offset-64', 0x7f, 63],
    ['offset-64', 0x00, -64],
    ['sign-bit', 0x01, 1],
    ['sign-bit', 0x41, -1],
    ['sign-bit', 0x3f, 63],
    ['sign-bit', 0x7f, -63],
    ['sign-bit', 0x40, 0],
    ['sign-bit-inverted', 0x41, 1],
    ['sign-bit-inverted', 0x01, -1],
    ['sign-bit-inverted', 0x7f, 63],
  ])('%s: byte %i is %i steps', (encoding, byte, steps) => expect(relativeSteps(encoding, byte)).toBe(steps));

  it.each(RELATIVE_ENCODINGS)('%s says every step size in both directions, and reads it back', (encoding) => {
    const { least, most } = relativeRange(encoding);
    for (let steps = least; steps <= most; steps++)
      expect(relativeSteps(encoding, relativeByte(encoding, steps))).toBe(steps);
    for (const beyond of [least - 1, most + 1, 0.5])
      expect(() => relativeByte(encoding, beyond)).toThrow(RangeError);
    for (const byte of [-1, 128, 1.5]) expect(() => relativeSteps(encoding, byte)).toThrow(RangeError);
  });

  it('two’s complement agrees with an 8-bit integer of the machine', () => {
    // Witness: Int8Array of the language, whose numbers are two's complement (ECMA-262).
    for (let byte = 0; byte < 128; byte++)
      expect(relativeSteps('twos-complement', byte)).toBe(Int8Array.of(byte << 1)[0]! >> 1);
  });
});

describe('turning', () => {
  const response = { ...PLAIN_RESPONSE, slowStep: 1, fastStep: 10, fastPerS: 24 };
  it.each([
    ['the first detent is slow', 1, null, 1],
    ['a slow turn', 1, 250, 1],
    ['half way between slow and fast', 1, 1000 / 14, 6],
    ['just as fast as fast', 1, 1000 / 24, 10],
    ['faster than fast is no more', 1, 2, 10],
    ['to the left', -1, 2, -10],
    ['three detents in one message', 3, 1000, 3],
  ])('%s', (_name, detents, gapMs, steps) => expect(turnSteps(response, detents, gapMs)).toBe(steps));
  it('goes the other way round in reverse', () =>
    expect(turnSteps({ ...response, reverse: true }, 1, null)).toBe(-1));
  it.each([
    [120, 10, false, 127],
    [120, 10, true, 2],
    [3, -10, false, 0],
    [3, -10, true, 121],
    [0, -128, true, 0],
  ])('from %i by %i, round the end %s, is %i', (value, steps, wrap, after) =>
    expect(stepped(value, steps, 0, 127, wrap)).toBe(after),
  );
  it('stays within its bounds whatever the steps', () => {
    fc.assert(
      fc.property(fc.integer({ min: 10, max: 90 }), fc.integer(), fc.boolean(), (value, steps, wrap) => {
        const after = stepped(value, steps % 10_000, 10, 90, wrap);
        expect(after >= 10 && after <= 90).toBe(true);
      }),
      { seed: 71 },
    );
  });
});
