import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  cellsOf,
  chartOfMidnam,
  copiedText,
  functionFromCells,
  midnamOfChart,
  parseDrive,
  pastedCells,
  readChartCsv,
  readMidnam,
  readPastedRows,
  withCell,
  writeChartCsv,
  writeMidnam,
  CHART_ROWS,
  EMPTY_CELLS,
} from './index';
import { PLAIN_FUNCTION, READY_CHARTS, type ChartTemplate, type Drive, type FunctionShape } from '../gear';
import { stringProcessor, trackHost } from '../standins';
import { makeFunction } from '../testing.test-support';

const middleC = 3;

const word = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 20 }).map((s) => s.trim() || 'x');
const label = fc.string({ unit: 'grapheme', maxLength: 20 });
const byte = fc.nat(127);
const triggers = (limit: number): fc.Arbitrary<FunctionShape> =>
  fc.nat(limit).map((sent) => ({ kind: 'trigger', sent }));
const switches = (limit: number): fc.Arbitrary<FunctionShape> =>
  fc
    .tuple(fc.nat(limit), fc.nat(limit))
    .filter(([off, on]) => off !== on)
    .map(([off, on]) => ({ kind: 'switch', off, on }));
const ranges = (limit: number): fc.Arbitrary<FunctionShape> =>
  fc
    .tuple(fc.nat(limit), fc.nat(limit), fc.integer({ min: -16384, max: 16383 }))
    .map(([a, b, shownFrom]) => ({ kind: 'range', min: Math.min(a, b), max: Math.max(a, b), shownFrom }));
/** Ranges whose device shows a unit; the number for their lowest is of no account, and is that value. */
const unitRanges = (limit: number): fc.Arbitrary<FunctionShape> =>
  fc
    .tuple(
      fc.nat(limit),
      fc.nat(limit),
      fc.constantFrom('dB', '%', 'ms', 'Hz'),
      fc.integer({ min: -60, max: 60 }),
    )
    .map(([a, b, unit, low]) => ({
      kind: 'range',
      min: Math.min(a, b),
      max: Math.max(a, b),
      shownFrom: Math.min(a, b),
      ends: { low, high: low + 0.5, unit, isLog: low > 0 },
    }));
const choices = (limit: number): fc.Arbitrary<FunctionShape> =>
  fc
    .tuple(
      fc.array(label, { minLength: 1, maxLength: 8 }),
      fc.nat(limit - 8),
      fc.integer({ min: -5, max: 5 }),
    )
    .map(([labels, first, shownFrom]) => ({ kind: 'choice', first, shownFrom, labels }));
/** Numbers that do not follow each other. */
const gappedChoices = (limit: number): fc.Arbitrary<FunctionShape> =>
  fc
    .tuple(
      fc.uniqueArray(fc.nat(limit), { minLength: 2, maxLength: 8 }).map((a) => a.toSorted((x, y) => x - y)),
      fc.array(label, { minLength: 8, maxLength: 8 }),
      fc.integer({ min: -5, max: 5 }),
    )
    .filter(([sent]) => sent.at(-1)! - sent[0]! >= sent.length)
    .map(([sent, labels, shownFrom]) => ({
      kind: 'choice',
      first: 0,
      shownFrom,
      labels: labels.slice(0, sent.length),
      sent,
    }));
const programs = (): fc.Arbitrary<FunctionShape> =>
  fc
    .uniqueArray(fc.record({ program: byte, name: label }), { maxLength: 8, selector: (p) => p.program })
    .map((names) => ({ kind: 'program', names }));
function shapes(limit: number): fc.Arbitrary<FunctionShape> {
  return fc.oneof(
    triggers(limit),
    switches(limit),
    ranges(limit),
    unitRanges(limit),
    choices(limit),
    gappedChoices(limit),
  );
}

