import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ChartTemplate } from '../../gear';
import { cellsOf, readManual, type ManualText } from '../index';

const OPTIONS = { middleC: 3, programsShownFrom: 1 } as const;
const read = (text: string): ManualText => readManual(text, OPTIONS);

/** A row in short: name, message, kind and values, and what is not usual. */
function short(row: ChartTemplate): string {
  const c = cellsOf(row, null);
  const more = [c.channel && `ch ${c.channel}`, c.group && `in ${c.group}`, c.remark && `“${c.remark}”`];
  return [`${c.name}: ${c.message}, ${c.kind} ${c.values}`.trim(), ...more.filter(Boolean)].join(', ');
}
const rowsOf = (text: string): string[] => read(text).rows.map(short);

describe('a line of a manual in words', () => {
  it.each([
    ['program 1-128', 'Program: program, program'],
    [
      'CC 69 Snapshot 1-4 = 0-3',
      'Snapshot: CC 69, choice 0=Snapshot 1; 1=Snapshot 2; 2=Snapshot 3; 3=Snapshot 4',
    ],
    ['CC 24 Reverb on/off', 'Reverb: CC 24, switch 0/127'],
    ['note 36 ch 10 Record 1', 'Record 1: note 36, trigger 127, ch 10'],
    ['CC#7 Volume (0-127)', 'Volume: CC 7, range 0-127'],
    ['controller 11: Expression pedal 0..127', 'Expression pedal: CC 11, range 0-127'],
    ['CC 7', 'Volume: CC 7, range 0-127'],
    ['CC 7+39 Master level (14 bit)', 'Master level: CC 7+39, range 0-16383'],
    ['Tap tempo: CC 64 (any value)', 'Tap tempo: CC 64, trigger 127'],
    ['Bypass CC 80: 0-63 off, 64-127 on', 'Bypass: CC 80, switch 0/127'],
    ['Bypass CC 80: off = 1, on = 2', 'Bypass: CC 80, switch 1/2'],
    ['Bypass CC 80: 0–63 on, 64–127 bypass', 'Bypass: CC 80, switch 127/0'],
    ['Drive type CC 18: Tube/Tape/Fuzz', 'Drive type: CC 18, choice 0=Tube; 1=Tape; 2=Fuzz'],
    ['CC 11 Volume/Expression', 'Volume/Expression: CC 11, range 0-127'],
    ['Mode CC 19 0=Off, 64=Half, 127=Full', 'Mode: CC 19, choice 0=Off; 64=Half; 127=Full'],
    ['Mode CC 19: 0-42 Low | 43-85 Mid | 86-127 High', 'Mode: CC 19, choice 0=Low; 43=Mid; 86=High'],
    ['NRPN 2/17 Cutoff', 'Cutoff: NRPN 2/17, range 0-127'],
    ['RPN MSB 0 LSB 1 Fine tuning 14-bit', 'Fine tuning: RPN 0/1 14-bit, range 0-16383'],
    ['Bn 45 vv Feedback', 'Feedback: CC 69, range 0-127'],
    ['B2 46 vv Mix 00-7F', 'Mix: CC 70, range 0-127, ch 3'],
    ['CC 2Ah Depth', 'Depth: CC 42, range 0-127'],
    ['Pitch bend', 'Pitch bend: bend, range 0-16383'],
    ['Channel aftertouch', 'Pressure: pressure, range 0-127'],
    ['F0 7D 10 22 vv F7 Gain', 'Gain: F0 7D 10 22 value F7, range 0-127'],
    ['MMC play', 'Play: machine play, trigger 127'],
    ['note C1 Kick', 'Kick: note 36, trigger 127'],
    ['• Delay time (ms) … CC 20', 'Delay time (ms): CC 20, range 0-127'],
  ])('%s', (text, wanted) => {
    const { lines } = read(text);
    expect(rowsOf(text)).toEqual([wanted]);
    expect(lines.flatMap((l) => l.sentences)).toEqual([]);
  });

  it.each([
    ['hello there 12', 'It says no message; write CC 22, note 36 or program in it.'],
    ['CC 300 Depth', 'Controller 300 is out of range; 0 to 127 would be right.'],
    ['CC 20 ch 17 Depth', 'Channel 17 does not exist; channels are 1 to 16, or empty for the device’s own.'],
    ['Poly aftertouch', 'Pressure of single keys is played and not set; it needs no row.'],
    ['CC 20 Mode 0=A, 0=B', 'The value 0 has two names.'],
  ])('%s is refused with its reason', (text, sentence) => {
    expect(read(text)).toEqual({
      rows: [],
      lines: [{ line: 1, text, kind: 'refused', row: null, sentences: [sentence] }],
    });
  });

  it.each([
    ['CC 25', 'It has no name; it is called CC 25.'],
    ['program 0-127', 'The text counts programs from 0, the device as it is set from 1.'],
    ['CC 20 Depth and CC 21 Rate', 'It says a second message, CC 21; only CC 20 is taken.'],
  ])('%s is taken with a word of doubt', (text, sentence) => {
    const { lines } = read(text);
    expect(lines.at(-1)).toMatchObject({ kind: 'row', sentences: [sentence] });
  });
});

