import { SongSchema } from '@idle-step/contract';
import { compileWorld } from '@idle-step/core/engine';
import { PLAIN_SCENE, PLAIN_SONG, type Song } from '@idle-step/core/show';
import {
  allCueRows,
  bookCell,
  bookColumns,
  bookCopied,
  bookLines,
  isBookTable,
  readBookTable,
  sheetState,
  songsInTable,
  songsOfBook,
  withBookPasted,
  withBookTyped,
  withFilledDown,
  withoutBookCells,
  writeBookCsv,
  type BookMaking,
} from '@idle-step/core/sheet';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSongs } from './index';

const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: demoSongs });
const known = new WeakMap<Song, ReturnType<typeof sheetState>>();
const sheets = (song: Song) => {
  const sheet = known.get(song) ?? sheetState(song, world);
  known.set(song, sheet);
  return sheet;
};
const lines = bookLines(demoSongs);
const columns = bookColumns(demoRig, demoPresets, demoSongs, []);
const at = (title: string) => columns.findIndex((c) => c.title === title);
const lineOf = (song: string, scene: string) =>
  lines.findIndex((l) => l.song.name === song && l.song.scenes[l.sceneIndex]?.name === scene);
const newScene = (name: string) => ({ ...PLAIN_SCENE, id: crypto.randomUUID(), name });
const plainSong = (name: string): Song => ({
  ...PLAIN_SONG,
  id: crypto.randomUUID(),
  rigId: demoRig.id,
  name,
  tempoBpm: 100,
  beatsPerBar: 4,
  lengthS: 240,
  scenes: [newScene('Intro')],
});
const newPart = (sceneId: string) => ({
  id: crypto.randomUUID(),
  sceneId,
  name: '',
  length: null,
  remark: '',
});
const cells = { newScene, newPart };
const making = (songs: readonly Song[]): BookMaking => ({
  rows: allCueRows(demoRig, demoPresets),
  songsNamed: (name) => songs.filter((s) => s.name.toLowerCase() === name.toLowerCase()),
  newSong: plainSong,
  ...cells,
});
const read = (text: string, songs: readonly Song[] = demoSongs) => {
  const table = readBookTable(text);
  return table.ok ? songsOfBook(table.value, making(songs)) : table;
};
const readWell = (text: string, songs?: readonly Song[]) => {
  const result = read(text, songs);
  if (!result.ok) throw new Error(JSON.stringify(result.error));
  for (const { song } of result.value.songs) expect(SongSchema.safeParse(song).error).toBeUndefined();
  return result.value;
};
/** What a song says without its identifiers, and without what a table does not hold: glides, colours, the time line. */
const saidBy = (song: Song) => ({
  head: [song.name, song.tempoBpm, song.beatsPerBar, song.beatUnit, song.key, song.tags, song.remark],
  scenes: song.scenes.map((scene, i) => ({
    name: scene.name,
    cells: columns.map((c) => bookCell({ song, sceneIndex: i, isFirst: false }, c, sheets(song)).text),
  })),
  parts: song.parts.map((p) => [
    song.scenes.findIndex((s) => s.id === p.sceneId),
    p.length,
    p.name,
    p.remark,
  ]),
});

