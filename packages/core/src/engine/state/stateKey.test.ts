import fc from 'fast-check';
import { expect, it } from 'vitest';
import { anyHistories, keysMatter } from '../time/timeRuns.test-support';

it('2,000 pairs of states with one key give the same bytes at the same times for the same 20 events', () => {
  let [pairs, runs] = [0, 0];
  fc.assert(
    fc.property(anyHistories, (histories) => {
      runs++;
      if (pairs >= 2000) return;
      const found = keysMatter(histories);
      pairs += found.pairs;
      expect(found.wrong).toBeNull();
    }),
    { seed: 10, numRuns: 100 },
  );
  expect(pairs).toBeGreaterThanOrEqual(20 * runs);
});