describe('what stands in several lines', () => {
  it('values below their function are its names, and a blank line ends them', () => {
    expect(rowsOf('CC 22 Snapshot\n  0 = Dry\n  1 = Body\n\n3 = Lost\nCC 23 Depth')).toEqual([
      'Snapshot: CC 22, choice 0=Dry; 1=Body',
      'Depth: CC 23, range 0-127',
    ]);
  });
  it('programs of a list are one function, counted as they are', () => {
    expect(rowsOf('Program list\n001 Glass Bells\n002 Old Organ\n128 Noise')).toEqual([
      'Program: program, program 0=Glass Bells; 1=Old Organ; 127=Noise, in Program list',
    ]);
    expect(rowsOf('PC 0 Clean\nPC 1 Crunch')).toEqual(['Program: program, program 0=Clean; 1=Crunch']);
  });
  it('a heading says what numbers below it are, and is the group', () => {
    expect(rowsOf('Control changes\n1 Modulation\n64: Sustain on/off\nPads:\n36 Kick')).toEqual([
      'Modulation: CC 1, range 0-127, in Control changes',
      'Sustain: CC 64, switch 0/127, in Control changes',
      'Kick: note 36, trigger 127, in Pads',
    ]);
  });
  it('a cell of a table may be empty, and goes on in the next line', () => {
    const text = [
      'CC#   Function          Range      Channel',
      ' 12   Chorus depth      0-127      3',
      '      of both sides',
      ' 13   Chorus on/off                3',
      '      Phaser',
      ' 14   Phaser rate       0 - 100',
    ].join('\n');
    expect(rowsOf(text)).toEqual([
      'Chorus depth of both sides: CC 12, range 0-127, ch 3',
      'Chorus: CC 13, switch 0/127, ch 3',
      'Phaser rate: CC 14, range 0-100, in Phaser',
    ]);
  });
});

it('whatever is pasted, nothing is thrown and every line that says something is accounted for', () => {
  const piece = fc.oneof(
    fc.constantFrom(
      'CC',
      'note',
      'NRPN',
      'program',
      '0-127',
      'on/off',
      '=',
      '|',
      '\t',
      '  ',
      '(',
      ')',
      '64',
      'B2',
      'F0',
      'F7',
      'ch',
    ),
    fc.string({ unit: 'grapheme', maxLength: 8 }),
    fc.nat(300).map(String),
  );
  const text = fc.array(
    fc.array(piece, { maxLength: 8 }).map((p) => p.join(' ')),
    { maxLength: 12 },
  );
  fc.assert(
    fc.property(text, (lines) => {
      const result = read(lines.join('\n'));
      const rows = new Set(result.lines.flatMap((l) => (l.kind === 'row' ? (l.row ?? []) : [])));
      expect(rows.size).toBe(result.rows.length);
      for (const line of result.lines)
        if (line.kind === 'refused') expect(line.sentences.length).toBeGreaterThan(0);
    }),
    { seed: 33, numRuns: 500 },
  );
});

