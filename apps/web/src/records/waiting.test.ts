import type { GearRecord } from '@idle-step/contract';
import { describe, expect, it } from 'vitest';
import { waitingOfAll } from './waiting';

const at = (minute: number) => `2026-12-01T19:${String(minute).padStart(2, '0')}:00.000Z`;
const said = (id: string, minute: number): GearRecord => ({
  id,
  rigId: 'rig',
  aboutId: id,
  at: at(minute),
  what: { kind: 'board', sent: 'unknown', stored: null },
});
const settled = (...words: GearRecord[]) => new Map(words.map((r) => [r.id, Date.parse(r.at)]));

describe('what waits for the server in a browser with two windows', () => {
  it('is of both', () =>
    expect(waitingOfAll([said('a', 1)], [said('b', 2)], new Map())).toEqual([said('a', 1), said('b', 2)]));
  it('is no more what one of them got rid of', () =>
    expect(waitingOfAll([said('a', 1), said('b', 2)], [], settled(said('b', 2)))).toEqual([said('a', 1)]));
  it('is the later word of the same thing, whoever said it', () => {
    expect(waitingOfAll([said('a', 5)], [said('a', 1)], new Map())).toEqual([said('a', 5)]);
    expect(waitingOfAll([said('a', 1)], [said('a', 5)], new Map())).toEqual([said('a', 5)]);
  });
  it('still is what was said after the word that was taken', () =>
    expect(waitingOfAll([said('a', 5)], [], settled(said('a', 1)))).toEqual([said('a', 5)]));
});
