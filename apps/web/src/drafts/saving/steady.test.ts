import { expect, it } from 'vitest';
import { oncePerDoc, steadyList } from './steady';

const [a, b, c] = [{ n: 1 }, { n: 2 }, { n: 3 }];

it.each([
  { was: [], now: [], isSame: true },
  { was: [a, b], now: [a, b], isSame: true },
  { was: [a, b], now: [b, a], isSame: false },
  { was: [a, b], now: [a], isSame: false },
  { was: [a], now: [a, b], isSame: false },
  { was: [a, b], now: [a, { n: 2 }], isSame: false },
  { was: [a, b], now: [a, c], isSame: false },
])('a list after $was with $now is the same object: $isSame', ({ was, now, isSame }) => {
  const steady = steadyList<{ n: number }>();
  const before = steady(was);
  const after = steady(now);
  expect(after === before).toBe(isSame);
  expect(after).toEqual(now);
});

it('a document is worked on once, however often it is asked for, also with nothing as the result', () => {
  const asked: number[] = [];
  const sum = oncePerDoc(({ n }: { n: number }) => {
    asked.push(n);
    return n === 1 ? undefined : { n };
  });
  expect(sum(b)).toBe(sum(b));
  expect([sum(a), sum(a)]).toEqual([undefined, undefined]);
  expect(sum({ n: 2 })).not.toBe(sum(b));
  expect(asked).toEqual([2, 1, 2]);
});