/** What a made-up device answers to, and how ten made-up manuals would print it. All names and numbers are invented. */
type Wanted = {
  readonly name: string;
  readonly controller: number;
  readonly shape:
    | { readonly kind: 'range'; readonly min: number; readonly max: number }
    | { readonly kind: 'switch' }
    | { readonly kind: 'choice'; readonly names: readonly string[]; readonly sent: readonly number[] };
};

const FIRST = [
  'Delay',
  'Reverb',
  'Chorus',
  'Drive',
  'Phaser',
  'Osc 2',
  'LFO 1',
  'Filter',
  'Wah',
  'Loop A',
  'Send',
  'Amp',
];
const SECOND = [
  'depth',
  'rate',
  'mix',
  'level',
  'time',
  'tone',
  'feedback',
  'gain',
  'width',
  'hold',
  'pan',
  'speed',
];
const CHOICES = ['Tape', 'Digital', 'Spring', 'Plate', 'Hall', 'Soft', 'Hard', 'Warm'];

const wanted: fc.Arbitrary<Wanted[]> = fc
  .uniqueArray(
    fc.record({
      name: fc.tuple(fc.constantFrom(...FIRST), fc.constantFrom(...SECOND)).map((w) => w.join(' ')),
      controller: fc.integer({ min: 12, max: 119 }),
      shape: fc.oneof(
        { weight: 3, arbitrary: fc.constant({ kind: 'range' as const, min: 0, max: 127 }) },
        fc.integer({ min: 3, max: 100 }).map((max) => ({ kind: 'range' as const, min: 0, max })),
        fc.constant({ kind: 'switch' as const }),
        fc
          .tuple(fc.shuffledSubarray(CHOICES, { minLength: 2, maxLength: 4 }), fc.boolean())
          .map(([names, isWide]) => ({
            kind: 'choice' as const,
            names,
            sent: names.map((_, i) => (isWide ? i * 32 : i)),
          })),
      ),
    }),
    { minLength: 6, maxLength: 14, selector: (w) => w.name },
  )
  .map((list) => list.filter((w, i) => list.findIndex((v) => v.controller === w.controller) === i));

const valuesIn = (w: Wanted, dash: string, equals: string, apart: string): string => {
  const { shape } = w;
  if (shape.kind === 'range') return `${shape.min}${dash}${shape.max}`;
  if (shape.kind === 'switch') return `0${equals}off${apart}127${equals}on`;
  return shape.names.map((n, i) => `${shape.sent[i]!}${equals}${n}`).join(apart);
};
const pad = (text: string | number, width: number) => String(text).padEnd(width);