const drives: fc.Arbitrary<[Drive, fc.Arbitrary<FunctionShape>]> = fc.oneof(
  byte.map((controller): [Drive, fc.Arbitrary<FunctionShape>] => [
    { kind: 'controller', controller },
    shapes(127),
  ]),
  fc
    .nat(31)
    .map((controller): [Drive, fc.Arbitrary<FunctionShape>] => [
      { kind: 'controller-14', controller },
      ranges(16383),
    ]),
  byte.map((note): [Drive, fc.Arbitrary<FunctionShape>] => [{ kind: 'note', note }, triggers(127)]),
  fc
    .option(fc.nat(16383))
    .map((bank): [Drive, fc.Arbitrary<FunctionShape>] => [{ kind: 'program', bank }, programs()]),
  fc
    .record({ registered: fc.boolean(), parameter: fc.nat(16382), wide: fc.boolean() })
    .map(({ registered, parameter, wide }): [Drive, fc.Arbitrary<FunctionShape>] => [
      { kind: 'parameter', registered, parameter, bits: wide ? 14 : 7 },
      shapes(wide ? 16383 : 127),
    ]),
  fc.constant<[Drive, fc.Arbitrary<FunctionShape>]>([{ kind: 'pitch-bend' }, ranges(16383)]),
  fc.constant<[Drive, fc.Arbitrary<FunctionShape>]>([{ kind: 'channel-pressure' }, ranges(127)]),
  fc.constant<[Drive, fc.Arbitrary<FunctionShape>]>([
    { kind: 'sysex', template: 'F0 7D unit=10 value sum:3 F7' },
    shapes(127),
  ]),
  fc.constant<[Drive, fc.Arbitrary<FunctionShape>]>([
    { kind: 'transport', command: 'fast-forward' },
    triggers(127),
  ]),
  fc
    .integer({ min: 1, max: 64 })
    .map((track): [Drive, fc.Arbitrary<FunctionShape>] => [{ kind: 'record-ready', track }, switches(127)]),
);
const functions: fc.Arbitrary<ChartTemplate> = drives.chain(([drive, shape]) =>
  fc
    .record({
      name: word,
      group: fc.oneof(fc.constant(''), word),
      shape,
      channel: fc.option(fc.nat(15)),
      under: fc.option(word),
      arms: fc.option(word),
      settleMs: fc.double({ min: 0, max: 10_000, noNaN: true }).map(Math.abs),
      reserved: fc.boolean(),
      remark: fc.string({ unit: 'grapheme', maxLength: 60 }),
    })
    .map((part) => ({
      ...PLAIN_FUNCTION,
      ...part,
      drive,
      powerOn: part.shape.kind === 'range' ? part.shape.min : part.shape.kind === 'switch' ? 1 : null,
    })),
);
const charts = fc.uniqueArray(functions, { maxLength: 6, selector: (f) => f.name.toLowerCase() });

