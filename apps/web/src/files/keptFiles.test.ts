import type { FullRig } from '@idle-step/core/routing';
import type { Setlist } from '@idle-step/core/show';
import type { Device } from '@idle-step/core/gear';
import { songSummary } from '@idle-step/contract';
import { readSetCsv, readSongCsv } from '@idle-step/core/formats';
import { demoRig, demoSongs } from '@idle-step/demo';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { setFromCsv, songsFromCsv } from '../edits/csvLists';
import { loadChartFile } from './chartFiles';
import { readTextFile } from './readTextFile';

/** Files as people keep them: what spreadsheets make of the same table, whichever they have and however it is set. */

type Table = readonly (readonly string[])[];
type Dialect = {
  readonly delimiter: ',' | ';' | '\t';
  readonly quotes: 'all' | 'needed';
  readonly end: '\n' | '\r\n' | '\r';
  readonly encoding: 'utf-8' | 'utf-8 with mark' | 'utf-16le' | 'utf-16be';
  /** Lines and columns that spreadsheets leave. */
  readonly left: 'nothing' | 'empty lines' | 'empty columns' | 'no last line end' | 'sep=';
  readonly case: 'as written' | 'capital' | 'upper';
};

const anyDialect: fc.Arbitrary<Dialect> = fc.record({
  delimiter: fc.constantFrom(',', ';', '\t'),
  quotes: fc.constantFrom('all', 'needed'),
  end: fc.constantFrom('\n', '\r\n', '\r'),
  encoding: fc.constantFrom('utf-8', 'utf-8 with mark', 'utf-16le', 'utf-16be'),
  left: fc.constantFrom('nothing', 'empty lines', 'empty columns', 'no last line end', 'sep='),
  case: fc.constantFrom('as written', 'capital', 'upper'),
});

