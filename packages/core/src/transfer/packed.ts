import { fail, ok, type Result } from '../result';
import { nth } from '../sure';

/** Bytes that go together under one byte of their high bits. */
const GROUP = 7;

/**
 * Bytes of eight bits as data bytes of seven: up to seven of them behind one that has their high bits, that of the first
 * in bit 6. Source: MIDI 1.0, "File Dump", data packing (from memory).
 *
 * @param bytes 0–255 each.
 * Example: `80 01` is `40 00 01`.
 */
export function packed(bytes: ArrayLike<number>): number[] {
  const data: number[] = [];
  for (let from = 0; from < bytes.length; from += GROUP) {
    const count = Math.min(GROUP, bytes.length - from);
    let high = 0;
    for (let i = 0; i < count; i++) if (nth(bytes, from + i) & 0x80) high |= 0x40 >> i;
    data.push(high);
    for (let i = 0; i < count; i++) data.push(nth(bytes, from + i) & 0x7f);
  }
  return data;
}

/** How many data bytes so many bytes become. */
export const packedLength = (count: number): number => count + Math.ceil(count / GROUP);

/** The bytes that were packed, or what is wrong with the data. */
export function unpacked(data: ArrayLike<number>): Result<Uint8Array, string> {
  const bytes: number[] = [];
  for (let from = 0; from < data.length; from += GROUP + 1) {
    const count = Math.min(GROUP, data.length - from - 1);
    if (count === 0) return fail(`The byte at place ${from + 1} has the high bits of nothing.`);
    const high = nth(data, from);
    if (high & ~((0x7f << (GROUP - count)) & 0x7f))
      return fail(`The byte at place ${from + 1} has high bits of bytes that are not there.`);
    for (let i = 0; i < count; i++) bytes.push(nth(data, from + 1 + i) | (high & (0x40 >> i) ? 0x80 : 0));
  }
  return ok(Uint8Array.from(bytes));
}
