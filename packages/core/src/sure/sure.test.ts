import { describe, expect, it } from 'vitest';
import { got, isOneOf, isRecord, keysOf, lastOf, nth, tableOf, there } from './index';

describe('what has to be there', () => {
  it.each([0, 1, 2])('entry %d of a list', (i) => expect(nth(['a', 'b', 'c'], i)).toBe('abc'[i]));
  it.each([-1, 3, 0.5, NaN, Infinity])('no entry %d', (i) =>
    i === 0.5
      ? expect(nth(['a', 'b'], i)).toBeUndefined()
      : expect(() => nth(['a', 'b', 'c'], i)).toThrow(RangeError),
  );
  it('an entry may be nothing: only its place is looked at', () => {
    expect(nth([undefined, null], 0)).toBeUndefined();
    expect(nth(new Uint8Array([7]), 0)).toBe(7);
  });
  it('the last', () => {
    expect(lastOf([1, 2])).toBe(2);
    expect(() => lastOf([])).toThrow('no entry -1 in a list of 0');
  });
  it('under a key', () => {
    expect(got(new Map([['a', 0]]), 'a')).toBe(0);
    expect(() => got(new Map(), 'b')).toThrow('nothing under b');
  });
  it.each([null, undefined])('%s is not there', (value) => expect(() => there(value)).toThrow(RangeError));
  it.each([0, '', false])('%j is there', (value) => expect(there(value)).toBe(value));
});

it('names and tables', () => {
  expect(keysOf({ a: 1, b: 2 })).toEqual(['a', 'b']);
  expect(tableOf(['x', 'y'], (key, i) => key + i)).toEqual({ x: 'x0', y: 'y1' });
  expect([isOneOf([1, 2], 2), isOneOf([1, 2], '2')]).toEqual([true, false]);
  expect([{}, [], null, 'a'].map(isRecord)).toEqual([true, false, false, false]);
});
