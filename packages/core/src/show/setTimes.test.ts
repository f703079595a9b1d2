import { describe, expect, it } from 'vitest';
import { makeSong } from '../testing.test-support';
import {
  entriesTonight,
  entryLengthS,
  PLAIN_ENTRY,
  PLAIN_LINE,
  PLAIN_SCENE,
  PLAIN_SET,
  PLAIN_SONG,
  PLAIN_TEMPO_CHANGE,
  setTimes,
  songLine,
  type Setlist,
  type SetEntry,
  type Song,
} from './index';

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
    expect(entries.map((e) => [e.song?.name ?? e.entry.kind, e.number, e.startS, e.lengthS])).toEqual([
      ['Slow', 1, 0, 250],
      ['talk', null, 250, 50],
      ['Quick', 2, 300, 200],
      ['break', null, 500, 900],
      ['Verse song', 3, 1400, 268],
      ['Quick', 4, 1668, 200],
      ['Slow', 5, 1868, 180],
    ]);
    expect([playedS, encoreS, overS]).toEqual([1868, 180, 68]);
  });

  it('tell jumps of tempo and key, and the same song twice', () => {
    expect(entries.map((e) => e.tempoJump)).toEqual([null, null, 50, null, null, null, -50]);
    expect(entries.map((e) => e.keyJump)).toEqual([null, null, null, null, 4, 4, null]);
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

  it('a song with scenes left out lasts what it plays, at the tempos that it comes to', () => {
    // 16 bars of 4 at 120 are 32 s; the middle part at 60 bpm is left out, and would have taken as long again.
    const bars = (id: string, sceneId: string) => ({
      id,
      sceneId,
      name: '',
      remark: '',
      length: { amount: 8, unit: 'bars' as const },
    });
    const scenes = [
      { ...PLAIN_SCENE, id: 'a', name: 'A' },
      { ...PLAIN_SCENE, id: 'b', name: 'B', tempoBpm: 60 },
      { ...PLAIN_SCENE, id: 'c', name: 'C', tempoBpm: 120 },
    ];
    const parts = [bars('1', 'a'), bars('2', 'b'), bars('3', 'c')];
    // The change is written in bar 9: where the second part is left out it is in the third.
    const line = { ...PLAIN_LINE, tempos: [{ ...PLAIN_TEMPO_CHANGE, id: 't', bar: 9, beat: 3, bpm: 240 }] };
    const made: Song = {
      ...PLAIN_SONG,
      id: 's',
      rigId: 'r',
      name: 'S',
      tempoBpm: 120,
      beatsPerBar: 4,
      lengthS: 0,
      scenes,
      parts,
      line,
    };
    const played = songLine(made, [parts[0]!, parts[2]!]);
    const lengthS = played.parts.reduce((sum, p) => sum + p.lengthS!, 0);
    const whole = songLine(made).parts.reduce((sum, p) => sum + p.lengthS!, 0);
    const entry = {
      ...PLAIN_ENTRY,
      id: 'e',
      kind: 'song' as const,
      songId: 's',
      lengthS: null,
      leftOutSceneIds: ['b'],
    };
    // 32 beats at 120, then 2 at 120 and 30 at 240.
    expect(lengthS).toBeCloseTo(16 + 1 + 7.5, 9);
    expect(entryLengthS(entry, { ...made, lengthS: whole })).toBeCloseTo(lengthS, 9);
  });

  it('what is not played tonight takes no time and no number, and the others are as without it', () => {
    const played = [song('slow'), pause('break', 600), song('quick', { isEncore: true })];
    const whole = setOf([
      song('long', { notTonight: true }),
      played[0]!,
      { ...pause('talk', 60), notTonight: true },
      played[1]!,
      song('long', { notTonight: true, isEncore: true }),
      played[2]!,
    ]);
    const of = (set: Setlist) => setTimes(set, (id) => songs[id]);
    const without = of(setOf(played));
    expect(entriesTonight(whole)).toEqual(played);
    expect(of(whole).entries.filter((t) => !t.entry.notTonight)).toEqual(
      without.entries.map((t) => ({ ...t, sameAs: null })),
    );
    expect(
      of(whole)
        .entries.filter((t) => t.entry.notTonight)
        .map((t) => t.number),
    ).toEqual([null, null, null]);
    expect(of(whole)).toMatchObject({ playedS: without.playedS, encoreS: without.encoreS });
  });
});
