import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeDevice, makeFunction } from '../../testing.test-support';
import {
  expectedText,
  parseShown,
  readShownEnds,
  shownEndsText,
  shownText,
  type FunctionShape,
  type ShownEnds,
} from '../index';

const seven = { min: 0, max: 127 };
const ends = (low: number, high: number, unit: string, isLog = false): ShownEnds => ({
  low,
  high,
  unit,
  isLog,
});
const device = makeDevice({});
const fnOf = (given: ShownEnds, bounds = seven) => {
  const shape: FunctionShape = { kind: 'range', ...bounds, shownFrom: 0, ends: given };
  return makeFunction({ id: 'fn', drive: { kind: 'controller', controller: 20 }, shape });
};
const shown = (given: ShownEnds, value: number, bounds = seven) =>
  shownText(device, fnOf(given, bounds), value);
const read = (given: ShownEnds, text: string, bounds = seven) => {
  const result = parseShown(device, fnOf(given, bounds), text);
  return result.ok ? result.value : result.error.code;
};

describe('a range whose ends have a unit', () => {
  // Reckoned by hand: low + (high − low) × value / 127, and low × (high / low) ^ (value / 127).
  it.each<[ShownEnds, number, string]>([
    [ends(0, 100, '%'), 0, '0 %'],
    [ends(0, 100, '%'), 64, '50.4 %'],
    [ends(0, 100, '%'), 127, '100 %'],
    [ends(-60, 12, 'dB'), 0, '-60 dB'],
    [ends(-60, 12, 'dB'), 106, '0.1 dB'],
    [ends(20, 2000, 'ms'), 64, '1018 ms'],
    [ends(20, 20_000, 'Hz', true), 127, '20000 Hz'],
    [ends(100, 10_000, 'Hz', true), 64, '1018 Hz'],
    [ends(127, 0, '%'), 27, '100 %'],
  ])('%j shows value %i as %s', (given, value, text) => expect(shown(given, value)).toBe(text));

  it.each<[ShownEnds, string, number | string]>([
    [ends(0, 100, '%'), '50', 64],
    [ends(0, 100, '%'), '50,4 %', 64],
    [ends(0, 100, '%'), '100%', 127],
    [ends(-60, 12, 'dB'), '−60 dB', 0],
    [ends(-60, 12, 'dB'), '0', 106],
    [ends(20, 2000, 'ms'), '1.018 s', 64],
    [ends(100, 10_000, 'Hz', true), '10 kHz', 127],
    [ends(0, 100, '%'), '101', 'out-of-range'],
    [ends(0, 100, '%'), '50 dB', 'not-a-value'],
    [ends(0, 100, '%'), 'half', 'not-a-value'],
    [ends(100, 10_000, 'Hz', true), '-4 Hz', 'out-of-range'],
  ])('%j reads %s as %s', (given, text, value) => expect(read(given, text)).toBe(value));

  it('says what would be right in its unit', () =>
    expect(expectedText(device, fnOf(ends(20, 20_000, 'Hz', true)))).toBe('20 to 20000 Hz'));

  const anyEnds = fc
    .tuple(
      fc.double({ min: -1e4, max: 1e4, noNaN: true }).map((n) => Math.round(n * 100) / 100 + 0),
      fc.double({ min: -1e4, max: 1e4, noNaN: true }).map((n) => Math.round(n * 100) / 100 + 0),
      fc.constantFrom('dB', '%', 'ms', 'Hz', 'st'),
      fc.boolean(),
    )
    .filter(([low, high]) => Math.abs(low - high) >= 1)
    .map(([low, high, unit, log]) => ends(low, high, unit, log && low >= 1 && high >= 1));

  it('every value is read back from what is shown for it, and shown unlike its neighbour', () => {
    fc.assert(
      fc.property(
        anyEnds,
        fc.constantFrom(seven, { min: 0, max: 16_383 }, { min: 10, max: 100 }),
        fc.nat(16_383),
        (given, bounds, n) => {
          const value = bounds.min + (n % (bounds.max - bounds.min));
          const text = shown(given, value, bounds);
          expect(read(given, text, bounds)).toBe(value);
          expect(shown(given, value + 1, bounds)).not.toBe(text);
        },
      ),
      { seed: 332, numRuns: 2000 },
    );
  });

  it('is written in a chart and read again', () => {
    fc.assert(
      fc.property(anyEnds, (given) => {
        expect(readShownEnds(shownEndsText(given))).toEqual(given);
      }),
      { seed: 332 },
    );
  });
  it.each([
    ['0-100 %', ends(0, 100, '%')],
    ['-60 – 12 dB', ends(-60, 12, 'dB')],
    ['20 to 20000 Hz log', ends(20, 20_000, 'Hz', true)],
    ['20 ms to 2000 ms', ends(20, 2000, 'ms')],
    ['0,1 … 10 Hz', ends(0.1, 10, 'Hz')],
  ])('“%s”', (text, given) => expect(readShownEnds(text)).toEqual(given));
  it.each(['', '1', '0-100', '5 to 5 %', 'low to high dB', '0 to 10 Hz log', '1 to'])(
    '“%s” is none',
    (text) => expect(readShownEnds(text)).toBeNull(),
  );
});