describe('a chart as CSV', () => {
  it('comes back as it was, whatever is in it', () =>
    fc.assert(
      fc.property(charts, (chart) => {
        expect(readChartCsv(writeChartCsv(chart), middleC)).toEqual({ ok: true, value: chart });
      }),
      { seed: 31, numRuns: 500 },
    ));

  it.each([
    ...READY_CHARTS.map((c) => [c.title, c.rows] as const),
    ['string processor', stringProcessor.chart] as const,
    ['track host', trackHost.chart] as const,
  ])('of %s comes back as it was', (_title, chart) =>
    expect(readChartCsv(writeChartCsv(chart), middleC)).toEqual({ ok: true, value: chart }),
  );

  it('is read with semicolons, a byte order mark, columns in another order, and most cells left out', () => {
    const text = '\uFEFFMessage;Name;Values (sent)\r\nCC 22;Snapshot;0=Dry; 1=Full\r\n';
    const quoted = text.replace('0=Dry; 1=Full', '"0=Dry; 1=Full"');
    expect(readChartCsv(quoted, middleC)).toEqual({
      ok: true,
      value: [
        {
          ...PLAIN_FUNCTION,
          name: 'Snapshot',
          drive: { kind: 'controller', controller: 22 },
          shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['Dry', 'Full'] },
        },
      ],
    });
  });

  it.each([
    ['', 1, 'The file is empty'],
    ['name,number\na,1\n', 1, 'There is no column “number”'],
    ['name,group\na,1\n', 1, 'The column “message” is missing'],
    ['name,name,message\na,a,CC 1\n', 1, 'The column “name” is there twice'],
    ['name,message\nA,CC 1\nB\n', 3, 'This line has 1 cells and the header 2; the file may be cut off'],
    ['name,message\nA,CC 1\n"B,CC 2\n', 3, 'A quotation mark is not closed'],
    ['name,message\nA,CC 128\n', 2, 'message: Controller 128 is out of range; 0 to 127 would be right.'],
    ['name,message,channel\nA,CC 1,17\n', 2, 'channel: Channel 17 does not exist'],
    ['name,message\n"A\nB",CC 1\n,CC 2\n', 4, 'name: The name is empty'],
    ['name,message\nA,CC 1\na,CC 2\n', 3, 'There is a function called a above already.'],
  ])('%j is refused whole at line %i', (text, line, sentence) => {
    const result = readChartCsv(text, middleC);
    expect(result.ok).toBe(false);
    if (result.ok) return;
    expect(result.error[0]!.line).toBe(line);
    expect(result.error[0]!.sentence).toContain(sentence);
  });

  it('holds 2000 rows and not one more', () => {
    const rows = (n: number) =>
      `name,message\n${Array.from({ length: n }, (_, i) => `F${i},CC ${i % 128}`).join('\n')}\n`;
    expect(readChartCsv(rows(CHART_ROWS), middleC).ok).toBe(true);
    expect(readChartCsv(rows(CHART_ROWS + 1), middleC)).toMatchObject({
      error: [{ sentence: 'There are 2001 rows; a chart holds 2000.' }],
    });
  });
});

it('cells that are copied are what they were when they are pasted', () => {
  const cell = fc.oneof(
    fc.string(),
    fc.constantFrom('', '"', 'a\tb', 'two\nlines', 'x\r\ny', ' 3 ', '=1+1', "'"),
  );
  fc.assert(
    fc.property(
      fc.tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 4 })).chain(([high, wide]) =>
        fc.array(fc.array(cell, { minLength: wide, maxLength: wide }), {
          minLength: high,
          maxLength: high,
        }),
      ),
      (cells) => {
        expect(pastedCells(copiedText(cells))).toEqual(cells);
      },
    ),
    { seed: 15, numRuns: 1000 },
  );
});

describe('rows pasted from a spreadsheet', () => {
  it('are read by their order without a header, and by their names with one', () => {
    const plain = readPastedRows('Snapshot\t\tCC 22\tchoice\t\tDry; Full\t1\nVolume\t\t7', middleC);
    expect(plain).toMatchObject({
      ok: true,
      value: {
        over: [],
        added: [
          { name: 'Snapshot', shape: { kind: 'choice', labels: ['Dry', 'Full'] } },
          { name: 'Volume', drive: { kind: 'controller', controller: 7 }, shape: { kind: 'range' } },
        ],
      },
    });
    const headed = readPastedRows('message\tname\nnote C3\tBell', middleC);
    expect(headed).toMatchObject({ value: { added: [{ name: 'Bell', drive: { kind: 'note', note: 60 } }] } });
  });
  it('go over the rows that are there, in the columns from the cell on, and on as new ones', () => {
    const rows = [makeFunction({ name: 'A' }), makeFunction({ name: 'B' })];
    expect(readPastedRows('30\n31', middleC, ['message', 'kind'], rows)).toMatchObject({
      value: {
        over: [
          { name: 'A', drive: { controller: 30 } },
          { name: 'B', drive: { controller: 31 } },
        ],
        added: [],
      },
    });
    expect(readPastedRows('A\t30\nB\t31\nC\t32', middleC, ['name', 'message'], rows)).toMatchObject({
      value: { over: [{ name: 'A' }, { name: 'B' }], added: [{ name: 'C', drive: { controller: 32 } }] },
    });
    expect(readPastedRows('1\t2\t3', middleC, ['message', 'kind'], rows)).toMatchObject({ ok: false });
  });
  it('are taken all or not at all', () => {
    expect(readPastedRows('Volume\t\tCC 7\nPan\t\tCC 777', middleC)).toMatchObject({
      ok: false,
      error: [{ line: 2 }],
    });
  });
});

