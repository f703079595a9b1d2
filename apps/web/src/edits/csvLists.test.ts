import { type FullRig, portName } from '@idle-step/core/routing';
import { type Setlist, entriesInOrder, PLAIN_ENTRY, setTimes } from '@idle-step/core/show';
import { SetlistSchema, songSummary, SongSchema } from '@idle-step/contract';
import { readSetCsv, readSongCsv, writeSetCsv } from '@idle-step/core/formats';
import { demoRig, demoSets, demoSongs } from '@idle-step/demo';
import fc from 'fast-check';
import Papa from 'papaparse';
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
  return setFromCsv(rows.value, rig, list, demoSongs, null, (name) => name ?? 'Read');
};
const rig = demoRig as FullRig;

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

describe('a scene that is left out tonight', () => {
  const heron = demoSongs.find((s) => s.name === 'Heron')!;
  const song = {
    ...heron,
    scenes: ['Verse', 'Bridge', 'verse'].map((name, i) => ({ ...heron.scenes[0]!, id: `scene-${i}`, name })),
  };
  const leftOut = (cell: string) => {
    const rows = readSetCsv(`kind,name,left out tonight\nsong,Heron,${cell}\n`);
    if (!rows.ok) throw new Error(rows.error[0]!.sentence);
    const made = setFromCsv(rows.value, rig, list, [song], null, (name) => name ?? 'Read');
    if (Array.isArray(made)) return (made as { sentence: string }[]).map((f) => f.sentence);
    return (made as Setlist).entries.flatMap((e) => (e.kind === 'song' ? e.leftOutSceneIds : []));
  };
  it.each([
    ['Bridge', ['scene-1']],
    ['3', ['scene-2']],
    ['3 verse', ['scene-2']],
    // Where the song was put into another order since, the name counts.
    ['1 Bridge', ['scene-1']],
    [
      'Verse',
      ['2 scenes of “Heron” are called “Verse”; write the place of the one that is left out, like 2.'],
    ],
    ['Coda', ['“Heron” has no scene “Coda” to be left out.']],
    ['9', ['“Heron” has no scene “9” to be left out.']],
  ])('%s', (cell, found) => expect(leftOut(cell)).toEqual(found));
});

