import type { Message, RealTimeMessage } from './message';
import { channelBits, dataBits, joinBits } from './numbers';

/** What a byte stream held that was no message. `offset` counts bytes since the parser was made. */
export type StreamFault = {
  readonly code:
    | 'stray-data' // data with no status before it
    | 'incomplete' // a status came before the message was whole
    | 'undefined-status' // F4, F5, F9, FD
    | 'stray-end' // F7 with no F0 before it
    | 'unterminated-sysex' // a status other than F7 or real-time inside SysEx
    | 'sysex-too-long';
  readonly bytes: readonly number[];
  readonly offset: number;
};

export type StreamHandler = {
  message(message: Message): void;
  fault?(fault: StreamFault): void;
};

/** Longest SysEx kept, in bytes; a longer one is skipped and reported. */
export const SYSEX_LIMIT = 1 << 20;

const REAL_TIME: readonly (RealTimeMessage | null)[] = [
  { kind: 'clock' },
  null,
  { kind: 'start' },
  { kind: 'continue' },
  { kind: 'stop' },
  null,
  { kind: 'active-sensing' },
  { kind: 'reset' },
];

/**
 * Frames a raw MIDI byte stream into messages, however the bytes are cut into pieces.
 *
 * Running status, real-time bytes between any two bytes (also inside SysEx), stray data and broken messages are
 * handled; what cannot be a message is reported and skipped, and the next status byte starts afresh. Never throws.
 * Source: MIDI 1.0 Detailed Specification, "Running Status" and "System Exclusive".
 *
 * Example: `push([0xb2, 22, 1, 22, 0xfe, 2])` gives controller 22 = 1, active sensing, controller 22 = 2.
 */
export class StreamParser {
  /** Status whose data bytes are awaited; 0 is none; F0 inside SysEx. */
  private status = 0;
  private first = -1;
  private sysex: number[] = [];
  private sysexOverflow = false;
  private offset = 0;

  constructor(private readonly handler: StreamHandler) {}

  /** @param bytes whole numbers; anything outside 0–255 is reported as stray data. */
  push(bytes: ArrayLike<number>): void {
    for (let i = 0; i < bytes.length; i++) {
      const byte = bytes[i]!;
      if (byte < 0x80 && byte >= 0) this.data(byte);
      else if (byte >= 0xf8 && byte <= 0xff) this.realTime(byte);
      else if (byte >= 0x80 && byte < 0xf8) this.newStatus(byte);
      else this.fault('stray-data', [byte]);
      this.offset++;
    }
  }

  /** Forgets a half-received message, as after an unplugged cable; reports what was lost. */
  reset(): void {
    this.abandon();
    this.status = 0;
  }

  private data(byte: number): void {
    const status = this.status;
    if (status === 0xf0) {
      if (this.sysex.length < SYSEX_LIMIT) this.sysex.push(byte);
      else this.sysexOverflow = true;
      return;
    }
    if (status === 0) {
      this.fault('stray-data', [byte]);
      return;
    }
    if (status < 0xc0 || (status >= 0xe0 && status < 0xf0) || status === 0xf2) {
      if (this.first < 0) {
        this.first = byte;
        return;
      }
      const first = this.first;
      this.first = -1;
      this.handler.message(twoByteMessage(status, first, byte));
    } else {
      this.handler.message(oneByteMessage(status, byte));
    }
    if (status >= 0xf0) this.status = 0;
  }

  private realTime(byte: number): void {
    const message = REAL_TIME[byte - 0xf8];
    if (message) this.handler.message(message);
    else this.fault('undefined-status', [byte]);
  }

  private newStatus(byte: number): void {
    if (byte === 0xf7) {
      this.endOfSysex();
      return;
    }
    this.abandon();
    if (byte < 0xf4) {
      this.status = byte;
      return;
    }
    this.status = 0;
    if (byte === 0xf6) this.handler.message({ kind: 'tune-request' });
    else this.fault('undefined-status', [byte]);
  }

  private endOfSysex(): void {
    if (this.status === 0xf0) {
      if (this.sysexOverflow) this.fault('sysex-too-long', this.sysex.slice(0, 16));
      else this.handler.message({ kind: 'sysex', data: Uint8Array.from(this.sysex) });
      this.sysex = [];
      this.sysexOverflow = false;
    } else {
      this.abandon();
      this.fault('stray-end', [0xf7]);
    }
    this.status = 0;
  }

  /** Reports a message that a new status cut short. */
  private abandon(): void {
    if (this.status === 0xf0) {
      this.fault('unterminated-sysex', [0xf0, ...this.sysex.slice(0, 16)]);
      this.sysex = [];
      this.sysexOverflow = false;
    } else if (this.first >= 0) {
      this.fault('incomplete', [this.status, this.first]);
    } else if (this.status >= 0xf1) {
      this.fault('incomplete', [this.status]);
    }
    this.first = -1;
  }

  private fault(code: StreamFault['code'], bytes: readonly number[]): void {
    this.handler.fault?.({ code, bytes, offset: this.offset });
  }
}

/**
 * All messages and faults of some bytes, read as one stream.
 * Example: `parseBytes([0x93, 60, 100]).messages` is one note-on.
 */
export function parseBytes(bytes: ArrayLike<number>): { messages: Message[]; faults: StreamFault[] } {
  const messages: Message[] = [];
  const faults: StreamFault[] = [];
  const parser = new StreamParser({
    message: (m) => void messages.push(m),
    fault: (f) => void faults.push(f),
  });
  parser.push(bytes);
  parser.reset();
  return { messages, faults };
}

/**
 * The message of a number of `packMessage`, or `null` for 0.
 * @param packed only what `packMessage` gave: nothing is checked.
 */
export function unpackMessage(packed: number): Message | null {
  const status = (packed >>> 16) & 0xff;
  const first = (packed >>> 8) & 0xff;
  switch (packed >>> 24) {
    case 0:
      return null;
    case 1:
      return REAL_TIME[status - 0xf8] ?? { kind: 'tune-request' };
    case 2:
      return oneByteMessage(status, first);
    default:
      return twoByteMessage(status, first, packed & 0xff);
  }
}

function twoByteMessage(status: number, a: number, b: number): Message {
  const channel = channelBits(status);
  switch (status & 0xf0) {
    case 0x80:
      return { kind: 'note-off', channel, note: dataBits(a), velocity: dataBits(b) };
    case 0x90:
      return { kind: 'note-on', channel, note: dataBits(a), velocity: dataBits(b) };
    case 0xa0:
      return { kind: 'poly-pressure', channel, note: dataBits(a), pressure: dataBits(b) };
    case 0xb0:
      return { kind: 'controller', channel, controller: dataBits(a), value: dataBits(b) };
    case 0xe0:
      return { kind: 'pitch-bend', channel, value: joinBits(b, a) };
    default:
      return { kind: 'song-position', sixteenths: joinBits(b, a) };
  }
}

function oneByteMessage(status: number, a: number): Message {
  const channel = channelBits(status);
  switch (status & 0xf0) {
    case 0xc0:
      return { kind: 'program', channel, program: dataBits(a) };
    case 0xd0:
      return { kind: 'channel-pressure', channel, pressure: dataBits(a) };
    default:
      return status === 0xf1
        ? { kind: 'quarter-frame', data: dataBits(a) }
        : { kind: 'song-select', song: dataBits(a) };
  }
}