describe('the book', () => {
  it('has a row for each scene, a song that comes twice once, and a song without scenes one row', () => {
    const bare = { ...plainSong('Bare'), scenes: [] };
    const [first] = demoSongs;
    expect(bookLines([first!, bare, first!]).map((l) => [l.song.name, l.sceneIndex, l.isFirst])).toEqual([
      ...first!.scenes.map((_, i) => [first!.name, i, i === 0]),
      ['Bare', -1, true],
    ]);
  });

  it('has a column for each line that one of the songs uses, and for those that are brought in', () => {
    const keys = columns.map((c) => c.key);
    expect(keys.slice(0, 4)).toEqual(['song', 'bpm', 'scene', 'lasts']);
    const unused = allCueRows(demoRig, demoPresets).find((r) => !keys.includes(r.key))!;
    expect(bookColumns(demoRig, demoPresets, demoSongs, [unused.key])).toHaveLength(columns.length + 1);
  });

  it('takes names and tempo, and refuses what is none', () => {
    const line = lines[lineOf('Slow Ferry', 'Verse')]!;
    const typed = (title: string, text: string) => withBookTyped(line, columns[at(title)]!, text, cells);
    expect(typed('Song', ' Fast Ferry ')).toMatchObject({ name: 'Fast Ferry' });
    expect(typed('bpm', '92,5')).toMatchObject({ tempoBpm: 92.5 });
    expect((typed('Scene', 'Verse one') as Song).scenes[line.sceneIndex]!.name).toBe('Verse one');
    // Nothing typed there changes nothing: a song has a name.
    for (const title of ['Song', 'bpm', 'Scene']) expect(typed(title, '  ')).toBe(line.song);
    expect(typed('bpm', '10')).toMatch(/20 to 400/);
    expect(typed('Song', 'x'.repeat(81))).toMatch(/longer than 80/);
  });

  it('a song without scenes gets its first one by name, and no value before that', () => {
    const line = { song: { ...plainSong('Bare'), scenes: [] }, sceneIndex: -1, isFirst: true };
    const withScene = withBookTyped(line, columns[at('Scene')]!, 'Verse', cells) as Song;
    expect(withScene.scenes.map((s) => s.name)).toEqual(['Verse']);
    expect(withBookTyped(line, columns[4]!, '1', cells)).toMatch(/has no scene yet/);
    expect(withBookTyped(line, columns[4]!, '', cells)).toBe(line.song);
  });

  it('takes how long a scene lasts, one length for each time it comes or one for all', () => {
    const song = demoSongs.find((s) => s.parts.length > s.scenes.length)!;
    const twice = song.scenes.findIndex((x) => song.parts.filter((p) => p.sceneId === x.id).length === 2);
    const lasts = (text: string, of: Song = song) => {
      const next = withBookTyped(
        { song: of, sceneIndex: twice, isFirst: false },
        columns[at('Length')]!,
        text,
        cells,
      );
      if (typeof next === 'string') return next;
      expect(SongSchema.safeParse(next).error).toBeUndefined();
      return bookCell({ song: next, sceneIndex: twice, isFirst: false }, columns[at('Length')]!, sheets(next))
        .text;
    };
    expect(lasts('12')).toBe('12 bars | 12 bars');
    expect(lasts('12 bars | 1:30')).toBe('12 bars | 90 s');
    expect(lasts('1 beat | ')).toBe('1 beat | ');
    expect(lasts('')).toBe('');
    expect(lasts('long')).toMatch(/^“long” is no length/);
    // Where no order was written each scene comes once.
    expect(lasts('1.5 bars', { ...song, parts: [] })).toBe('1.5 bars');
  });

  it('copied, cleared and pasted again is what it was, over several songs', () => {
    const range = { top: 0, bottom: lines.length - 1, left: 0, right: columns.length - 1 };
    const copied = bookCopied(lines, columns, sheets, range);
    const cleared = withoutBookCells(lines, columns, range);
    const bare = bookLines(demoSongs.map((s) => cleared.get(s.id) ?? s));
    expect(bare.every((l) => l.song.scenes.every((s) => s.values.length === 0))).toBe(true);
    expect(bare.map((l) => l.song.name)).toEqual(lines.map((l) => l.song.name));
    const pasted = withBookPasted(bare, columns, { ...range, bottom: 0, right: 0 }, copied, cells);
    if (typeof pasted === 'string') throw new Error(pasted);
    expect(pasted.range).toEqual(range);
    for (const song of demoSongs) expect(saidBy(pasted.edit.get(song.id) ?? song)).toEqual(saidBy(song));
  });

  it('one cell fills a range, and a range is filled down over the end of a song', () => {
    const column = at('Kelpline Snapshot');
    const top = lineOf('Slow Ferry', 'Intro');
    const range = { top, bottom: lines.length - 1, left: column, right: column };
    const pasted = withBookPasted(lines, columns, range, 'Swirl', cells);
    if (typeof pasted === 'string') throw new Error(pasted);
    const filled = withFilledDown(
      bookLines(demoSongs.map((s) => pasted.edit.get(s.id) ?? s)),
      columns,
      sheets,
      range,
      cells,
    );
    expect(filled.size).toBe(0);
    const shown = bookLines(demoSongs.map((s) => pasted.edit.get(s.id) ?? s)).map(
      (l) => bookCell(l, columns[column]!, sheets(l.song)).text,
    );
    expect(shown.slice(top)).toEqual(Array(lines.length - top).fill('6 Swirl'));
    const fromTop = withFilledDown(lines, columns, sheets, { ...range, left: 0 }, cells);
    const after = demoSongs.map((s) => fromTop.get(s.id) ?? s);
    // Names stay; the tempo of the uppermost is that of all.
    expect(after.map((s) => s.name)).toEqual(demoSongs.map((s) => s.name));
    const from = demoSongs.findIndex((s) => s.name === 'Slow Ferry');
    expect(new Set(after.slice(from).map((s) => s.tempoBpm))).toEqual(new Set([demoSongs[from]!.tempoBpm]));
  });

  it('is pasted whole or not at all, with the song and scene that are wrong', () => {
    const corner = lineOf('Slow Ferry', 'Verse');
    const column = at('Kelpline Snapshot');
    const range = { top: corner, bottom: corner, left: column, right: column };
    expect(withBookPasted(lines, columns, range, 'Dry\nNonsense', cells)).toMatch(
      /^Slow Ferry, Chorus: “Nonsense” is not a value/,
    );
    expect(withBookPasted(lines, columns, range, `${'x\n'.repeat(999)}`, cells)).toMatch(/do not fit here/);
  });
});

