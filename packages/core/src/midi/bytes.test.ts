import fc from 'fast-check';
import { createRequire } from 'node:module';
import { describe, expect, it } from 'vitest';
import { anyMessage } from './arbitraries.test-support';
import {
  byteLength,
  controller,
  encode,
  encodeRunning,
  hex,
  noteOff,
  noteOn,
  packMessage,
  parseBytes,
  pitchBend,
  polyPressure,
  program,
  channelPressure,
  quarterFrame,
  realTime,
  songPosition,
  songSelect,
  sysex,
  tuneRequest,
  unpackMessage,
  MidiRangeError,
  type Message,
} from './index';

// Source of the byte values: MIDI 1.0 Detailed Specification, tables I–VI (from memory).
const PUBLISHED: [string, Message, string][] = [
  ['note off', noteOff(0, 60, 64), '80 3C 40'],
  ['note on', noteOn(9, 36, 127), '99 24 7F'],
  ['poly pressure', polyPressure(15, 127, 1), 'AF 7F 01'],
  ['controller', controller(2, 22, 2), 'B2 16 02'],
  ['program', program(11, 6), 'CB 06'],
  ['channel pressure', channelPressure(3, 100), 'D3 64'],
  ['pitch bend at rest', pitchBend(0, 8192), 'E0 00 40'],
  ['pitch bend lowest', pitchBend(0, 0), 'E0 00 00'],
  ['pitch bend highest', pitchBend(0, 16383), 'E0 7F 7F'],
  ['quarter frame', quarterFrame(0x71), 'F1 71'],
  ['song position, LSB first', songPosition(129), 'F2 01 01'],
  ['song position highest', songPosition(16383), 'F2 7F 7F'],
  ['song select', songSelect(5), 'F3 05'],
  ['tune request', tuneRequest, 'F6'],
  ['identity request', sysex([0x7e, 0x7f, 0x06, 0x01]), 'F0 7E 7F 06 01 F7'],
  ['clock', realTime('clock'), 'F8'],
  ['start', realTime('start'), 'FA'],
  ['continue', realTime('continue'), 'FB'],
  ['stop', realTime('stop'), 'FC'],
  ['active sensing', realTime('active-sensing'), 'FE'],
  ['reset', realTime('reset'), 'FF'],
];

describe('message bytes', () => {
  it.each(PUBLISHED)('%s both ways', (_name, message, bytes) => {
    expect(hex(encode(message))).toBe(bytes);
    expect(parseBytes(encode(message))).toEqual({ messages: [message], faults: [] });
  });

  it('refuses numbers just outside the standard', () => {
    for (const build of [
      () => controller(16, 0, 0),
      () => controller(-1, 0, 0),
      () => controller(0, 128, 0),
      () => controller(0, 0, 128),
      () => program(0, 1.5),
      () => pitchBend(0, 16384),
      () => songPosition(-1),
      () => sysex([0x80]),
    ])
      expect(build).toThrow(MidiRangeError);
  });

  it('decode of encode is the same message', () => {
    fc.assert(
      fc.property(anyMessage, (message) => {
        expect(parseBytes(encode(message))).toEqual({ messages: [message], faults: [] });
        expect(byteLength(message)).toBe(encode(message).length);
        const fits = message.kind !== 'sysex';
        expect(unpackMessage(packMessage(message))).toEqual(fits ? message : null);
        expect(packMessage(message) >>> 24).toBe(fits ? encode(message).length : 0);
      }),
      { seed: 11, numRuns: 2000 },
    );
  });

  it('decode of running status is the same messages', () => {
    fc.assert(
      fc.property(fc.array(anyMessage, { maxLength: 30 }), (messages) => {
        expect(parseBytes(encodeRunning(messages))).toEqual({ messages, faults: [] });
      }),
      { seed: 12, numRuns: 500 },
    );
  });

  it('running status saves a status byte, and SysEx ends it', () => {
    const cc = controller(0, 7, 1);
    expect(hex(encodeRunning([cc, cc, realTime('clock'), cc]))).toBe('B0 07 01 07 01 F8 07 01');
    expect(hex(encodeRunning([cc, sysex([]), cc]))).toBe('B0 07 01 F0 F7 B0 07 01');
  });
});

describe('a general-purpose library reads the same', () => {
  // Witness: jzz 1.9.6. It builds messages itself, so the bytes are compared and not only read back.
  const JZZ = createRequire(import.meta.url)('jzz') as {
    MIDI: Record<string, (...args: number[]) => ArrayLike<number>>;
  };
  it.each([
    ['noteOn', [4, 61, 99], noteOn(4, 61, 99)],
    ['noteOff', [4, 61, 10], noteOff(4, 61, 10)],
    ['aftertouch', [4, 61, 10], polyPressure(4, 61, 10)],
    ['control', [2, 22, 2], controller(2, 22, 2)],
    ['program', [2, 13], program(2, 13)],
    ['pressure', [2, 13], channelPressure(2, 13)],
    ['pitchBend', [7, 12345], pitchBend(7, 12345)],
    ['songPosition', [1234], songPosition(1234)],
    ['songSelect', [12], songSelect(12)],
    ['clock', [], realTime('clock')],
    ['start', [], realTime('start')],
    ['continue', [], realTime('continue')],
    ['stop', [], realTime('stop')],
    ['active', [], realTime('active-sensing')],
    ['reset', [], realTime('reset')],
  ] as [string, number[], Message][])('%s', (name, args, message) => {
    expect(encode(message)).toEqual(Array.from(JZZ.MIDI[name]!(...args)));
  });
});
