import { describe, expect, it } from 'vitest';
import { parseShown, shownText, type Device } from '../gear';
import { makeDevice, makeFunction } from '../testing.test-support';
import { cellsOf, EMPTY_CELLS, functionFromCells } from './functionText';
import { writeMidnam } from './names/midnam';
import { readMidnam } from './names/midnamReader';
import { chartOfMidnam, midnamOfChart } from './names/midnamModel';

const fn = makeFunction({
  name: 'Sound',
  drive: { kind: 'sound' },
  shape: {
    kind: 'sound',
    names: [
      { bank: 2, program: 5, name: 'Wide bow' },
      { bank: 130, program: 0, name: 'Reed' },
    ],
  },
});
const device = (part: Partial<Device> = {}) => makeDevice({ chart: [fn], ...part });
const typed = (text: string, part: Partial<Device> = {}) => {
  const result = parseShown(device(part), fn, text);
  return result.ok ? result.value : result.error.code;
};

describe('a sound', () => {
  it.each([
    ['2/5', 2 * 128 + 5],
    ['1/2/0', 130 * 128],
    ['wide bow', 2 * 128 + 5],
    ['2/5 Wide bow', 2 * 128 + 5],
    ['5', 'not-a-value'],
    ['2/128', 'out-of-range'],
    ['16384/0', 'out-of-range'],
    ['128/0/0', 'out-of-range'],
  ])('typed as %j is %s', (text, value) => expect(typed(text)).toBe(value));
  it('is counted as its device shows it', () => {
    expect(typed('2/6', { programsShownFrom: 1 })).toBe(2 * 128 + 5);
    expect(typed('2/0', { programsShownFrom: 1 })).toBe('out-of-range');
    expect(typed('2/5', { bankSelect: 'msb' })).toBe((2 << 14) | 5);
  });
  it('is shown with its bank, and read as it is shown', () => {
    for (const part of [{}, { bankSelect: 'msb' }, { bankSelect: 'lsb' }, { programsShownFrom: 1 }] as const)
      for (const bank of [0, 'bankSelect' in part && part.bankSelect === 'msb' ? 2 << 7 : 2]) {
        const value = bank * 128 + 5;
        const text = shownText(device(part), fn, value);
        expect([text, typed(text, part)]).toEqual([text, value]);
      }
    expect(shownText(device(), fn, 130 * 128)).toBe('1/2/0 Reed');
  });
  it('is a row of the table and of a CSV file, as one', () => {
    expect(cellsOf(fn, 3).values).toBe('0/2/5=Wide bow; 1/2/0=Reed');
    expect(functionFromCells(cellsOf(fn, 3), 3)).toEqual({
      ok: true,
      value: expect.objectContaining({ shape: fn.shape }) as object,
    });
    const wrong = functionFromCells({ ...EMPTY_CELLS, name: 'S', message: 'sound', values: 'Wide' }, 3);
    expect(wrong).toMatchObject({
      error: [{ column: 'values', sentence: expect.stringContaining('like 0/2/5=Wide') as string }],
    });
  });
});

/** Written by hand after the published document type definition of MIDI name documents (from memory). */
const bank = (name: string, lsb: number, patches: string) =>
  `<PatchBank Name="${name}"><MIDICommands><ControlChange Control="0" Value="0"/><ControlChange Control="32" Value="${lsb}"/></MIDICommands><PatchNameList>${patches}</PatchNameList></PatchBank>`;
const patch = (number: number, name: string) =>
  `<Patch Number="${number}" Name="${name}" ProgramChange="${number}"/>`;
const DOCUMENT = `<?xml version="1.0" encoding="UTF-8"?><MIDINameDocument><Author/><MasterDeviceNames><Manufacturer>M</Manufacturer><Model>K</Model><ChannelNameSet Name="N"><AvailableForChannels/>${bank('A', 0, patch(1, 'Low') + patch(2, 'High'))}${bank('C', 2, patch(1, 'Wide'))}</ChannelNameSet></MasterDeviceNames></MIDINameDocument>`;

