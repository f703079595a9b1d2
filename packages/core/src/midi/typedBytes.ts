import { parseBytes } from './streamParser';
import { there } from '../sure';

/** Bytes typed as hexadecimal pairs, with or without spaces; or a sentence about what is none. */
export function parseTypedBytes(text: string): number[] | string {
  const bare = text.replace(/[\s,]+/g, '');
  if (bare === '') return 'There are no bytes yet; 90 3C 64 would be right.';
  const wrong = /[^0-9a-f]/i.exec(bare);
  if (wrong) return `“${wrong[0]}” is no hexadecimal digit; bytes are pairs of 0 to 9 and A to F.`;
  if (bare.length % 2 === 1) return 'The last byte has one digit only; each has two.';
  return there(bare.match(/../g)).map((pair) => parseInt(pair, 16));
}

/** Typed bytes that are whole messages, and nothing left over; or a sentence about what is wrong. */
export function parseWholeMessages(text: string): number[] | string {
  const bytes = parseTypedBytes(text);
  if (typeof bytes === 'string') return bytes;
  const { messages, faults } = parseBytes(bytes);
  return messages.length > 0 && faults.length === 0
    ? bytes
    : 'These bytes are no whole message; F0 7D 01 F7 or B0 0E 00 would be right.';
}
