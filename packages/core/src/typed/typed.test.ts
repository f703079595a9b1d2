import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutText, findName, matching, readNumber, readWhole } from './index';

describe('a number that is typed', () => {
  it.each([
    ['12', 12, 12],
    [' 7 ', 7, 7],
    ['-3', -3, -3],
    ['−3', -3, -3],
    ['+3', 3, 3],
    ['007', 7, 7],
    ['60.5', null, 60.5],
    ['60,5', null, 60.5],
    ['.5', null, 0.5],
    ['60.', null, 60],
    // Each of these was read by its first digits.
    ['1/8', null, null],
    ['3b', null, null],
    ['03B', null, null],
    ['1e3', null, null],
    ['0x10', null, null],
    ['1.2.3', null, null],
    ['1,200.5', null, null],
    ['12 bars', null, null],
    ['٣', null, null],
    ['--3', null, null],
    ['', null, null],
    ['-', null, null],
    ['Infinity', null, null],
    ['NaN', null, null],
  ])('“%s” is the whole number %s and the number %s', (text, whole, number) => {
    expect([readWhole(text), readNumber(text)]).toEqual([whole, number]);
  });
  it('is read whole or not at all', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const number = readNumber(text);
        if (number !== null) expect(text.trim()).toMatch(/^[-+−]?\d*[.,]?\d*$/);
        if (readWhole(text) !== null) expect(number).toBe(readWhole(text));
      }),
      { seed: 13, numRuns: 2000 },
    );
    fc.assert(
      fc.property(fc.integer({ min: -1e9, max: 1e9 }), (n) => {
        expect(readWhole(String(n))).toBe(n);
      }),
      { seed: 14 },
    );
  });
});

describe('a name that is typed', () => {
  const names = ['Dry', 'Body', 'Bow wide', 'Bow', 'Full'];
  it.each([
    ['body', 1],
    ['BOW', 3],
    ['wide', 2],
    ['fu', 4],
    ['bo', [1, 2, 3]],
    ['d', 0],
    ['dy', 1],
    ['x', null],
    ['', null],
    [' full ', 4],
  ])('%s', (text, place) => expect(findName(names, text)).toEqual(place));
});

it('a text that is cut has no half characters', () => {
  expect([cutText('ab🎸', 3), cutText('ab🎸', 4), cutText('ab', 3), cutText('🎸', 1)]).toEqual([
    'ab',
    'ab🎸',
    'ab',
    '',
  ]);
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), fc.nat(40), (text, most) => {
      const cut = cutText(text, most);
      expect(cut.isWellFormed()).toBe(true);
      expect(
        text.startsWith(cut) && cut.length <= most && cut.length >= Math.min(text.length, most) - 1,
      ).toBe(true);
    }),
    { seed: 16 },
  );
});

describe('names that are meant while one types', () => {
  const names = [
    'Kelpline: Volume',
    'Kelpline: Snapshot',
    'Roundel: Volume',
    'Song tempo',
    'Volume pedal',
    'Revolution',
  ];
  it.each([
    ['', [0, 1, 2, 3, 4, 5]],
    ['vol', [4, 0, 2, 5]],
    ['VOLUME', [4, 0, 2]],
    ['round vol', [2]],
    ['vol round', [2]],
    ['kelp', [0, 1]],
    ['song tempo', [3]],
    ['nothing', []],
    ['  ', [0, 1, 2, 3, 4, 5]],
  ])('“%s”', (typed, places) => expect(matching(names, typed)).toEqual(places));
});
