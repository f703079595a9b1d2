import fc from 'fast-check';
import { expect, it } from 'vitest';
import { anyEvening, whatReceiversMiss } from './receiverRuns.test-support';

it('after every recall a receiver that knows only bytes holds what is known and what the scene says', () => {
  fc.assert(
    fc.property(anyEvening, (evening) => {
      expect(whatReceiversMiss(evening)).toBeNull();
    }),
    { seed: 30, numRuns: 500 },
  );
});
