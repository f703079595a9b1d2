import { assertNever } from '../result';
import type { Message } from './message';

/** Status bytes. Source: MIDI 1.0 Detailed Specification, tables I–VI. */
export const STATUS = {
  noteOff: 0x80,
  noteOn: 0x90,
  polyPressure: 0xa0,
  controller: 0xb0,
  program: 0xc0,
  channelPressure: 0xd0,
  pitchBend: 0xe0,
  sysex: 0xf0,
  quarterFrame: 0xf1,
  songPosition: 0xf2,
  songSelect: 0xf3,
  tuneRequest: 0xf6,
  endOfSysex: 0xf7,
  clock: 0xf8,
  start: 0xfa,
  continue: 0xfb,
  stop: 0xfc,
  activeSensing: 0xfe,
  reset: 0xff,
} as const;

/**
 * A message as one number: how many bytes it has (1–3) in the highest byte, then the bytes, status first; what is not there
 * is 0. Example: `packMessage(program(11, 6))` is `0x02cb0600`.
 * @returns 0 for a SysEx, which does not fit.
 */
export function packMessage(message: Message): number {
  switch (message.kind) {
    case 'note-off':
      return packed(3, STATUS.noteOff | message.channel, message.note, message.velocity);
    case 'note-on':
      return packed(3, STATUS.noteOn | message.channel, message.note, message.velocity);
    case 'poly-pressure':
      return packed(3, STATUS.polyPressure | message.channel, message.note, message.pressure);
    case 'controller':
      return packed(3, STATUS.controller | message.channel, message.controller, message.value);
    case 'program':
      return packed(2, STATUS.program | message.channel, message.program);
    case 'channel-pressure':
      return packed(2, STATUS.channelPressure | message.channel, message.pressure);
    case 'pitch-bend':
      return packed(3, STATUS.pitchBend | message.channel, message.value & 0x7f, message.value >> 7);
    case 'sysex':
      return 0;
    case 'quarter-frame':
      return packed(2, STATUS.quarterFrame, message.data);
    case 'song-position':
      return packed(3, STATUS.songPosition, message.sixteenths & 0x7f, message.sixteenths >> 7);
    case 'song-select':
      return packed(2, STATUS.songSelect, message.song);
    case 'tune-request':
      return packed(1, STATUS.tuneRequest);
    case 'clock':
      return packed(1, STATUS.clock);
    case 'start':
      return packed(1, STATUS.start);
    case 'continue':
      return packed(1, STATUS.continue);
    case 'stop':
      return packed(1, STATUS.stop);
    case 'active-sensing':
      return packed(1, STATUS.activeSensing);
    case 'reset':
      return packed(1, STATUS.reset);
    default:
      return assertNever(message);
  }
}

const packed = (length: number, status: number, first = 0, second = 0): number =>
  ((length << 24) | (status << 16) | (first << 8) | second) >>> 0;

/**
 * The complete bytes of one message, status byte first, SysEx with its F0 and F7.
 * Example: `encode(controller(2, 22, 2))` is `[0xb2, 0x16, 0x02]`.
 */
export function encode(message: Message): number[] {
  if (message.kind === 'sysex') return [STATUS.sysex, ...message.data, STATUS.endOfSysex];
  const number = packMessage(message);
  const status = (number >>> 16) & 0xff;
  switch (number >>> 24) {
    case 1:
      return [status];
    case 2:
      return [status, (number >>> 8) & 0xff];
    default:
      return [status, (number >>> 8) & 0xff, number & 0xff];
  }
}

/** How many bytes `encode` gives for a message, without making them. */
export const byteLength = (message: Message): number =>
  message.kind === 'sysex' ? message.data.length + 2 : packMessage(message) >>> 24;

/**
 * The bytes of a run of messages as a DIN link carries them: a channel status equal to the one before is left
 * out; system common and SysEx end running status; real-time leaves it as it is.
 * Source: MIDI 1.0 Detailed Specification, "Running Status".
 */
export function encodeRunning(messages: readonly Message[]): number[] {
  const out: number[] = [];
  let running = 0;
  for (const message of messages) {
    const bytes = encode(message);
    const status = bytes[0]!;
    if (status < STATUS.sysex) {
      for (let i = status === running ? 1 : 0; i < bytes.length; i++) out.push(bytes[i]!);
      running = status;
    } else {
      for (const b of bytes) out.push(b);
      if (status < STATUS.clock) running = 0;
    }
  }
  return out;
}

/** Two hexadecimal digits a byte, in capitals. Example: `hex([0xb2, 22, 2])` is `B2 16 02`. */
export function hex(bytes: ArrayLike<number>): string {
  let out = '';
  for (let i = 0; i < bytes.length; i++) {
    if (i > 0) out += ' ';
    out += bytes[i]!.toString(16).toUpperCase().padStart(2, '0');
  }
  return out;
}