const LAYOUTS: Readonly<Record<string, (list: readonly Wanted[]) => string>> = {
  'in words': (list) =>
    list
      .map(
        (w) =>
          `CC ${w.controller} ${w.name} ${w.shape.kind === 'switch' ? 'on/off' : valuesIn(w, '-', '=', ', ')}`,
      )
      .join('\n'),
  'the name first, the number in brackets': (list) =>
    list.map((w) => `${w.name} (CC#${w.controller}): ${valuesIn(w, ' to ', ' = ', ', ')}`).join('\n'),
  'cells with tabs': (list) =>
    [
      'Parameter\tCC\tRange',
      ...list.map((w) => [w.name, w.controller, valuesIn(w, '–', '=', '; ')].join('\t')),
    ].join('\n'),
  'columns of spaces, with sections': (list) =>
    [
      `${pad('CC#', 6)}${pad('Function', 24)}Values`,
      ...list.flatMap((w, i) => [
        ...(i % 5 === 4 ? ['', `${pad('', 6)}Section ${'ABCD'[i % 4]!}`] : []),
        `${pad(w.controller, 6)}${pad(w.name, 24)}${valuesIn(w, ' - ', ': ', ', ')}`,
      ]),
    ].join('\n'),
  'strokes, as on a page': (list) =>
    [
      '| Name | Controller number | Value range |',
      '| --- | :-: | --- |',
      ...list.map((w) => `| ${w.name} | ${w.controller} | ${valuesIn(w, '-', ' = ', ', ')} |`),
    ].join('\n'),
  'semicolons, the kind of message in a column': (list) =>
    ['Type;Number;Description of what it does;Min;Max']
      .map(() => 'Type;No.;Name;Min;Max')
      .concat(
        list.map((w) => {
          const { shape } = w;
          const [min, max] = shape.kind === 'range' ? [shape.min, shape.max] : [0, 127];
          return `Control Change;${w.controller};${w.name};${min};${max}`;
        }),
      )
      .join('\n'),
  'bytes in hexadecimal': (list) =>
    list
      .map((w) => {
        const hex = (n: number) => n.toString(16).toUpperCase().padStart(2, '0');
        const max = w.shape.kind === 'range' ? w.shape.max : 127;
        return `Bn ${hex(w.controller)} vv   ${pad(w.name, 20)}00-${hex(max)}`;
      })
      .join('\n'),
  'points, written out': (list) =>
    list
      .map((w) => `• ${w.name} – Control Change ${w.controller}, values ${valuesIn(w, '–', ' = ', ' / ')}`)
      .join('\n'),
  'numbers under a heading': (list) =>
    [
      'CONTROL CHANGE MESSAGES',
      '',
      ...list.map(
        (w) =>
          `${String(w.controller).padStart(3, '0')}  ${pad(w.name, 18)}  ${valuesIn(w, '..', '=', ' | ')}`,
      ),
    ].join('\n'),
  'values in lines below': (list) =>
    list
      .map((w) => {
        const { shape } = w;
        const head = `Controller ${w.controller}: ${w.name}`;
        if (shape.kind === 'range') return `${head} ${shape.min}-${shape.max}`;
        if (shape.kind === 'switch') return `${head} off/on`;
        return [head, ...shape.names.map((n, i) => `    ${shape.sent[i]!} - ${n}`)].join('\n');
      })
      .join('\n\n'),
};

/** What such a manual can tell: two of the layouts print only the lowest and the highest value. */
const toldBy = (layout: string, { shape }: Wanted): Wanted['shape'] =>
  /semicolons|hexadecimal/.test(layout) && shape.kind !== 'range'
    ? { kind: 'range', min: 0, max: 127 }
    : shape;

const matches = (row: ChartTemplate, w: Wanted, shape: Wanted['shape']): boolean => {
  const { values, kind, name, message } = cellsOf(row, null);
  const inValues =
    shape.kind === 'range'
      ? `${shape.min}-${shape.max}`
      : shape.kind === 'switch'
        ? '0/127'
        : shape.names.map((n, i) => `${shape.sent[i]!}=${n}`).join('; ');
  return name === w.name && message === `CC ${w.controller}` && kind === shape.kind && values === inValues;
};

describe('sixty tables of made-up manuals', () => {
  const devices = fc.sample(wanted, { seed: 2033, numRuns: 6 });
  const all = Object.entries(LAYOUTS).flatMap(([layout, write]) =>
    devices.map((list) => ({ layout, list, result: read(write(list)) })),
  );
  const functions = all.reduce((sum, { list }) => sum + list.length, 0);
  const missed = all.flatMap(({ layout, list, result }) =>
    list
      .filter((w) => !result.rows.some((row) => matches(row, w, toldBy(layout, w))))
      .map((w) => `${layout}: ${w.name}, CC ${w.controller}, ${JSON.stringify(w.shape)}`),
  );
  const wrong = all.flatMap(({ layout, list, result }) =>
    result.lines
      .filter((l) => l.kind === 'row' && l.row !== null && l.sentences.length === 0)
      .filter((l) => !list.some((w) => matches(result.rows[l.row!]!, w, toldBy(layout, w))))
      .map((l) => `${layout}: ${l.text} became ${short(result.rows[l.row!]!)}`),
  );
  it('are ten layouts of six devices', () => {
    expect(all).toHaveLength(60);
    expect(functions).toBeGreaterThan(400);
  });
  it('are understood, 95 of 100 functions at the least', () => {
    expect(missed.slice(0, Math.max(0, missed.length - functions / 20))).toEqual([]);
  });
  it('none wrongly without a word of doubt', () => expect(wrong).toEqual([]));
});
