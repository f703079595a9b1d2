import { fail, ok, type Result } from '../../result';
import { lastOf, nth, there } from '../../sure';

/**
 * A SysEx message with places for values, as text: hexadecimal pairs and places, with spaces between.
 *
 * - `value`: the value, 7 bits; `value-high` and `value-low`: its two halves where it has 14.
 * - `channel`: the channel of the function, 0–15.
 * - `unit=10`: a byte with a name of one's own, here 10 (hexadecimal).
 * - `sum:3`: two's complement of the sum of all bytes from the 3rd on (F0 is the 1st); `xor:3`: their exclusive or.
 *
 * Example: `F0 7D unit=10 22 value sum:3 F7`. Both checksum rules are common
 * practice, no source.
 */
export type TemplatePart =
  | { readonly kind: 'byte'; readonly byte: number; readonly name: string | null }
  | { readonly kind: 'value'; readonly half: 'whole' | 'high' | 'low' }
  | { readonly kind: 'channel' }
  /** `from` counts from 0, F0 being 0. */
  | { readonly kind: 'checksum'; readonly rule: 'sum' | 'xor'; readonly from: number };

export type TemplateError = {
  readonly code: 'ends' | 'token' | 'byte-range' | 'checksum-start' | 'halves' | 'empty';
  /** Which piece, from 1. */
  readonly place: number;
  readonly received: string;
  /** A whole sentence. */
  readonly sentence: string;
};

/** Errors: see `TemplateError`. Example: `F0 7D value F7` is three bytes and a place. */
export function parseTemplate(text: string): Result<readonly TemplatePart[], TemplateError> {
  const tokens = text.trim().split(/\s+/).filter(Boolean);
  const refuse = (code: TemplateError['code'], index: number, sentence: string) =>
    fail({ code, place: index + 1, received: tokens[index] ?? '', sentence });
  if (tokens.length < 3)
    return refuse('empty', 0, 'A SysEx template has at least F0, one byte, and F7, like F0 7D value F7.');
  if (nth(tokens, 0).toUpperCase() !== 'F0' || lastOf(tokens).toUpperCase() !== 'F7')
    return refuse('ends', 0, 'A SysEx template begins with F0 and ends with F7.');
  const parts: TemplatePart[] = [];
  for (let i = 0; i < tokens.length; i++) {
    const isEnd = i === 0 || i === tokens.length - 1;
    const part = parsePart(nth(tokens, i));
    if (!part)
      return refuse(
        'token',
        i,
        `“${nth(tokens, i)}” at place ${i + 1} is no byte and no place; a pair like 7F, value, channel, unit=10 or sum:3 would be right.`,
      );
    if (part.kind === 'byte' && !isEnd && part.byte > 0x7f)
      return refuse(
        'byte-range',
        i,
        `${nth(tokens, i)} at place ${i + 1} is above 7F, so it would end the SysEx.`,
      );
    if (part.kind === 'checksum' && (part.from < 1 || part.from >= i))
      return refuse(
        'checksum-start',
        i,
        `The checksum at place ${i + 1} counts from byte ${part.from + 1}; 2 to ${i} would be right.`,
      );
    parts.push(part);
  }
  const halves = new Set(parts.flatMap((p) => (p.kind === 'value' ? p.half : [])));
  if (halves.has('high') !== halves.has('low') || (halves.has('high') && halves.has('whole')))
    return refuse(
      'halves',
      0,
      'A value of 14 bits needs value-high and value-low, and no value beside them.',
    );
  return ok(parts);
}

/** The data between F0 and F7. `value` has to be in the bounds of the template; `channel` 0–15. */
export function fillTemplate(parts: readonly TemplatePart[], value: number, channel: number): number[] {
  const bytes: number[] = [];
  for (const part of parts) bytes.push(byteOf(part, bytes, value, channel));
  return bytes.slice(1, -1);
}

/** The value that SysEx data has in the places of a template, or `null` when it does not fit. No places: 0. */
export function matchTemplate(
  parts: readonly TemplatePart[],
  data: ArrayLike<number>,
  channel: number,
): number | null {
  if (data.length !== parts.length - 2) return null;
  let value = 0;
  for (let i = 0; i < data.length; i++) {
    const part = nth(parts, i + 1);
    if (part.kind === 'value') value |= part.half === 'high' ? there(data[i]) << 7 : there(data[i]);
  }
  const wanted = fillTemplate(parts, value, channel);
  return wanted.every((byte, i) => byte === data[i]) ? value : null;
}

const PLACES: Record<string, TemplatePart> = {
  value: { kind: 'value', half: 'whole' },
  'value-high': { kind: 'value', half: 'high' },
  'value-low': { kind: 'value', half: 'low' },
  channel: { kind: 'channel' },
};

function parsePart(token: string): TemplatePart | null {
  const pair = /^(?:([a-z][a-z0-9-]*)=)?([0-9a-f]{2})$/i.exec(token);
  if (pair) return { kind: 'byte', byte: parseInt(nth(pair, 2), 16), name: pair[1] ?? null };
  const sum = /^(sum|xor):(\d{1,4})$/i.exec(token);
  if (sum)
    return {
      kind: 'checksum',
      rule: nth(sum, 1).toLowerCase() === 'sum' ? 'sum' : 'xor',
      from: Number(sum[2]) - 1,
    };
  return PLACES[token.toLowerCase()] ?? null;
}

function byteOf(part: TemplatePart, before: readonly number[], value: number, channel: number): number {
  switch (part.kind) {
    case 'byte':
      return part.byte;
    case 'channel':
      return channel;
    case 'value':
      return part.half === 'high' ? value >> 7 : part.half === 'low' ? value & 0x7f : value;
    case 'checksum': {
      const counted = before.slice(part.from);
      if (part.rule === 'xor') return counted.reduce((x, b) => x ^ b, 0) & 0x7f;
      return (128 - (counted.reduce((sum, b) => sum + b, 0) % 128)) % 128;
    }
  }
}
