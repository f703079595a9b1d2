import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyChannelMessage, anyMessage } from './arbitraries.test-support';
import {
  controller,
  encode,
  noteOn,
  parseBytes,
  program,
  realTime,
  StreamParser,
  sysex,
  SYSEX_LIMIT,
} from './index';
import type { Message, StreamFault } from './index';

/** Reads the bytes in the given pieces. */
function parsePieces(pieces: readonly (readonly number[])[]): { messages: Message[]; faults: StreamFault[] } {
  const messages: Message[] = [];
  const faults: StreamFault[] = [];
  const parser = new StreamParser({ message: (m) => messages.push(m), fault: (f) => faults.push(f) });
  for (const piece of pieces) parser.push(piece);
  parser.reset();
  return { messages, faults };
}

describe('stream parser', () => {
  it('keeps running status over real-time bytes between any two bytes', () => {
    expect(parseBytes([0xb2, 0xfe, 22, 0xf8, 1, 0xfe, 22, 2]).messages).toEqual([
      realTime('active-sensing'),
      realTime('clock'),
      controller(2, 22, 1),
      realTime('active-sensing'),
      controller(2, 22, 2),
    ]);
  });

  it('lets real-time bytes through inside SysEx without breaking it', () => {
    expect(parseBytes([0xf0, 0x7d, 0xf8, 1, 0xff, 2, 0xf7])).toEqual({
      messages: [realTime('clock'), realTime('reset'), sysex([0x7d, 1, 2])],
      faults: [],
    });
  });

  it.each([
    ['system common', [0xf6]],
    ['SysEx', [0xf0, 0xf7]],
  ])('ends running status at %s', (_name, between) => {
    const { faults } = parseBytes([0xb0, 7, 1, ...between, 7, 2]);
    expect(faults.map((f) => [f.code, f.bytes])).toEqual([
      ['stray-data', [7]],
      ['stray-data', [2]],
    ]);
  });

  it.each([
    ['stray data', [12, 0xc0, 3], [program(0, 3)], [{ code: 'stray-data', bytes: [12], offset: 0 }]],
    [
      'a message cut short',
      [0x90, 60, 0xc0, 3],
      [program(0, 3)],
      [{ code: 'incomplete', bytes: [0x90, 60], offset: 2 }],
    ],
    [
      'undefined status F4',
      [0xf4, 0xc0, 3],
      [program(0, 3)],
      [{ code: 'undefined-status', bytes: [0xf4], offset: 0 }],
    ],
    ['undefined status F5', [0xf5], [], [{ code: 'undefined-status', bytes: [0xf5], offset: 0 }]],
    [
      'undefined real-time F9',
      [0x90, 60, 0xf9, 1],
      [noteOn(0, 60, 1)],
      [{ code: 'undefined-status', bytes: [0xf9], offset: 2 }],
    ],
    ['undefined real-time FD', [0xfd], [], [{ code: 'undefined-status', bytes: [0xfd], offset: 0 }]],
    ['F7 alone', [0xf7, 0xc0, 3], [program(0, 3)], [{ code: 'stray-end', bytes: [0xf7], offset: 0 }]],
    [
      'SysEx ended by a status',
      [0xf0, 1, 2, 0xc0, 3],
      [program(0, 3)],
      [{ code: 'unterminated-sysex', bytes: [0xf0, 1, 2], offset: 3 }],
    ],
    ['SysEx never ended', [0xf0, 1], [], [{ code: 'unterminated-sysex', bytes: [0xf0, 1], offset: 2 }]],
    ['song select without data', [0xf3], [], [{ code: 'incomplete', bytes: [0xf3], offset: 1 }]],
    [
      'a number that is no byte',
      [256, 0xc0, 3],
      [program(0, 3)],
      [{ code: 'stray-data', bytes: [256], offset: 0 }],
    ],
  ] as [string, number[], Message[], StreamFault[]][])(
    'reports %s and goes on',
    (_name, bytes, messages, faults) => {
      expect(parseBytes(bytes)).toEqual({ messages, faults });
    },
  );

  it('keeps a SysEx of the longest length and refuses one byte more', () => {
    const bytes = (length: number) => [0xf0, ...new Array<number>(length).fill(1), 0xf7];
    expect(parseBytes(bytes(SYSEX_LIMIT)).messages).toHaveLength(1);
    const over = parseBytes([...bytes(SYSEX_LIMIT + 1), 0xc0, 3]);
    expect(over.messages).toEqual([program(0, 3)]);
    expect(over.faults.map((f) => f.code)).toEqual(['sysex-too-long']);
  });

  it('never throws on any bytes, and accounts for what is no message', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (bytes) => {
        const { messages, faults } = parseBytes(bytes);
        expect(messages.length + faults.length).toBeGreaterThanOrEqual(
          bytes.length > 0 && bytes[0]! < 0x80 ? 1 : 0,
        );
        for (const m of messages) expect(encode(m).length).toBeGreaterThan(0);
      }),
      { seed: 21, numRuns: 3000 },
    );
  });

  it('never loses a well-formed message that follows any bytes whatever', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 60 }),
        fc.array(anyMessage, { minLength: 1, maxLength: 8 }),
        (junk, wanted) => {
          const bytes = [...junk, 0xf7, ...wanted.flatMap((m) => encode(m))];
          expect(parseBytes(bytes).messages.slice(-wanted.length)).toEqual(wanted);
        },
      ),
      { seed: 22, numRuns: 1500 },
    );
  });

  it('cutting the stream at any place changes nothing', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(anyMessage.map(encode), fc.array(fc.integer({ min: 0, max: 255 }), { maxLength: 4 })),
          { maxLength: 20 },
        ),
        fc.array(fc.nat(400), { maxLength: 10 }),
        (chunks, cuts) => {
          const bytes = chunks.flat();
          const places = [0, ...cuts.map((c) => c % (bytes.length + 1)).sort((a, b) => a - b), bytes.length];
          const pieces = places.slice(1).map((end, i) => bytes.slice(places[i], end));
          expect(parsePieces(pieces)).toEqual(parseBytes(bytes));
        },
      ),
      { seed: 23, numRuns: 1500 },
    );
  });

  it('real-time bytes put anywhere change no other message', () => {
    fc.assert(
      fc.property(
        fc.array(anyChannelMessage, { maxLength: 10 }),
        fc.array(fc.nat(100), { maxLength: 10 }),
        (messages, places) => {
          const bytes = messages.flatMap((m) => encode(m));
          for (const p of places) bytes.splice(p % (bytes.length + 1), 0, 0xf8);
          expect(parseBytes(bytes).messages.filter((m) => m.kind !== 'clock')).toEqual(messages);
        },
      ),
      { seed: 24, numRuns: 500 },
    );
  });
});