describe('the message of a row, typed', () => {
  it.each<[string, Drive]>([
    ['22', { kind: 'controller', controller: 22 }],
    ['cc22', { kind: 'controller', controller: 22 }],
    ['CC 127', { kind: 'controller', controller: 127 }],
    ['CC 7+39', { kind: 'controller-14', controller: 7 }],
    ['14-bit CC 31', { kind: 'controller-14', controller: 31 }],
    ['note 60 C3', { kind: 'note', note: 60 }],
    ['C3', { kind: 'note', note: 60 }],
    ['note 127', { kind: 'note', note: 127 }],
    ['program', { kind: 'program', bank: null }],
    ['Program change', { kind: 'program', bank: null }],
    ['program 1/0', { kind: 'program', bank: 128 }],
    ['RPN 0/0 14-bit', { kind: 'parameter', registered: true, parameter: 0, bits: 14 }],
    ['NRPN 16382', { kind: 'parameter', registered: false, parameter: 16382, bits: 7 }],
    ['pitch bend', { kind: 'pitch-bend' }],
    ['pressure', { kind: 'channel-pressure' }],
    ['f0 7d  value f7', { kind: 'sysex', template: 'f0 7d value f7' }],
    ['machine play', { kind: 'transport', command: 'play' }],
    ['machine record strobe', { kind: 'transport', command: 'record-strobe' }],
    ['machine track 64', { kind: 'record-ready', track: 64 }],
  ])('%s', (text, drive) => expect(parseDrive(text, middleC)).toEqual({ ok: true, value: drive }));

  it.each([
    ['', 'The message is missing'],
    ['CC 128', 'Controller 128 is out of range; 0 to 127 would be right.'],
    ['CC 32+64', 'is no 14-bit pair'],
    ['CC 7+40', 'is no 14-bit pair'],
    ['note 128', 'Note 128 is out of range'],
    ['program 128/0', 'is no bank'],
    ['NRPN 16383', 'is no parameter number'],
    ['machine track 65', 'Track 65 is out of range'],
    ['machine dance', '“dance” is no machine command'],
    ['F0 7D', 'at least F0, one byte, and F7'],
    ['F0 7D 80 F7', '80 at place 3 is above 7F'],
    ['volume', '“volume” is no message'],
  ])('%j is refused', (text, sentence) => {
    const result = parseDrive(text, middleC);
    expect(result.ok ? '' : result.error).toContain(sentence);
  });
});