describe('patches of a name document', () => {
  const documentOf = (patches: string, bank = '') => `<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE MIDINameDocument PUBLIC "-//MIDI Manufacturers Association//DTD MIDINameDocument 1.0//EN" "http://www.midi.org/dtds/MIDINameDocument10.dtd">
<MIDINameDocument><!-- > & <!ENTITY is only spoken of here --><Author><![CDATA[A & <B>]]></Author>
<MasterDeviceNames><Manufacturer>M<!-- x -->N</Manufacturer><Model>K</Model>
<ChannelNameSet Name="c"><PatchBank Name="P">${bank}<PatchNameList>${patches}</PatchNameList></PatchBank></ChannelNameSet>
</MasterDeviceNames></MIDINameDocument>`;
  const own = (number: number, name: string, msb: number) =>
    `<Patch Number="${number}" Name="${name}"><PatchMIDICommands><ControlChange Control="0" Value="${msb}"/><ControlChange Control="32" Value="0"/><ProgramChange Number="${number}"/></PatchMIDICommands></Patch>`;
  it('may select a bank of their own: two of two banks are two sounds', () => {
    const read = readMidnam(documentOf(own(1, 'Low', 0) + own(1, 'Wide', 2)));
    if (!read.ok) throw new Error(read.error.sentence);
    expect(chartOfMidnam(read.value).map((r) => [r.drive, r.shape])).toEqual([
      [
        { kind: 'sound' },
        {
          kind: 'sound',
          names: [
            { bank: 0, program: 1, name: 'Low' },
            { bank: 256, program: 1, name: 'Wide' },
          ],
        },
      ],
    ]);
  });
  it('that select none are in the bank around them', () => {
    const bank =
      '<MIDICommands><ControlChange Control="0" Value="1"/><ControlChange Control="32" Value="0"/></MIDICommands>';
    const read = readMidnam(documentOf(`<Patch Number="3" Name="Plain"/>${own(4, 'Other', 2)}`, bank));
    if (!read.ok) throw new Error(read.error.sentence);
    expect(chartOfMidnam(read.value)[0]!.shape).toMatchObject({
      names: [
        { bank: 128, program: 3, name: 'Plain' },
        { bank: 256, program: 4, name: 'Other' },
      ],
    });
  });
  it('20,000 controls of one name get names of their own', () => {
    const control = '<Control Type="7bit" Number="1" Name="Level"/>';
    const read = readMidnam(
      documentOf('').replace(
        '</MasterDeviceNames>',
        `<ControlNameList Name="l">${control.repeat(20_000)}</ControlNameList></MasterDeviceNames>`,
      ),
    );
    if (!read.ok) throw new Error(read.error.sentence);
    const names = chartOfMidnam(read.value).flatMap((r) => (r.group === 'l' ? r.name : []));
    expect(new Set(names).size).toBe(20_000);
    expect(names.slice(0, 3)).toEqual(['Level', 'Level (2)', 'Level (3)']);
  });
  it('and their document may have comments and text that is not marked up', () => {
    const read = readMidnam(documentOf('<Patch Number="3" Name="Plain"/>'));
    expect(read).toMatchObject({ ok: true, value: { author: 'A & <B>', manufacturer: 'MN' } });
  });
});

describe('a name document of several banks', () => {
  const read = readMidnam(DOCUMENT);
  const rows = read.ok ? chartOfMidnam(read.value) : [];
  it('is one row of sounds', () =>
    expect(rows.map((r) => [r.name, r.drive, r.shape])).toEqual([
      [
        'Sound',
        { kind: 'sound' },
        {
          kind: 'sound',
          names: [
            { bank: 0, program: 1, name: 'Low' },
            { bank: 0, program: 2, name: 'High' },
            { bank: 2, program: 1, name: 'Wide' },
          ],
        },
      ],
    ]));
  it('written and read again is the same', () => {
    const about = { manufacturer: 'M', model: 'K', programsShownFrom: 0 as const, programPattern: null };
    const again = readMidnam(writeMidnam(midnamOfChart(rows, about)));
    expect(again.ok && chartOfMidnam(again.value)).toEqual(rows);
  });
});