function fileOf(table: Table, d: Dialect) {
  const cell = (text: string) =>
    d.quotes === 'all' || text.includes(d.delimiter) || /["\r\n]/.test(text)
      ? `"${text.replaceAll('"', '""')}"`
      : text;
  const head = (text: string) =>
    d.case === 'upper'
      ? text.toUpperCase()
      : d.case === 'capital'
        ? text.charAt(0).toUpperCase() + text.slice(1)
        : text;
  const rows = table.map((row, i) => {
    const cells = row.map((c) => cell(i === 0 ? head(c) : c));
    return [...cells, ...(d.left === 'empty columns' ? ['', ''] : [])].join(d.delimiter);
  });
  const gap = d.left === 'empty lines' ? d.end : '';
  const text = `${d.left === 'sep=' ? `sep=${d.delimiter}${d.end}` : ''}${gap}${rows.join(d.end + gap)}${d.left === 'no last line end' ? '' : d.end}${gap}${gap}`;
  const bytes =
    d.encoding === 'utf-8'
      ? Buffer.from(text)
      : d.encoding === 'utf-8 with mark'
        ? Buffer.from(`\uFEFF${text}`)
        : Buffer.from(`\uFEFF${text}`, 'utf16le');
  if (d.encoding === 'utf-16be') bytes.swap16();
  const own = new Uint8Array(bytes);
  return { name: 'kept.csv', size: own.length, arrayBuffer: () => Promise.resolve(own.buffer) };
}

async function textOf(table: Table, dialect: Dialect): Promise<string> {
  const read = await readTextFile(fileOf(table, dialect));
  if (read.error !== undefined) throw new Error(read.error);
  return read.text;
}

const list = demoSongs.map((s) => songSummary(s));
const RUNS = { seed: 44, numRuns: 140 } as const;

describe('400 files as people keep them are read right', () => {
  it('lists of songs', () =>
    fc.assert(
      fc.asyncProperty(anyDialect, async (dialect) => {
        const table = [
          ['title', 'tempo', 'key', 'length', 'remark', 'room'],
          ['Quiet, “Lock”', '61.5', 'F♯', '4:05', 'two; parts | here', 'blue'],
          ['Ébène', '', '', '95', 'says "hey"', ''],
          ['Last', '120', 'D minor', '1:02:05', '', 'x'],
        ];
        const rows = readSongCsv(await textOf(table, dialect));
        if (!rows.ok) throw new Error(rows.error[0]!.sentence);
        const { fresh } = songsFromCsv(rows.value, list, demoRig.id);
        expect(fresh.map((s) => [s.name, s.tempoBpm, s.key, s.lengthS, s.remark])).toEqual([
          ['Quiet, “Lock”', 61.5, 'F♯', 245, 'two; parts | here'],
          ['Ébène', 100, '', 95, 'says "hey"'],
          ['Last', 120, 'D minor', 3725, ''],
        ]);
      }),
      RUNS,
    ));

  it('running orders, by the names of columns as on the screen', () =>
    fc.assert(
      fc.asyncProperty(anyDialect, async (dialect) => {
        const table = [
          ['Song', 'At', 'Length', 'Tempo', 'Key', 'Kind', 'Encore', 'Remark'],
          [demoSongs[0]!.name, '20:00', '', '72', '', 'song', '', 'capo 2; slow'],
          ['Tea', '20:04', '15:00', '', '', 'break', '', ''],
          [demoSongs[3]!.name.toUpperCase(), '20:19', '200', '', '', '', 'yes', 'a "b"'],
        ];
        const rows = readSetCsv(await textOf(table, dialect));
        if (!rows.ok) throw new Error(rows.error[0]!.sentence);
        const made = setFromCsv(rows.value, demoRig as FullRig, list, [], null, () => 'Read') as Setlist;
        expect(made.entries).toMatchObject([
          { kind: 'song', songId: demoSongs[0]!.id, lengthS: null, remark: 'capo 2; slow' },
          { kind: 'break', name: 'Tea', lengthS: 900 },
          { kind: 'song', songId: demoSongs[3]!.id, lengthS: 200, isEncore: true, remark: 'a "b"' },
        ]);
      }),
      RUNS,
    ));

  it('charts, by the names of columns as on the screen or in our own file', () =>
    fc.assert(
      fc.asyncProperty(anyDialect, fc.boolean(), async (dialect, isScreen) => {
        const table = [
          isScreen
            ? ['Function', 'Group', 'Message', 'Kind', 'Values, as sent', 'Remark']
            : ['name', 'group', 'message', 'kind', 'values (sent)', 'remark'],
          ['Mix, dry', 'Echo', 'CC 30', 'range', '0-127', 'slow; long'],
          ['Gate', 'Echo', 'CC 31', 'switch', '', 'says "on"'],
        ];
        const device = (demoRig as FullRig).devices.find((d) => d.chart.length > 0) as Device;
        const empty = { ...device, chart: [] };
        const loaded = await loadChartFile(fileOf(table, dialect), empty, 3);
        if ('faults' in loaded) throw new Error(loaded.faults[0]!.sentence);
        const names = JSON.stringify(loaded);
        for (const word of ['Mix, dry', 'slow; long', 'Gate', 'says \\"on\\"']) expect(names).toContain(word);
      }),
      RUNS,
    ));
});

describe('what else people write is read right, or refused with its line and the remedy', () => {
  it.each<[string, (text: string) => unknown, string, RegExp]>([
    ['a decimal comma', readSongCsv, 'title;tempo\nA;92,5\n', /"tempoBpm":92.5/],
    [
      'a tempo in words',
      readSongCsv,
      'title;tempo\nA;slow\n',
      /line":2.*“slow” is no number; 20 to 400, like 92.5/,
    ],
    [
      'a date of a spreadsheet for a length',
      readSongCsv,
      'title,length\nA,1900-01-00\n',
      /line":2.*is no length/,
    ],
    [
      'two tables one below the other',
      readSongCsv,
      'title,bpm\nA,90\n\ntitle,bpm\nB,91\n',
      /line":4.*is no number/,
    ],
    ['a quote that is not closed', readSetCsv, 'name,remark\nA,"open\nB,\n', /line":2.*not closed/],
    ['no header', readSongCsv, 'Low Water,72\nHeron,64\n', /line":1.*“title” is missing; these are known/],
    ['a header alone', readSetCsv, 'kind,song\n', /"ok":true/],
  ])('%s', (_what, read, text, told) => expect(JSON.stringify(read(text))).toMatch(told));
});
