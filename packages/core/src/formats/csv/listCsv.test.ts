import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { readSetCsv, readSongCsv, writeSongCsv } from '../index';

const song = {
  name: 'Bell, and “Rope”',
  key: 'F#m',
  tempoBpm: 118.5,
  beatsPerBar: 3,
  beatUnit: 4 as const,
  lengthS: 245,
  tags: ['slow', 'new'],
  remark: 'two\nlines',
};

describe('a list of songs as CSV', () => {
  it('reads back as it was written, and a general CSV reader reads the same cells', () => {
    const text = writeSongCsv([song, { ...song, name: 'Other', tags: [], key: '', remark: '' }]);
    const read = readSongCsv(text);
    if (!read.ok) throw new Error(read.error[0]!.sentence);
    expect(read.value[0]).toEqual({ line: 2, ...song, scenes: null });
    expect(read.value[1]).toMatchObject({ name: 'Other', key: null, tags: null, remark: null });
    expect(Papa.parse<string[]>(text.trim()).data[1]).toEqual([
      'Bell, and “Rope”',
      'F#m',
      '118.5',
      '3',
      '4',
      '4:05',
      'slow; new',
      'two\nlines',
    ]);
  });
  it('takes columns in any order, other marks between, and what a spreadsheet calls them', () => {
    const read = readSongCsv('Tempo;Name;Scenes;Colour\n92;Low;Intro | Verse;red\n;High;;\n');
    expect(read.ok && read.value.map((r) => [r.name, r.tempoBpm, r.scenes])).toEqual([
      ['Low', 92, ['Intro', 'Verse']],
      ['High', null, null],
    ]);
  });
  it.each([
    ['', 1, /file is empty/],
    ['key,bpm\nG,90\n', 1, /“title” is missing/],
    ['title,bpm\nA,900\n', 2, /Tempo “900” is out of range; 20 to 400/],
    ['title\nA\nB\na\n', 4, /“a” stands in line 2 already/],
    ['title,length\nA,soon\n', 2, /“soon” is no length/],
    ['title,bpm\nA,1e2\n', 2, /Tempo “1e2” is no number; 20 to 400, like 92.5/],
    ['title,beats\nA,3.5\n', 2, /“3.5” is no bar/],
    ['title,beats,beat unit\nA,6,7\n', 2, /“6\/7” is no bar/],
    ['title\n"A\n', null, /quotation mark/],
  ] as const)('%j is refused at line %s', (text, line, sentence) => {
    const read = readSongCsv(text);
    expect(read.ok).toBe(false);
    if (!read.ok) {
      expect(read.error[0]!.sentence).toMatch(sentence);
      if (line !== null) expect(read.error[0]!.line).toBe(line);
    }
  });
});

it.each([
  'title;bpm\nA;100\nB;90\n',
  'title;bpm\r\nA;100\r\nB;90\r\n',
  'title\tbpm\nA\t100\nB\t90\n',
  '\n\ntitle,bpm\n\nA,100\n\n"B",90\n\n',
  '\uFEFFtitle;bpm;remark\nA;100;"loud, then; soft"\nB;90;\n',
])('two columns, whatever they lie apart by, and a final line break: %j', (text) => {
  const read = readSongCsv(text);
  expect(read.ok && read.value.map((r) => [r.name, r.tempoBpm])).toEqual([
    ['A', 100],
    ['B', 90],
  ]);
});

it('a remark and a key that are too long end before the character that they would cut', () => {
  const read = readSongCsv(`title,key,remark\nA,${'k'.repeat(19)}🎸,${'r'.repeat(399)}🎸\n`);
  expect(read.ok && [read.value[0]!.key, read.value[0]!.remark]).toEqual(['k'.repeat(19), 'r'.repeat(399)]);
});

describe('a cell that looks like a formula', () => {
  const told = ['=1+1', '@cmd', '-2+3', '+x', "'=", "''=1", '\tx', "it's", '-64', '+3', '- dash', '='];
  it.each(told)('%j is text to a spreadsheet, and comes back as it was', (remark) => {
    const text = writeSongCsv([{ ...song, remark }]);
    const [, cells] = Papa.parse<string[]>(text.trim()).data;
    // Source: common practice, no source: these begin a formula, and an apostrophe begins a text.
    expect(/^[=@\t\r]|^[-+](?!\d+$)/.test(cells![7]!)).toBe(false);
    const read = readSongCsv(text);
    expect(read.ok && read.value[0]!.remark).toBe(remark.trim());
  });
});

it.each(['title,bpm,key\nA,100,G\nB,9', 'title;bpm;key\nA;100;G\nB'])(
  'a list that is cut in its last line is refused: %j',
  (text) => {
    const read = readSongCsv(text);
    expect(read).toMatchObject({
      ok: false,
      error: [{ line: 3, sentence: expect.stringContaining('cut off') }],
    });
    // With an end of its own the line is as short as somebody made it.
    expect(readSongCsv(`${text}\n`).ok || /out of range/.test(JSON.stringify(readSongCsv(`${text}\n`)))).toBe(
      true,
    );
  },
);

describe('a running order as CSV', () => {
  it('has songs, breaks and talk with what is different this evening', () => {
    const read = readSetCsv(
      'kind,name,length s,encore,remark\nsong,Low,,,capo 2\nbreak,Tea,15:00,,\n,High,200,yes,\n',
    );
    const plain = { isEncore: false, notTonight: false, remark: '', leftOut: [], tempoBpm: null, key: null };
    expect(read.ok && read.value).toEqual({
      head: null,
      rows: [
        { ...plain, line: 2, kind: 'song', name: 'Low', lengthS: null, remark: 'capo 2' },
        { ...plain, line: 3, kind: 'break', name: 'Tea', lengthS: 900 },
        { ...plain, line: 4, kind: 'song', name: 'High', lengthS: 200, isEncore: true },
      ],
    });
  });
  it('is refused whole for a kind that there is not', () => {
    const read = readSetCsv('kind,name\nsong,A\ndance,B\n');
    expect(read).toMatchObject({ ok: false, error: [{ line: 3 }] });
  });
});
