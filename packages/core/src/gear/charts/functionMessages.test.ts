import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encode, hex } from '../../midi';
import { makeDevice, makeFunction } from '../../testing.test-support';
import {
  expectedText,
  messagesFor,
  parseShown,
  readFunction,
  shapeMismatch,
  shownText,
  takesValue,
  valueBounds,
  type ChartFunction,
} from '../index';

const device = makeDevice({ channel: 2, programsShownFrom: 1 });
const snapshot = makeFunction({
  name: 'Snapshot',
  drive: { kind: 'controller', controller: 22 },
  shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['Dry', 'Body', 'Full'] },
});
const block = makeFunction({
  drive: { kind: 'controller', controller: 24 },
  shape: { kind: 'switch', off: 0, on: 127 },
});
const inverted = makeFunction({
  drive: { kind: 'controller', controller: 25 },
  shape: { kind: 'switch', off: 127, on: 0 },
});
const volume = makeFunction({
  drive: { kind: 'controller', controller: 7 },
  shape: { kind: 'range', min: 20, max: 110, shownFrom: 0 },
});
const program = makeFunction({
  drive: { kind: 'program', bank: null },
  shape: { kind: 'program', names: [{ program: 13, name: 'Bow wide' }] },
});
const banked = makeFunction({ drive: { kind: 'program', bank: 129 }, shape: { kind: 'program', names: [] } });
const pad = makeFunction({ drive: { kind: 'note', note: 60 }, shape: { kind: 'switch', off: 0, on: 100 } });
const shot = makeFunction({ drive: { kind: 'note', note: 61 }, shape: { kind: 'trigger', sent: 90 } });
const play = makeFunction({
  drive: { kind: 'transport', command: 'play' },
  shape: { kind: 'trigger', sent: 0 },
});
const ready = makeFunction({
  drive: { kind: 'record-ready', track: 3 },
  shape: { kind: 'switch', off: 0, on: 1 },
});
const elsewhere = makeFunction({
  drive: { kind: 'controller', controller: 24 },
  shape: { kind: 'switch', off: 0, on: 127 },
  channel: 9,
});

const bytes = (fn: ChartFunction, value: number) =>
  messagesFor(device, fn, value)
    .map((m) => hex(encode(m)))
    .join(' | ');

describe('function to bytes', () => {
  it.each([
    ['choice', snapshot, 2, 'B2 16 02'],
    ['choice with gaps', { ...snapshot, shape: { ...snapshot.shape, sent: [0, 64, 127] } }, 1, 'B2 16 40'],
    ['switch on', block, 1, 'B2 18 7F'],
    ['switch off', block, 0, 'B2 18 00'],
    ['inverted switch on', inverted, 1, 'B2 19 00'],
    ['range', volume, 110, 'B2 07 6E'],
    ['program', program, 13, 'C2 0D'],
    ['bank and program', banked, 5, 'B2 00 01 | B2 20 01 | C2 05'],
    ['note switch on', pad, 1, '92 3C 64'],
    ['note switch off', pad, 0, '82 3C 40'],
    ['note trigger', shot, 0, '92 3D 5A | 82 3D 40'],
    ['machine play', play, 0, 'F0 7F 7F 06 02 F7'],
    ['track 3 record-ready', ready, 1, 'F0 7F 7F 06 41 04 4F 01 01 01 F7'],
    ['own channel', elsewhere, 1, 'B9 18 7F'],
  ] as [string, ChartFunction, number, string][])('%s', (_name, fn, value, wanted) => {
    expect(bytes(fn, value)).toBe(wanted);
  });

  it('reads back every value that it sends', () => {
    for (const fn of [snapshot, block, inverted, volume, program, banked, pad, ready, elsewhere]) {
      const { min, max } = valueBounds(fn.shape);
      for (let value = min; value <= max; value++) {
        const read = messagesFor(device, fn, value).map((m) => readFunction(device, fn, m));
        expect([fn.name, value, read.at(-1)]).toEqual([fn.name, value, value]);
      }
    }
  });

  it('refuses values just outside as a bug', () => {
    expect(() => messagesFor(device, snapshot, 3)).toThrow(RangeError);
    expect(() => messagesFor(device, volume, 19)).toThrow(RangeError);
    expect(() => messagesFor(device, volume, 111)).toThrow(RangeError);
    expect(takesValue(volume.shape, 20.5)).toBe(false);
  });

  it('does not read what is on another channel, nor a value that no choice has', () => {
    const [message] = messagesFor(device, elsewhere, 1);
    expect(readFunction(device, block, message!)).toBeNull();
    expect(
      readFunction(device, snapshot, { ...messagesFor(device, snapshot, 0)[0]!, value: 3 } as never),
    ).toBeNull();
  });
});