describe('a cell of a row typed anew', () => {
  const snapshot = makeFunction({
    name: 'Snapshot',
    drive: { kind: 'controller', controller: 22 },
    shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['Dry', 'Full'] },
  });
  it('leaves the others as they are', () => {
    expect(withCell(snapshot, 'message', '23', middleC)).toEqual({
      ok: true,
      value: { ...snapshot, drive: { kind: 'controller', controller: 23 } },
    });
  });
  it('that makes the values meaningless starts them afresh', () => {
    expect(withCell(snapshot, 'message', 'program', middleC)).toMatchObject({
      value: { id: snapshot.id, shape: { kind: 'program', names: [] } },
    });
    expect(withCell(snapshot, 'kind', 'switch', middleC)).toMatchObject({
      value: { shape: { kind: 'switch', off: 0, on: 127 } },
    });
  });
  it('that goes wrong says why and gives nothing', () => {
    expect(withCell(snapshot, 'kind', 'program', middleC)).toMatchObject({
      error: [
        { column: 'kind', sentence: expect.stringContaining('range, switch, choice, trigger') as string },
      ],
    });
    expect(withCell(snapshot, 'values', '0=a; 2=b; 2=c', middleC)).toMatchObject({
      ok: false,
      error: [{ column: 'values', sentence: 'The value 2 has two names.' }],
    });
    expect(withCell(snapshot, 'powerOn', '2', middleC)).toMatchObject({ error: [{ column: 'powerOn' }] });
  });
  it('takes every cell as it is shown', () =>
    fc.assert(
      fc.property(functions, (fn) => {
        expect(functionFromCells(cellsOf(fn, middleC), middleC)).toEqual({ ok: true, value: fn });
      }),
      { seed: 32, numRuns: 300 },
    ));
  it('with only a name and a message is a whole row', () => {
    const result = functionFromCells({ ...EMPTY_CELLS, name: 'Swell', message: '11' }, middleC);
    expect(result).toMatchObject({ value: { shape: { kind: 'range', min: 0, max: 127 } } });
  });
});

/** Written by hand after the published document type definition of MIDI name documents (from memory). */
const HAND_WRITTEN = `<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE MIDINameDocument PUBLIC "-//MIDI Manufacturers Association//DTD MIDINameDocument 1.0//EN" "http://www.midi.org/dtds/MIDINameDocument10.dtd">
<MIDINameDocument>
  <Author>someone &amp; another</Author>
  <MasterDeviceNames>
    <Manufacturer>Quayside</Manufacturer>
    <Model>Reed Box</Model>
    <Model>Reed Box II</Model>
    <CustomDeviceMode Name="Default">
      <ChannelNameSetAssignments>
        <ChannelNameSetAssign Channel="1" NameSet="Main"/>
      </ChannelNameSetAssignments>
    </CustomDeviceMode>
    <ChannelNameSet Name="Main">
      <AvailableForChannels><AvailableChannel Channel="1" Available="true"/></AvailableForChannels>
      <UsesControlNameList Name="Knobs"/>
      <PatchBank Name="User" ROM="false">
        <MIDICommands><ControlChange Control="0" Value="1"/><ControlChange Control="32" Value="2"/></MIDICommands>
        <PatchNameList Name="User">
          <Patch Number="A1" Name="Low &quot;reed&quot;" ProgramChange="0"/>
          <Patch Number="A2" Name="High reed"><PatchMIDICommands><ProgramChange Number="7"/></PatchMIDICommands></Patch>
        </PatchNameList>
      </PatchBank>
      <PatchBank Name="Factory"><UsesPatchNameList Name="Shared"/></PatchBank>
    </ChannelNameSet>
    <PatchNameList Name="Shared"><Patch Number="3" Name="Bare" /></PatchNameList>
    <NoteNameList Name="Bells">
      <NoteGroup Name="Small"><Note Number="60" Name="Ding"/></NoteGroup>
      <Note Number="62" Name="Dong"/>
    </NoteNameList>
    <ControlNameList Name="Knobs">
      <Control Type="7bit" Number="74" Name="Bright"/>
      <Control Type="14bit" Number="7" Name="Fine volume"/>
      <Control Type="NRPN" Number="300" Name="Bow"><Values Min="0" Max="16383"/></Control>
      <Control Number="80" Name="Mode"><Values Min="0" Max="2"><UsesValueNameList Name="Modes"/></Values></Control>
    </ControlNameList>
    <ValueNameList Name="Modes">
      <Value Number="0" Name="Solo"/><Value Number="1" Name="Duo"/><Value Number="2" Name="Trio"/>
    </ValueNameList>
  </MasterDeviceNames>
</MIDINameDocument>
`;

