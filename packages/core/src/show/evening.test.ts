import { describe, expect, it } from 'vitest';
import { playedSongs, type EveningEntry, type PlannedSong } from './index';

const plan: readonly PlannedSong[] = ['one', 'two', 'three'].map((entryId) => ({
  entryId,
  songId: `song ${entryId}`,
  name: entryId,
  lengthS: 200,
}));

type Happened = [atS: number, what: 'one' | 'two' | 'three' | 'pause' | 'end' | 'begin'];

const log = (...happened: Happened[]): EveningEntry[] =>
  happened.map(([atS, what], number) => {
    const head = { number, atMs: atS * 1000 };
    if (what === 'pause') return { ...head, kind: 'pause', name: 'Break' };
    if (what === 'end' || what === 'begin') return { ...head, kind: what };
    return { ...head, kind: 'scene', entryId: what, song: what, scene: 'Scene' };
  });

describe('how long songs really were', () => {
  it.each([
    [
      'one after the other',
      log([0, 'one'], [10, 'one'], [185.4, 'two'], [400, 'three'], [610, 'end']),
      [185, 215, 210],
    ],
    ['a break ends a song', log([0, 'one'], [100, 'pause'], [900, 'two'], [1000, 'end']), [100, 100, null]],
    [
      'gone back to',
      log([0, 'one'], [100, 'two'], [110, 'one'], [130, 'two'], [230, 'end']),
      [120, 110, null],
    ],
    ['where the log breaks off', log([0, 'one'], [100, 'two']), [100, null, null]],
    ['gone back to where the log breaks off', log([0, 'one'], [100, 'two'], [200, 'one']), [null, 100, null]],
    [
      'gone past on the way to another one',
      log([0, 'one'], [100, 'two'], [101, 'three'], [300, 'two'], [302.9, 'three'], [400, 'end']),
      [100, null, 296],
    ],
    ['nothing played', log([0, 'begin'], [5, 'end']), [null, null, null]],
  ])('%s', (_what, entries, played) => {
    expect(playedSongs(plan, entries).map((s) => s.playedS)).toEqual(played);
  });

  it('says when each began for the first time', () => {
    const played = playedSongs(plan, log([3, 'one'], [100, 'two'], [110, 'one'], [130, 'end']));
    expect(played.map((s) => s.startedAtMs)).toEqual([3000, 100_000, null]);
  });
});
