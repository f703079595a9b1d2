import { describe, expect, it } from 'vitest';
import {
  byteWords,
  channelPressure,
  controller,
  describeKind,
  describeMessage,
  endsNote,
  machineMessage,
  noteOff,
  noteOn,
  pitchBend,
  polyPressure,
  program,
  quarterFrame,
  realTime,
  songPosition,
  songSelect,
  standardName,
  sysex,
  tuneRequest,
  type Message,
} from './index';

describe('messages in words, in people’s numbering', () => {
  it.each([
    [controller(2, 22, 2), 'Ch 3 CC 22 = 2'],
    [program(11, 6), 'Ch 12 program 6'],
    [noteOn(0, 60, 100), 'Ch 1 note 60 C3 on, velocity 100'],
    [noteOff(15, 61), 'Ch 16 note 61 C♯3 off'],
    [polyPressure(0, 60, 5), 'Ch 1 pressure 60 C3 = 5'],
    [channelPressure(4, 9), 'Ch 5 pressure = 9'],
    [pitchBend(0, 8192), 'Ch 1 bend 0'],
    [pitchBend(0, 16383), 'Ch 1 bend +8191'],
    [pitchBend(0, 0), 'Ch 1 bend −8192'],
    [sysex([0x7d, 1, 2]), 'SysEx, 5 bytes'],
    [machineMessage({ kind: 'transport', machine: 127, command: 'fast-forward' }), 'Machine fast forward'],
    [machineMessage({ kind: 'record-ready', machine: 127, track: 4, armed: false }), 'Track 4 not armed'],
    [
      machineMessage({ kind: 'locate', machine: 127, rate: 30, hours: 1, minutes: 2, seconds: 3, frames: 4 }),
      'Machine locate 01:02:03:04',
    ],
    [sysex([0x7f, 0x7f, 6, 0x41, 4, 0x4f, 0, 0x60, 0x60]), 'Track 1 armed, Track 2 armed'],
    [quarterFrame(5), 'Time code quarter frame 5'],
    [songPosition(16), 'Song position 16'],
    [songSelect(3), 'Song select 3'],
    [tuneRequest, 'Tune request'],
    [realTime('clock'), 'Clock'],
    [realTime('start'), 'Start'],
    [realTime('continue'), 'Continue'],
    [realTime('stop'), 'Stop'],
    [realTime('active-sensing'), 'Active sensing'],
    [realTime('reset'), 'Reset'],
  ] as [Message, string][])('%#: %s', (message, words) => expect(describeMessage(message, 3)).toBe(words));

  it('names notes as the rig does', () =>
    expect(describeMessage(noteOff(0, 60), 5)).toBe('Ch 1 note 60 C5 off'));
  it('knows the standard’s own name of a controller, and of nothing else', () => {
    expect([
      standardName(controller(0, 7, 1)),
      standardName(controller(0, 3, 1)),
      standardName(program(0, 7)),
    ]).toEqual(['Volume', null, null]);
  });
});

describe('each byte in a word or two', () => {
  // Source: MIDI 1.0 Detailed Specification, table of channel messages (from memory); C3 is note 60 here.
  it.each([
    [
      [0x90, 60, 100],
      ['note on, ch 1', 'C3', 'velocity 100'],
    ],
    [
      [0x8f, 61, 64],
      ['note off, ch 16', 'C♯3', 'velocity 64'],
    ],
    [
      [0xb2, 22, 7, 0xc2, 3],
      ['CC, ch 3', 'CC 22', 'value 7', 'prog, ch 3', 'program 3'],
    ],
    [
      [0xe0, 0, 64],
      ['bend, ch 1', 'fine', 'coarse'],
    ],
    [
      [0xd4, 90],
      ['pressure, ch 5', 'value 90'],
    ],
    [
      [0xf0, 0x7d, 1, 0xf7, 0xfa],
      ['SysEx', 'data', 'data', 'end', 'timing'],
    ],
  ] as const)('%j', (bytes, words) => expect(byteWords(bytes, 3)).toEqual(words));
});

it.each([
  [noteOff(0, 60, 64), true],
  // Source: MIDI 1.0 Detailed Specification, "Note Off": a note-on with velocity 0 is one.
  [noteOn(0, 60, 0), true],
  [noteOn(0, 60, 1), false],
  [controller(0, 60, 0), false],
])('whether %o ends a note: %s', (message, ends) => expect(endsNote(message)).toBe(ends));

it.each([
  [noteOn(2, 36, 90), 'note-on', 36, 90],
  [noteOff(2, 36), 'note-on', 36, 0],
  [polyPressure(0, 40, 7), 'poly-pressure', 40, 7],
  [controller(2, 22, 2), 'controller', 22, 2],
  [program(2, 5), 'program', null, 5],
  [channelPressure(0, 9), 'channel-pressure', null, 9],
  [pitchBend(0, 8192), 'pitch-bend', null, 8192],
  [songPosition(12), 'song-position', null, 12],
  [realTime('clock'), 'clock', null, 0],
])('what %o is about', (message, kind, number, value) =>
  expect(describeKind(message)).toEqual({ kind, number, value }),
);
