import { fail, ok, type Result } from '../result';
import { keysOf, nth } from '../sure';
import { packed, unpacked } from './packed';

/**
 * A dump in frames of our own, as system exclusive for non-commercial use (`7D`): `docs/board-dump.md` has it byte by byte.
 * All are the data between `F0` and `F7`.
 */

/** Source: MIDI 1.0 Detailed Specification: manufacturer `7D` is free for non-commercial use. */
const NON_COMMERCIAL = 0x7d;
/** Says that it is this format. */
const SIGN = [NON_COMMERCIAL, 0x49, 0x53] as const;
const KINDS = {
  request: 0x01,
  head: 0x02,
  packet: 0x03,
  store: 0x04,
  'ask-state': 0x05,
  state: 0x06,
} as const;

/** Bytes of a packet before they are packed. With what stands around it a packet takes 44 ms on a DIN link. */
export const PACKET_BYTES = 112;

export type DumpFrame =
  /** Asks for all that is in the memory. */
  | { readonly kind: 'request'; readonly device: number }
  /** How many bytes come, and what they come to as CRC-32. */
  | { readonly kind: 'head'; readonly device: number; readonly length: number; readonly crc: number }
  /** Packets are numbered from 1, the head is 0; in the frame stand the lowest seven bits. */
  | {
      readonly kind: 'packet';
      readonly device: number;
      readonly number: number;
      readonly bytes: Uint8Array;
    }
  /** Keeps what was received, also when power goes. */
  | { readonly kind: 'store'; readonly device: number }
  /** Asks what the board holds. */
  | { readonly kind: 'ask-state'; readonly device: number }
  | ({ readonly kind: 'state'; readonly device: number } & Held);

/** What a board holds: what it plays by, and what it keeps when power goes, each as CRC-32; `null` for none. */
export type Held = { readonly working: number | null; readonly stored: number | null };

/** All bytes together by exclusive or; 0–127. */
export const xorOf = (data: ArrayLike<number>): number => {
  let sum = 0;
  for (let i = 0; i < data.length; i++) sum ^= nth(data, i);
  return sum & 0x7f;
};

const septets = (value: number, count: number): number[] =>
  Array.from({ length: count }, (_, i) => Math.floor(value / 128 ** i) & 0x7f);
const ofSeptets = (data: readonly number[]): number => data.reduce((sum, d, i) => sum + d * 128 ** i, 0);

/** One byte that says whether there is one, then its five. */
const septetsOrNone = (crc: number | null): number[] => [crc === null ? 0 : 1, ...septets(crc ?? 0, 5)];
const ofSeptetsOrNone = (data: readonly number[]): number | null =>
  data[0] === 0 ? null : ofSeptets(data.slice(1));

export function dumpFrame(frame: DumpFrame): number[] {
  const body = [frame.device, KINDS[frame.kind], ...contentOf(frame)];
  return [...SIGN, ...body, xorOf(body)];
}

function contentOf(frame: DumpFrame): number[] {
  switch (frame.kind) {
    case 'request':
    case 'store':
    case 'ask-state':
      return [];
    case 'state':
      return [...septetsOrNone(frame.working), ...septetsOrNone(frame.stored)];
    case 'head':
      return [...septets(frame.length, 4), ...septets(frame.crc, 5)];
    case 'packet':
      return [frame.number & 0x7f, ...packed(frame.bytes)];
  }
}

/** A frame of a dump: `null` for other data, and what is wrong with one that was damaged. */
export function readDumpFrame(data: ArrayLike<number>): Result<DumpFrame, string> | null {
  const bytes = Array.from(data);
  if (SIGN.some((byte, i) => bytes[i] !== byte)) return null;
  const body = bytes.slice(SIGN.length, -1);
  const [device, code, ...content] = body;
  if (device === undefined || code === undefined) return fail('The frame is cut off.');
  if (xorOf(body) !== bytes.at(-1)) return fail('The checksum does not agree with the bytes.');
  const kind = keysOf(KINDS).find((k) => KINDS[k] === code);
  switch (kind) {
    case 'request':
    case 'store':
    case 'ask-state':
      return content.length === 0 ? ok({ kind, device }) : fail('The frame is too long.');
    case 'head':
      return content.length === 9
        ? ok({ kind, device, length: ofSeptets(content.slice(0, 4)), crc: ofSeptets(content.slice(4)) })
        : fail('The head has not its nine bytes.');
    case 'state':
      return content.length === 12
        ? ok({
            kind,
            device,
            working: ofSeptetsOrNone(content.slice(0, 6)),
            stored: ofSeptetsOrNone(content.slice(6)),
          })
        : fail('The state has not its twelve bytes.');
    case 'packet': {
      const read = unpacked(content.slice(1));
      if (content.length < 1 || !read.ok) return fail(read.ok ? 'The packet has no number.' : read.error);
      return ok({ kind, device, number: nth(content, 0), bytes: read.value });
    }
    case undefined:
      return fail(`There is no kind of frame ${code}.`);
  }
}

/** CRC-32 of bytes, 0 to 2^32 − 1. Source: ISO 3309, as in gzip (RFC 1952, section 8). */
export function crc32(bytes: ArrayLike<number>): number {
  let crc = 0xffffffff;
  for (let i = 0; i < bytes.length; i++) {
    crc ^= nth(bytes, i);
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return (crc ^ 0xffffffff) >>> 0;
}