describe('a set as CSV', () => {
  const csvOf = (given: Setlist) =>
    writeSetCsv(
      given,
      setTimes(given, (id) => demoSongs.find((s) => s.id === id)).entries,
      (id) => portName(rig, id),
      (afterS) => `${afterS}`,
    );
  const readInto = (text: string, into: Setlist | null) => {
    const rows = readSetCsv(text);
    if (!rows.ok) throw new Error(rows.error[0]!.sentence);
    const made = setFromCsv(rows.value, rig, list, demoSongs, into, (name) => name ?? 'Read');
    if (Array.isArray(made)) throw new Error((made as { sentence: string }[])[0]!.sentence);
    return made as Setlist;
  };
  /** Without what a new set has of its own. */
  const text = ({ id: _id, entries, ...evening }: Setlist) => ({
    ...evening,
    entries: entriesInOrder({ entries }).map(({ id: _own, ...entry }) => entry),
  });
  const words = fc
    .string({ unit: fc.constantFrom('a', 'é', ' ', ',', ';', '"', '|', '=', '\n', '7', '-'), maxLength: 20 })
    .map((t) => t.trim());
  const named = words.map((t) => t || 'Pause');
  const lengthS = fc.oneof(fc.integer({ min: 0, max: 36_000 }), fc.constantFrom(61.5, 0.25));
  const ports = rig.devices.flatMap((d) => d.ports.map((p) => p.id));
  const anySet: fc.Arbitrary<Setlist> = fc.record({
    id: fc.uuid(),
    rigId: fc.constant(rig.id),
    name: named,
    date: fc.constantFrom('', '2026-11-26', '2028-02-29'),
    place: words,
    startMin: fc.option(fc.integer({ min: 0, max: 1439 })),
    slotS: fc.option(fc.integer({ min: 0, max: 86_400 })),
    remark: words,
    calls: fc.option(
      fc.record({
        portId: fc.constantFrom(
          ...ports.filter((id) => ports.filter((p) => portName(rig, p) === portName(rig, id)).length === 1),
        ),
        channel: fc.integer({ min: 0, max: 15 }),
        base: fc.integer({ min: 0, max: 127 }),
      }),
    ),
    entries: fc.array(
      fc.oneof(
        fc.constantFrom(...demoSongs).chain((song) =>
          fc.record({
            id: fc.uuid(),
            kind: fc.constant('song' as const),
            songId: fc.constant(song.id),
            lengthS: fc.option(lengthS),
            leftOutSceneIds: fc.subarray(song.scenes.map((s) => s.id)),
            isEncore: fc.boolean(),
            notTonight: fc.boolean(),
            remark: words,
          }),
        ),
        fc.record({
          id: fc.uuid(),
          kind: fc.constantFrom('break' as const, 'talk' as const),
          name: named,
          lengthS,
          isEncore: fc.boolean(),
          notTonight: fc.boolean(),
          remark: words,
        }),
      ),
      { maxLength: 12 },
    ),
  }) as fc.Arbitrary<Setlist>;

  it('read again is the same set, also into itself, in 300 random ones', () =>
    fc.assert(
      fc.property(anySet, (given) => {
        const csv = csvOf(given);
        const fresh = readInto(csv, null);
        expect(text(fresh)).toEqual(text(given));
        expect(SetlistSchema.safeParse(fresh).success).toBe(true);
        // Into the set itself each line stays the line that it was.
        const ordered = { ...given, entries: [...entriesInOrder(given)] };
        const again = readInto(csv, ordered);
        expect(again.id).toBe(given.id);
        expect(text(again)).toEqual(text(given));
        expect(again.entries.map((e) => e.id).toSorted()).toEqual(
          ordered.entries.map((e) => e.id).toSorted(),
        );
      }),
      { seed: 31, numRuns: 300 },
    ));

  it('of the demo is the same set in every part, and a general CSV reader reads its cells', () => {
    const [given] = demoSets as [Setlist];
    const ordered = { ...given, entries: [...entriesInOrder(given)] };
    expect(readInto(csvOf(given), ordered)).toEqual(ordered);
    const cells = Papa.parse<Record<string, string>>(csvOf(given).trim(), { header: true }).data;
    expect(cells[0]).toMatchObject({ kind: 'set', name: given.name, date: given.date });
    expect(cells).toHaveLength(given.entries.length + 1);
  });

  it('without a line of what the evening is changes only the running order of the set that it is read into', () => {
    const given = { ...(demoSets[0] as Setlist), place: 'The shed', startMin: 1200 };
    const made = readInto('name\nHeron\n', given);
    expect(made).toMatchObject({ id: given.id, name: given.name, place: 'The shed', startMin: 1200 });
    expect(made.entries).toHaveLength(1);
  });

  it('of two songs with one title takes the one with the tempo and key that it says', () => {
    const twin = { ...list[0]!, id: crypto.randomUUID(), tempoBpm: 201, key: 'C#' };
    const rows = readSetCsv(
      `name,bpm,key\n${twin.name},201,C#\n${twin.name},${list[0]!.tempoBpm},${list[0]!.key}\n`,
    );
    if (!rows.ok) throw new Error('refused');
    const made = setFromCsv(rows.value, rig, [...list, twin], [], null, () => 'Twins') as Setlist;
    expect(made.entries.map((e) => e.kind === 'song' && e.songId)).toEqual([twin.id, list[0]!.id]);
  });

  const song = demoSongs.find((s) => s.scenes.length > 1)!;
  it.each([
    [`kind,name,left out tonight\nsong,${song.name},99 Nowhere\n`, /has no scene “Nowhere” to be left out/],
    ['kind,name,start\nset,E,25:00\nsong,Heron,\n', /“25:00” is no time of day; 20:00/],
    ['kind,name,date\nset,E,31.2.2026\n', /is no date; 2026-11-26/],
    ['kind,name,date\nset,E,2027-02-29\n', /is no date/],
    ['kind,name,date\nset,E,2026-04-31\n', /is no date/],
    ['kind,name,date\nset,E,2026-13-01\n', /is no date/],
    ['kind,name,calls at\nset,E,Nowhere USB\n', /no port “Nowhere USB”/],
    ['kind,name,calls at,calls channel\nset,E,x,17\n', /“17” under “calls channel” is out of range; 1 to 16/],
    ['kind,name\nset,E\nset,F\n', /Line 2 says what the evening is already/],
  ])('%j is refused with its line', (csv, sentence) => {
    const rows = readSetCsv(csv);
    const faults = rows.ok ? setFromCsv(rows.value, rig, list, demoSongs, null, () => 'Read') : rows.error;
    expect(faults).toMatchObject([{ line: expect.any(Number), sentence: expect.stringMatching(sentence) }]);
  });
  it('an entry has all that a plain one has', () =>
    expect(Object.keys(readInto('name\nHeron\n', null).entries[0]!)).toEqual(
      expect.arrayContaining(Object.keys(PLAIN_ENTRY)),
    ));
});