describe('a MIDI name document', () => {
  it('written by hand after the document type reads right', () => {
    const result = readMidnam(HAND_WRITTEN);
    expect(result.ok).toBe(true);
    if (!result.ok) return;
    expect(result.value).toMatchObject({
      author: 'someone & another',
      manufacturer: 'Quayside',
      models: ['Reed Box', 'Reed Box II'],
    });
    const rows = chartOfMidnam(result.value).map((fn) => [fn.name, fn.group, fn.drive, fn.shape]);
    expect(rows).toEqual([
      [
        'User',
        'Programs',
        { kind: 'program', bank: 130 },
        {
          kind: 'program',
          names: [
            { program: 0, name: 'Low "reed"' },
            { program: 7, name: 'High reed' },
          ],
        },
      ],
      [
        'Factory',
        'Programs',
        { kind: 'program', bank: null },
        { kind: 'program', names: [{ program: 3, name: 'Bare' }] },
      ],
      ['Ding', 'Bells', { kind: 'note', note: 60 }, { kind: 'trigger', sent: 127 }],
      ['Dong', 'Bells', { kind: 'note', note: 62 }, { kind: 'trigger', sent: 127 }],
      [
        'Bright',
        'Knobs',
        { kind: 'controller', controller: 74 },
        { kind: 'range', min: 0, max: 127, shownFrom: 0 },
      ],
      [
        'Fine volume',
        'Knobs',
        { kind: 'controller-14', controller: 7 },
        { kind: 'range', min: 0, max: 16383, shownFrom: 0 },
      ],
      [
        'Bow',
        'Knobs',
        { kind: 'parameter', registered: false, parameter: 300, bits: 14 },
        { kind: 'range', min: 0, max: 16383, shownFrom: 0 },
      ],
      [
        'Mode',
        'Knobs',
        { kind: 'controller', controller: 80 },
        { kind: 'choice', first: 0, shownFrom: 1, labels: ['Solo', 'Duo', 'Trio'] },
      ],
    ]);
  });

  const writable = (chart: readonly ChartTemplate[]) =>
    midnamOfChart(chart, {
      manufacturer: 'Quay & Co',
      model: '<Reed>',
      programsShownFrom: 1,
      programPattern: null,
    });
  it('comes back as it was, whatever is in it', () =>
    fc.assert(
      fc.property(charts, (chart) => {
        const document = writable(chart);
        expect(readMidnam(writeMidnam(document))).toEqual({ ok: true, value: document });
      }),
      { seed: 33, numRuns: 500 },
    ));
  it('gives back the rows of a chart that it can hold', () => {
    const chart = READY_CHARTS.find((c) => c.key === 'controllers')!.rows;
    const back = chartOfMidnam(writable(chart));
    expect(back.map((fn) => [fn.name, fn.drive, fn.shape.kind])).toEqual(
      chart.map((fn) => [fn.name, fn.drive, fn.shape.kind]),
    );
  });

  const lineOf = (word: string) => HAND_WRITTEN.slice(0, HAND_WRITTEN.indexOf(word)).split('\n').length;
  const line = (n: number, sentence: string) => ({
    ok: false,
    error: { line: n, sentence: expect.stringContaining(sentence) as string },
  });
  const withDoctype = (doctype: string) => HAND_WRITTEN.replace(/<!DOCTYPE[^>]*>/, doctype);
  it.each([
    [
      'an external entity',
      withDoctype('<!DOCTYPE MIDINameDocument [ <!ENTITY x SYSTEM "file:///etc/passwd"> ]>'),
      2,
      'declares entities',
    ],
    [
      'declarations of its own',
      withDoctype('<!DOCTYPE MIDINameDocument [ <!ELEMENT a ANY> ]>'),
      2,
      'of its own',
    ],
    [
      'a foreign DOCTYPE',
      withDoctype('<!DOCTYPE MIDINameDocument SYSTEM "http://else/a.dtd">'),
      2,
      'nothing is ever fetched',
    ],
    ['an unknown entity', HAND_WRITTEN.replace('&amp;', '&nbsp;'), 4, 'The entity &nbsp; is not known here.'],
    [
      'another encoding',
      HAND_WRITTEN.replace('UTF-8', 'UTF-16'),
      1,
      'its encoding is UTF-16; save it as UTF-8',
    ],
    ['its end missing', HAND_WRITTEN.split('\n').slice(0, 20).join('\n'), 20, 'may be cut off'],
    ['another root', '<Names/>', 1, 'This is a Names, not a MIDINameDocument.'],
    ['two documents', '<MIDINameDocument/>\n<MIDINameDocument/>', 2, 'A second document begins here'],
    ['nothing', '', 1, ''],
    [
      'program 128',
      HAND_WRITTEN.replace('ProgramChange="0"', 'ProgramChange="128"'),
      20,
      'no number from 0 to 127',
    ],
    [
      'a note without a name',
      HAND_WRITTEN.replace(' Name="Dong"', ''),
      lineOf('Dong'),
      'This Note has no Name.',
    ],
    [
      'a list that is not there',
      HAND_WRITTEN.replace('UsesPatchNameList Name="Shared"', 'UsesPatchNameList Name="Gone"'),
      24,
      'no PatchNameList called “Gone”',
    ],
  ])('with %s is refused with line and reason', (_what, text, at, sentence) =>
    expect(readMidnam(text)).toEqual(line(at, sentence)),
  );
});

