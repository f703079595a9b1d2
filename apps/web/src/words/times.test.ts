import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bpmText, minuteOfDay, parseBar, timeInSet, timeOfDay } from './times';

it('writes the time of day as a browser does in British English', () => {
  const year = { min: new Date('1971-01-01'), max: new Date('2099-12-31'), noInvalidDate: true };
  fc.assert(
    fc.property(fc.date(year), fc.boolean(), (date, seconds) => {
      const words = date.toLocaleTimeString('en-GB', {
        hour: '2-digit',
        minute: '2-digit',
        second: seconds ? '2-digit' : undefined,
      });
      expect(timeOfDay(date.getTime(), seconds)).toBe(words);
      expect(timeOfDay(date.toISOString(), seconds)).toBe(words);
    }),
  );
});

it('writes a moment to the millisecond, without the hour', () => {
  expect(minuteOfDay(new Date(2026, 4, 3, 20, 14, 9, 904).getTime())).toBe('14:09.904');
  expect(minuteOfDay(new Date(2026, 4, 3, 20, 0, 0, 7).getTime())).toBe('00:00.007');
});

describe('the time of day in a set', () => {
  it.each([
    ['', 0, 0, '00:00'],
    ['', 1439, 60, '00:00'],
    ['', 1200, 59, '20:00'],
    ['', 1200, 86_400 * 2 + 60, '20:01'],
    // The tests run on the clock of Berlin: it goes back at 3 on this night and forward at 2 on that one. Source: Directive 2000/84/EC (from memory).
    ['2026-10-25', 90, 3600, '02:30'],
    ['2026-10-25', 90, 2 * 3600, '02:30'],
    ['2026-10-25', 90, 3 * 3600, '03:30'],
    ['2026-03-29', 90, 1800, '03:00'],
    ['2026-03-28', 23 * 60 + 30, 3 * 3600, '03:30'],
    ['2026-07-01', 23 * 60 + 30, 3 * 3600, '02:30'],
  ])('on “%s” %i min after midnight and %i s is %s', (date, startMin, s, text) => {
    expect(timeInSet({ date, startMin }, s)).toBe(text);
  });
  it('is minutes and seconds where no start is known', () =>
    expect(timeInSet({ date: '2026-10-25', startMin: null }, 245)).toBe('4:05'));
});

it.each([
  ['4', { beatsPerBar: 4, beatUnit: 4 }],
  ['6/8', { beatsPerBar: 6, beatUnit: 8 }],
  [' 12 / 16 ', { beatsPerBar: 12, beatUnit: 16 }],
])('%s is a bar', (text, value) => expect(parseBar(text)).toEqual({ value }));
it.each(['', '0/4', '6/7', '33/8', '4/4/4', '1e1', '-3', '3,5'])('%s is none', (text) =>
  expect(parseBar(text).error).toContain('is no bar; 4/4, 6/8 or 3 would be right'),
);

it('writes tempos to a hundredth', () =>
  expect([92, 92.5, 60_000_000 / 461_539].map(bpmText)).toEqual(['92', '92.5', '130']));
