import { encode, parseBytes, type Message } from '@idle-step/core/midi';

/**
 * A message of up to three bytes as one number: its length in the highest byte, then the bytes.
 * @returns 0 for a SysEx, which does not fit.
 */
export function packMessage(message: Message): number {
  if (message.kind === 'sysex') return 0;
  const bytes = encode(message);
  const [status = 0, first = 0, second = 0] = bytes;
  return ((bytes.length << 24) | (status << 16) | (first << 8) | second) >>> 0;
}

/** The message of such a number, or `null` for 0. */
export const unpackMessage = (packed: number): Message | null =>
  packed === 0
    ? null
    : (parseBytes([packed >>> 16, packed >>> 8, packed].map((b) => b & 0xff).slice(0, packed >>> 24))
        .messages[0] ?? null);