describe('damaged files', () => {
  /** 200 files with bytes cut out, doubled or changed at random places; the numbers are from a pinned seed. */
  const damage = (text: string) =>
    fc.sample(
      fc
        .tuple(
          fc.nat(text.length - 1),
          fc.integer({ min: 1, max: 60 }),
          fc.constantFrom('cut', 'twice', 'junk', 'end'),
          fc.string(),
        )
        .map(([at, length, how, junk]) => {
          if (how === 'end') return text.slice(0, at);
          const middle = how === 'cut' ? '' : how === 'twice' ? text.slice(at, at + length).repeat(2) : junk;
          return text.slice(0, at) + middle + text.slice(at + length);
        }),
      { seed: 34, numRuns: 200 },
    );
  it.each([
    ['CSV', writeChartCsv(stringProcessor.chart), (text: string) => readChartCsv(text, middleC)],
    ['MIDNAM', HAND_WRITTEN, (text: string) => readMidnam(text)],
  ] as const)('200 of %s: each is refused with a sentence or read whole', (_what, text, read) => {
    let refused = 0;
    for (const file of damage(text)) {
      const result = read(file);
      if (result.ok) continue;
      refused++;
      for (const fault of [result.error].flat()) expect(fault.sentence).toMatch(/\S.*[.…;]?$/);
    }
    expect(refused).toBeGreaterThan(60);
  });
});

describe('a range that becomes a choice', () => {
  const row = (values: string, kind: string) =>
    functionFromCells({ ...EMPTY_CELLS, name: 'Scene', message: 'CC 20', kind, values }, 3);
  it.each([
    ['0-3', ['0', '1', '2', '3'], 0],
    ['5 to 7', ['5', '6', '7'], 5],
    ['0-127', Array.from({ length: 128 }, (_, i) => String(i)), 0],
  ])('%s counts from its lowest to its highest', (values, labels, first) => {
    const read = row(values, 'choice');
    expect(read.ok && read.value.shape).toMatchObject({ kind: 'choice', first, labels });
  });
  it('keeps names that are written out', () => {
    const read = row('0=Dry; 1=Full', 'choice');
    expect(read.ok && read.value.shape).toMatchObject({ labels: ['Dry', 'Full'] });
  });
});
