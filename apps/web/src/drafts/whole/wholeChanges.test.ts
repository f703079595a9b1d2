import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { RootState } from '../../store';
import type { DraftStatus } from '../saving/saving';
import { allSaved } from './wholeChanges';

const problem = { type: '/problems/invalid', title: 'Refused', status: 422, detail: 'A song needs a name.' };
const STATUS: Record<DraftStatus['kind'], DraftStatus> = {
  saved: { kind: 'saved', at: '' },
  waiting: { kind: 'waiting' },
  'in-flight': { kind: 'in-flight', attempt: 1 },
  off: { kind: 'off', why: null },
  refused: { kind: 'refused', problem },
  conflict: {
    kind: 'conflict',
    theirs: { doc: { id: 's' } as never, version: 2, savedAt: '' },
    disputed: [],
  },
};

describe('whether everything typed is saved', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  /** @param changes how documents stand from a time on, in ms. @returns the answer and when it came. */
  async function asked(
    changes: readonly (readonly [atMs: number, Record<string, DraftStatus['kind']>])[],
    only?: string,
  ): Promise<[boolean, number]> {
    // A page that was open for a while.
    vi.advanceTimersByTime(90_000);
    const startMs = performance.now();
    const forMs = () => performance.now() - startMs;
    const getState = () => {
      const kinds = changes.findLast(([atMs]) => forMs() >= atMs)![1];
      const byKey = Object.fromEntries(
        Object.entries(kinds).map(([key, kind]) => [key, { status: STATUS[kind] }]),
      );
      // Of the store it looks at this alone.
      return { drafts: { byKey } } as unknown as RootState;
    };
    const answer = allSaved(only)(() => undefined as never, getState).then((is): [boolean, number] => [
      is,
      forMs(),
    ]);
    await vi.advanceTimersByTimeAsync(60_000);
    return answer;
  }

  it('is told at once where nothing is typed, or all is saved', async () => {
    expect(await asked([[0, {}]])).toEqual([true, 0]);
    expect(await asked([[0, { a: 'saved', b: 'saved' }]])).toEqual([true, 0]);
  });

  it('is told once the last is saved, on a slow server too', async () => {
    const [is, atMs] = await asked([
      [0, { a: 'waiting', b: 'saved' }],
      [800, { a: 'in-flight', b: 'saved' }],
      [14_000, { a: 'saved', b: 'saved' }],
    ]);
    expect(is).toBe(true);
    expect(atMs).toBeGreaterThanOrEqual(14_000);
    expect(atMs).toBeLessThan(14_200);
  });

  it.each(['refused', 'conflict'] as const)(
    'is not where one is in %s, which is not waited for',
    async (kind) => {
      expect(await asked([[0, { a: 'in-flight', b: kind }]])).toEqual([false, 0]);
      // Another one is no matter.
      expect(await asked([[0, { a: 'saved', b: kind }]], 'a')).toEqual([true, 0]);
      expect(await asked([[0, { b: kind }]], 'a')).toEqual([true, 0]);
    },
  );

  it('is not after a few seconds where the server is away', async () => {
    const [is, atMs] = await asked([[0, { a: 'off' }]]);
    expect(is).toBe(false);
    expect(atMs).toBeGreaterThan(3000);
    expect(atMs).toBeLessThan(6000);
  });
});
