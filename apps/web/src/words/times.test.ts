import fc from 'fast-check';
import { expect, it } from 'vitest';
import { minuteOfDay, timeOfDay } from './times';

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
