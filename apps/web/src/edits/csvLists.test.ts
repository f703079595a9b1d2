import { SetlistSchema, songSummary, SongSchema } from '@idle-step/contract';
import { readSetCsv, readSongCsv } from '@idle-step/core/formats';
import { demoRig, demoSongs } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { setFromCsv, songsFromCsv } from './csvLists';

const list = demoSongs.map((s) => songSummary(s));
const songs = (text: string) => {
  const rows = readSongCsv(text);
  if (!rows.ok) throw new Error(rows.error[0]!.sentence);
  return songsFromCsv(rows.value, list, demoRig.id);
};
const set = (text: string) => {
  const rows = readSetCsv(text);
  if (!rows.ok) throw new Error(rows.error[0]!.sentence);
  return setFromCsv(rows.value, list, demoRig.id, 'Read');
};

describe('a list of songs that was read', () => {
  it('makes new titles into songs that can be kept, with their scenes', () => {
    const { fresh, changed, same } = songs('title,bpm,scenes\nQuiet Lock,61,Intro|Verse|Outro\nheron,64,\n');
    expect(fresh.map((s) => [s.name, s.tempoBpm, s.scenes.map((x) => x.name)])).toEqual([
      ['Quiet Lock', 61, ['Intro', 'Verse', 'Outro']],
    ]);
    expect(SongSchema.safeParse(fresh[0]).success).toBe(true);
    expect([changed.length, same]).toEqual([0, 1]);
  });
  it('changes of a song that is there only what the file says differently, and says so', () => {
    const { changed } = songs('title,bpm,key\nHeron,70,\nPaper Weir,108,A\n');
    expect(changed.map((c) => [c.name, c.words])).toEqual([
      ['Heron', ['tempo 64 to 70']],
      ['Paper Weir', ['key G to A']],
    ]);
    const heron = demoSongs.find((s) => s.name === 'Heron')!;
    expect(changed[0]!.apply(heron)).toEqual({ ...heron, tempoBpm: 70 });
  });
});

describe('a running order that was read', () => {
  it('is a set of the songs that are there', () => {
    const made = set('kind,name,length,encore\nsong,heron,,\ntalk,Hello,1:30,\nsong,Low Water,5:00,yes\n');
    expect(SetlistSchema.safeParse(made).success).toBe(true);
    expect(made).toMatchObject({
      name: 'Read',
      entries: [
        { kind: 'song', songId: demoSongs.find((s) => s.name === 'Heron')!.id, lengthS: null },
        { kind: 'talk', name: 'Hello', lengthS: 90 },
        { kind: 'song', lengthS: 300, isEncore: true },
      ],
    });
  });
  it('is refused with the lines whose songs are not there', () =>
    expect(set('name\nHeron\nNowhere\n')).toEqual([
      { line: 3, sentence: 'There is no song “Nowhere”; write it first, or take this line out.' },
    ]));
});