describe('songs as a table', () => {
  const csv = writeBookCsv(demoSongs, columns, sheets);

  it('read back over the same songs changes nothing', () => {
    const { songs, leftOut } = readWell(csv);
    expect(leftOut).toEqual([]);
    expect(songs.map((s) => s.song)).toEqual(demoSongs);
    expect(songs.map((s) => s.was)).toEqual(demoSongs);
  });

  it('read where they are not there says the same scenes, values, and order', () => {
    const { songs } = readWell(csv, []);
    expect(songs.every((s) => s.was === null)).toBe(true);
    expect(songs.map((s) => saidBy(s.song))).toEqual(demoSongs.map(saidBy));
  });

  const numberOf = fc.integer({ min: 0, max: 127 });
  const sceneOf = fc.record({
    name: fc.constantFrom('Verse', 'Chorus', 'Bridge, loud', 'Out “low”', 'a|b'),
    reverb: fc.option(numberOf),
    tempo: fc.option(fc.double({ min: 20, max: 400, noNaN: true }).map((n) => Math.round(n * 10) / 10)),
    remark: fc.constantFrom('', 'capo 2', 'two; three, "four"'),
    length: fc.option(
      fc.record({ amount: fc.integer({ min: 0, max: 64 }), unit: fc.constantFrom('bars', 'beats', 's') }),
    ),
  });
  it('any songs come back as they were', () =>
    fc.assert(
      fc.property(
        fc.array(fc.array(sceneOf, { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 4 }),
        fc.integer(),
        (songs, seed) => {
          const reverb = demoRig.devices
            .find((d) => d.name === 'Kelpline')!
            .chart.find((f) => f.name === 'Reverb mix')!;
          const made = songs.map((scenes, n): Song => {
            const written = scenes.map((s) => ({
              ...newScene(s.name),
              values: s.reverb === null ? [] : [{ functionId: reverb.id, value: s.reverb, way: null }],
              tempoBpm: s.tempo,
              remark: s.remark,
            }));
            // Some scenes come again, some never.
            const parts = scenes.flatMap((s, i) =>
              Array.from({ length: Math.abs(seed + i + n) % 3 }, () => ({
                id: crypto.randomUUID(),
                sceneId: written[i]!.id,
                name: '',
                length: s.length as Song['parts'][number]['length'],
                remark: '',
              })),
            );
            return { ...plainSong(`Song ${n}`), scenes: written, parts: parts.toReversed() };
          });
          const text = writeBookCsv(made, bookColumns(demoRig, demoPresets, made, []), sheets);
          expect(readWell(text, made).songs.map((s) => s.song)).toEqual(made);
          expect(readWell(text, []).songs.map((s) => saidBy(s.song))).toEqual(made.map(saidBy));
        },
      ),
      { numRuns: 60 },
    ));

  it('pasted from a spreadsheet by the names that people use; the song stands once', () => {
    const { songs, leftOut } = readWell(
      [
        'Title\tTempo\tSection\tBars\tSnapshot\tKelpline: Reverb mix\tShoes',
        'Paper Boat\t96\tVerse\t8\tDry\t20\tbrown',
        '\t\tChorus\t16\tSwirl\t\t',
        'Slow Ferry\t\tVerse\t\t3\t\t',
      ].join('\n'),
    );
    expect(leftOut).toEqual([{ title: 'Shoes', why: 'nothing in the rig is called so' }]);
    const [boat, ferry] = songs;
    expect(boat!.was).toBe(null);
    expect(boat!.song).toMatchObject({
      name: 'Paper Boat',
      tempoBpm: 96,
      scenes: [{ name: 'Verse' }, { name: 'Chorus' }],
      parts: [{ length: { amount: 8, unit: 'bars' } }, { length: { amount: 16, unit: 'bars' } }],
    });
    const told = saidBy(boat!.song).scenes.map((s) => [
      s.cells[at('Kelpline Snapshot')],
      s.cells[at('Kelpline Reverb mix')],
    ]);
    expect(told).toEqual([
      ['1 Dry', '20'],
      ['6 Swirl', '20'],
    ]);
    // Scenes that the table does not name stay where they are.
    const was = demoSongs.find((s) => s.name === 'Slow Ferry')!;
    expect(ferry!.song.scenes.map((s) => s.id)).toEqual(was.scenes.map((s) => s.id));
    expect(ferry!.song.parts).toEqual(was.parts);
  });

  it('a new scene comes behind the one of the row before, and lengths alone leave the order', () => {
    const was = demoSongs.find((s) => s.parts.length > s.scenes.length)!;
    const [first, second] = was.scenes;
    const { songs } = readWell(
      ['song,scene,bars', `${was.name},${first!.name},12`, `,Middle,`, `,${second!.name},`].join('\n'),
    );
    const { song } = songs[0]!;
    expect(song.scenes.map((s) => s.name)).toEqual([
      first!.name,
      'Middle',
      ...was.scenes.slice(1).map((s) => s.name),
    ]);
    expect(song.parts.map((p) => p.id)).toEqual(was.parts.map((p) => p.id));
    expect(song.parts.map((p) => p.length)).toEqual(
      was.parts.map((p) => (p.sceneId === first!.id ? { amount: 12, unit: 'bars' } : p.length)),
    );
  });

  it.each([
    ['song\tscene\nBoat\tVerse', true],
    ['title\ttempo\nBoat\t96', true],
    ['Boat\t96\tVerse', false],
    ['song', false],
    ['', false],
  ])('%j is told from cells for some place', (text, isTable) => expect(isBookTable(text)).toBe(isTable));

  it('a list of songs without scenes has the length of each', () => {
    const { songs } = readWell('song;length;key\nPaper Boat;3:30;A minor');
    expect(songs[0]!.song).toMatchObject({ lengthS: 210, key: 'A minor', scenes: [], parts: [] });
  });

  it.each([
    ['bpm,scene\n100,Verse', 1, 'The column “song” is missing'],
    ['song,bpm\n,100', 2, 'The song is missing in this line'],
    ['song,bpm\nPaper Boat,fast', 2, '“fast” is no tempo; 20 to 400'],
    ['song,bar\nPaper Boat,9/5', 2, '“9/5” is no bar; 4/4 or 6/8'],
    ['song,scene,lasts\nPaper Boat,Verse,long', 2, '“long” is no length; 8 bars'],
    ['song,scene,played\nPaper Boat,Verse,first', 2, '“first” are no places'],
    ['song,scene,played\nPaper Boat,Verse,1\nPaper Boat,Out,1', 3, 'at place 1'],
    ['song,scene,Snapshot\nPaper Boat,Verse,9', 2, 'Snapshot: “9” is not a value'],
    ['song,scene,Snapshot\nPaper Boat,,1', 2, '“1” under “Snapshot” has no scene'],
    ['song', null, 'There are no rows'],
    ['', 1, 'The table is empty'],
  ])('refuses %j with its line', (text, line, sentence) => {
    const result = read(text);
    expect(result.ok).toBe(false);
    if (result.ok) return;
    expect(result.error[0]!.line).toBe(line);
    expect(result.error[0]!.sentence).toContain(sentence);
  });

  it('two songs of one name are told apart first, and a name that two devices have is left out with the reason', () => {
    const twice = [plainSong('Paper Boat'), plainSong('Paper boat')];
    const result = read('song,bpm\nPaper Boat,100', twice);
    expect(!result.ok && result.error[0]!.sentence).toMatch(/^2 songs are called “Paper Boat”/);
    const rows = allCueRows(demoRig, demoPresets);
    const shared = rows.find((r) => rows.filter((o) => o.title === r.title).length > 1)!;
    const { leftOut } = readWell(`song,scene,${shared.title}\nPaper Boat,Verse,`);
    expect(leftOut[0]!.why).toMatch(/lines are called so, like/);
    const table = readBookTable('song\na\nb\na');
    expect(table.ok && songsInTable(table.value)).toEqual(['a', 'b']);
  });
});
