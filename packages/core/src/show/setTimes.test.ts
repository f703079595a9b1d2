import { describe, expect, it } from 'vitest';
import { makeSong } from '../testing.test-support';
import { PLAIN_ENTRY, PLAIN_SET, setTimes, timeOfDay, type Setlist, type SetEntry, type Song } from './index';

const verse = makeSong('Verse song', [
  ['Verse', {}],
  ['Bridge', {}],
]);
// 120 bpm in four: a bar takes 2 s.
const songs: Record<string, Song> = {
  slow: { ...makeSong('Slow', [['One', {}]]), id: 'slow', tempoBpm: 70, lengthS: 250, key: 'D minor' },
  quick: { ...makeSong('Quick', [['One', {}]]), id: 'quick', tempoBpm: 120, lengthS: 200, key: 'D minor' },
  long: {
    ...verse,
    id: 'long',
    tempoBpm: 120,
    lengthS: 300,
    key: 'A',
    parts: verse.scenes.map((s) => ({
      id: `p-${s.id}`,
      sceneId: s.id,
      name: '',
      length: { amount: 16, unit: 'bars' },
      remark: '',
    })),
  },
};
const song = (songId: string, part: Partial<SetEntry & { kind: 'song' }> = {}): SetEntry => ({
  ...PLAIN_ENTRY,
  id: `${songId}-${Math.random()}`,
  kind: 'song',
  songId,
  lengthS: null,
  leftOutSceneIds: [],
  ...part,
});
const pause = (kind: 'break' | 'talk', lengthS: number): SetEntry => ({
  ...PLAIN_ENTRY,
  id: `${kind}-${lengthS}`,
  kind,
  name: kind,
  lengthS,
});
const setOf = (entries: SetEntry[], part: Partial<Setlist> = {}): Setlist => ({
  ...PLAIN_SET,
  id: 'set',
  rigId: 'rig',
  name: 'Set',
  ...part,
  entries,
});
const timesOf = (set: Setlist) => setTimes(set, (id) => songs[id]);

describe('the times of a set', () => {
  // Reckoned by hand. Starts at 23:50; the bridge of the long song is 16 bars of 2 s, so it is 300 − 32 = 268 s.
  const set = setOf(
    [
      song('slow'),
      pause('talk', 50),
      song('quick'),
      pause('break', 900),
      song('long', { leftOutSceneIds: [verse.scenes[1]!.id] }),
      song('slow', { lengthS: 180, isEncore: true }),
      song('quick'),
    ],
    { startMin: 23 * 60 + 50, slotS: 1800 },
  );
  const { entries, playedS, encoreS, overS } = timesOf(set);

  it('follow each other, over midnight, with what is planned and left out this evening; encores come last', () => {
    expect(
      entries.map((e) => [
        e.song?.name ?? e.entry.kind,
        e.number,
        e.startS,
        e.lengthS,
        timeOfDay(set.startMin!, e.startS),
      ]),
    ).toEqual([
      ['Slow', 1, 0, 250, '23:50'],
      ['talk', null, 250, 50, '23:54'],
      ['Quick', 2, 300, 200, '23:55'],
      ['break', null, 500, 900, '23:58'],
      ['Verse song', 3, 1400, 268, '00:13'],
      ['Quick', 4, 1668, 200, '00:17'],
      ['Slow', 5, 1868, 180, '00:21'],
    ]);
    expect([playedS, encoreS, overS]).toEqual([1868, 180, 68]);
  });

  it('tell jumps of tempo and key, and the same song twice', () => {
    expect(entries.map((e) => e.tempoJump)).toEqual([null, null, 50, null, null, null, -50]);
    expect(entries.map((e) => e.keyChanges)).toEqual([false, false, false, false, true, true, false]);
    expect(entries.map((e) => e.sameAs)).toEqual([null, null, null, null, null, 2, 0]);
  });

  it('without a slot there is no over or under, and a song that is gone takes no time', () => {
    const bare = timesOf(setOf([song('gone'), song('slow')]));
    expect(bare.overS).toBeNull();
    expect(bare.entries.map((e) => [e.startS, e.lengthS])).toEqual([
      [0, 0],
      [0, 250],
    ]);
  });

  it.each([
    [0, 0, '00:00'],
    [1439, 60, '00:00'],
    [1200, 59, '20:00'],
    [1200, 86_400 * 2 + 60, '20:01'],
  ])('%i min after midnight and %i s is %s', (min, s, text) => expect(timeOfDay(min, s)).toBe(text));
});
