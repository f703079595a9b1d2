import { assertNever } from '../result';
import type { Message } from './message';

/** Status bytes. Source: MIDI 1.0 Detailed Specification, tables I–VI (from memory). */
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
 * The complete bytes of one message, status byte first, SysEx with its F0 and F7.
 * Example: `encode(controller(2, 22, 2))` is `[0xb2, 0x16, 0x02]`.
 */
export function encode(message: Message): number[] {
  switch (message.kind) {
    case 'note-off':
      return [STATUS.noteOff | message.channel, message.note, message.velocity];
    case 'note-on':
      return [STATUS.noteOn | message.channel, message.note, message.velocity];
    case 'poly-pressure':
      return [STATUS.polyPressure | message.channel, message.note, message.pressure];
    case 'controller':
      return [STATUS.controller | message.channel, message.controller, message.value];
    case 'program':
      return [STATUS.program | message.channel, message.program];
    case 'channel-pressure':
      return [STATUS.channelPressure | message.channel, message.pressure];
    case 'pitch-bend':
      return [STATUS.pitchBend | message.channel, message.value & 0x7f, message.value >> 7];
    case 'sysex':
      return [STATUS.sysex, ...message.data, STATUS.endOfSysex];
    case 'quarter-frame':
      return [STATUS.quarterFrame, message.data];
    case 'song-position':
      return [STATUS.songPosition, message.sixteenths & 0x7f, message.sixteenths >> 7];
    case 'song-select':
      return [STATUS.songSelect, message.song];
    case 'tune-request':
      return [STATUS.tuneRequest];
    case 'clock':
      return [STATUS.clock];
    case 'start':
      return [STATUS.start];
    case 'continue':
      return [STATUS.continue];
    case 'stop':
      return [STATUS.stop];
    case 'active-sensing':
      return [STATUS.activeSensing];
    case 'reset':
      return [STATUS.reset];
    default:
      return assertNever(message);
  }
}

/** How many bytes `encode` gives for a message, without making them. */
export function byteLength(message: Message): number {
  switch (message.kind) {
    case 'note-off':
    case 'note-on':
    case 'poly-pressure':
    case 'controller':
    case 'pitch-bend':
    case 'song-position':
      return 3;
    case 'program':
    case 'channel-pressure':
    case 'quarter-frame':
    case 'song-select':
      return 2;
    case 'sysex':
      return message.data.length + 2;
    default:
      return 1;
  }
}

/**
 * The bytes of a run of messages as a DIN link carries them: a channel status equal to the one before is left
 * out; system common and SysEx end running status; real-time leaves it as it is.
 * Source: MIDI 1.0 Detailed Specification, "Running Status" (from memory).
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
