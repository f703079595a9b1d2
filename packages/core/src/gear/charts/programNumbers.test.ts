import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeDevice, makeFunction } from '../../testing.test-support';
import { encode, hex } from '../../midi';
import {
  expectedText,
  messagesFor,
  parseProgramPattern,
  parseShown,
  patternSpan,
  PROGRAM_PATTERNS,
  programSpan,
  programText,
  shownText,
  typedProgram,
} from '../index';

const counted = (programPattern: string | null, programsShownFrom: 0 | 1 = 1) => ({
  programPattern,
  programsShownFrom,
});

describe('programs as a display counts them', () => {
  // How many a bank, and letters or numbers: common practice, no source.
  it.each([
    ['[01-32][A-D]', ['01A', '01B', '02A', '32D'], [0, 1, 4, 127]],
    ['[1-26]-[1-5]', ['1-1', '1-5', '2-1', '26-3'], [0, 4, 5, 127]],
    ['[A-P][1-8]', ['A1', 'A8', 'B1', 'P8'], [0, 7, 8, 127]],
    ['[A-H][1-8][1-8]', ['A11', 'A18', 'A21', 'B88'], [0, 7, 8, 127]],
    ['[1-16].[1-8]', ['1.1', '2.1', '16.8'], [0, 8, 127]],
    ['P[0-127]', [], []],
  ])('%s', (pattern, texts, programs) => {
    const device = counted(pattern);
    expect(programs.map((p) => programText(device, p))).toEqual(texts);
    expect(texts.map((t) => typedProgram(device, t))).toEqual(programs);
  });

  it.each([
    ['1a', 0],
    ['001A', 0],
    [' 32 d ', 127],
    ['33A', null],
    ['01E', null],
    ['A01', null],
    ['', null],
    ['5', null],
  ])('“%s” typed where it counts 01A to 32D', (typed, program) =>
    expect(typedProgram(counted('[01-32][A-D]'), typed)).toBe(program),
  );

  it.each([
    [' 12 ', 11],
    ['+12', 11],
    ['-1', 'beyond'],
    ['129', 'beyond'],
    ['12 x', null],
    ['no 12', null],
    ['1 2', null],
  ])('“%s” typed where it counts plain numbers from 1', (typed, program) =>
    expect(typedProgram(counted(null), typed)).toBe(program),
  );
  it.each([
    [' Sent  20 ', 20],
    ['not sent 20', null],
    ['sent 20 now', null],
    ['sent20', null],
  ])('“%s” typed where a pattern is short', (typed, program) =>
    expect(typedProgram(counted('[A-E][1-4]'), typed)).toBe(program),
  );

  it('what a short pattern has no name for is told as it is sent', () => {
    const device = counted('[A-E][1-4]', 0);
    expect([19, 20, 127].map((p) => programText(device, p))).toEqual(['E4', 'sent 20', 'sent 127']);
    expect(['E4', 'sent 20', '19', 'sent 128'].map((t) => typedProgram(device, t))).toEqual([
      19,
      20,
      null,
      'beyond',
    ]);
    expect(programSpan(device)).toBe('A1 to sent 127');
  });

  it.each([
    ['', 'Nothing turns in it'],
    ['P[0-127]', '“P” stands outside the brackets'],
    ['[D-A]', '“[D-A]” is no range that rises'],
    ['[1-8', '“[1-8” is no range that rises'],
    ['[A-8]', '“[A-8]” is no range that rises'],
    ['[1-999][1-999]', 'It counts 998001 programs; 16384 are the most.'],
  ])('the pattern “%s” is refused', (text, sentence) => {
    const read = parseProgramPattern(text);
    expect(read.ok ? '' : read.error).toContain(sentence);
    expect(patternSpan(text)).toBe('');
  });

  const part = fc.oneof(
    fc
      .tuple(fc.integer({ min: 0, max: 9 }), fc.integer({ min: 1, max: 40 }), fc.boolean())
      .map(([from, more, isPadded]) => {
        const to = from + more;
        const width = isPadded ? String(to).length : 1;
        return `[${String(from).padStart(width, '0')}-${to}]`;
      }),
    fc
      .tuple(fc.integer({ min: 0, max: 12 }), fc.integer({ min: 1, max: 12 }))
      .map(([a, b]) => `[${String.fromCharCode(65 + a)}-${String.fromCharCode(65 + a + b)}]`),
  );
  // Two numbers side by side cannot be told apart, so something stands between them.
  const pattern = fc.array(part, { minLength: 1, maxLength: 3 }).map((parts) => parts.join('-'));

  it('every program is typed as it is shown, and no two are shown alike', () => {
    fc.assert(
      fc.property(
        fc.oneof(pattern, fc.constantFrom(...PROGRAM_PATTERNS)),
        fc.constantFrom(0 as const, 1 as const),
        (text, from) => {
          const device = counted(text, from);
          const shown = Array.from({ length: 128 }, (_, program) => programText(device, program));
          expect(new Set(shown).size).toBe(128);
          expect(shown.map((t) => typedProgram(device, t))).toEqual(shown.map((_, program) => program));
        },
      ),
      { seed: 32, numRuns: 200 },
    );
  });

  it('values of a function are shown and typed so, and the bytes are those of the program', () => {
    const device = makeDevice({ channel: 2, programPattern: '[01-32][A-D]' });
    const fn = makeFunction({
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [{ program: 5, name: 'Fog' }] },
    });
    expect(shownText(device, fn, 5)).toBe('02B Fog');
    for (const typed of ['02B', '2b', 'fog', '2B Fog', '02b  fog'])
      expect(parseShown(device, fn, typed)).toEqual({ ok: true, value: 5 });
    expect(expectedText(device, fn)).toBe('01A to 32D');
    expect(parseShown(device, fn, '33A')).toMatchObject({ ok: false, error: { expected: '01A to 32D' } });
    expect(messagesFor(device, fn, 5).map((m) => hex(encode(m)))).toEqual(['C2 05']);
  });

  it('a pattern of more than 128 goes on over banks', () => {
    const sound = makeFunction({ drive: { kind: 'sound' }, shape: { kind: 'sound', names: [] } });
    for (const bankSelect of ['msb', 'lsb', 'both'] as const) {
      const device = makeDevice({ bankSelect, programPattern: '[A-H][1-8][1-8]' });
      const bank = bankSelect === 'msb' ? 3 << 7 : 3;
      const value = (bank << 7) | 127;
      expect(shownText(device, sound, value)).toBe('H88');
      expect(parseShown(device, sound, 'h88')).toEqual({ ok: true, value });
      expect(parseShown(device, sound, 'I11').ok).toBe(false);
    }
  });

  it('banks and programs of a pattern within one bank stand side by side', () => {
    const sound = makeFunction({ drive: { kind: 'sound' }, shape: { kind: 'sound', names: [] } });
    const device = makeDevice({ programPattern: '[01-32][A-D]' });
    expect(shownText(device, sound, (2 << 7) | 4)).toBe('2/02A');
    expect(parseShown(device, sound, '2/02a')).toEqual({ ok: true, value: (2 << 7) | 4 });
  });
});