describe('as people see it', () => {
  it.each([
    [snapshot, 2, '3 Full'],
    [program, 13, '14 Bow wide'],
    [program, 0, '1'],
    [block, 1, 'on'],
    [volume, 20, '0'],
  ] as [ChartFunction, number, string][])('%# shows %s', (fn, value, wanted) => {
    expect(shownText(device, fn, value)).toBe(wanted);
  });

  it.each([
    [snapshot, '3', 2],
    [snapshot, 'full', 2],
    [snapshot, '3 Full', 2],
    [snapshot, ' 3   full ', 2],
    [snapshot, 'fu', 2],
    [program, 'wide', 13],
    [program, 'bow wide', 13],
    [program, '128', 127],
    [block, 'On', 1],
    [block, '0', 0],
    [volume, '90', 110],
  ] as [ChartFunction, string, number][])('%# reads %s', (fn, text, value) => {
    expect(parseShown(device, fn, text)).toEqual({ ok: true, value });
  });

  it.each([
    [snapshot, '0', 'out-of-range', '1 to 3'],
    [snapshot, '4', 'out-of-range', '1 to 3'],
    [program, '0', 'out-of-range', '1 to 128'],
    [program, '129', 'out-of-range', '1 to 128'],
    [block, 'perhaps', 'not-a-value', 'on or off'],
    [volume, '', 'not-a-value', '0 to 90'],
    [volume, '1/8', 'not-a-value', '0 to 90'],
    [volume, '60,5', 'not-a-value', '0 to 90'],
    [volume, '1e1', 'not-a-value', '0 to 90'],
    [volume, '12 loud', 'not-a-value', '0 to 90'],
    [program, '3b', 'not-a-value', '1 to 128'],
    [program, '03B', 'not-a-value', '1 to 128'],
    [snapshot, '2 Full', 'not-a-value', '1 to 3'],
    [snapshot, '-1', 'out-of-range', '1 to 3'],
  ] as [ChartFunction, string, string, string][])('%# refuses "%s"', (fn, text, code, expected) => {
    expect(parseShown(device, fn, text)).toEqual({ ok: false, error: { code, received: text, expected } });
    expect(expectedText(device, fn)).toBe(expected);
  });

  it('tells the names that fit where a part of one fits several', () => {
    const result = parseShown(device, snapshot, 'y');
    expect(result).toMatchObject({ ok: false, error: { expected: 'one of 1 Dry, 2 Body' } });
  });

  it('a number counts before a name that looks like another one', () => {
    const four = {
      ...snapshot,
      shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['2', '1', '8'] } as const,
    };
    expect(['1', '2', '2 1', '8', '1 2'].map((text) => parseShown(device, four, text))).toEqual(
      [0, 1, 1, 2, 0].map((value) => ({ ok: true, value })),
    );
    const named = { ...program, shape: { kind: 'program', names: [{ program: 0, name: '5' }] } as const };
    for (const value of [0, 4])
      expect(parseShown(device, named, shownText(device, named, value))).toEqual({ ok: true, value });
  });

  it('reads back every value that it shows', () => {
    fc.assert(
      fc.property(fc.constantFrom(snapshot, volume, program, block), fc.nat(127), (fn, n) => {
        const { min, max } = valueBounds(fn.shape);
        const value = min + (n % (max - min + 1));
        expect(parseShown(device, fn, shownText(device, fn, value))).toEqual({ ok: true, value });
      }),
      { seed: 41 },
    );
  });
});

it('says which kinds a drive goes with', () => {
  expect(shapeMismatch({ kind: 'controller', controller: 1 }, { kind: 'trigger', sent: 1 })).toBeNull();
  expect(shapeMismatch({ kind: 'transport', command: 'play' }, { kind: 'switch', off: 0, on: 1 })).toMatch(
    /trigger, not switch/,
  );
});
