/**
 * How long bytes take on a DIN link: 31,250 baud, one start, eight data and one stop bit a byte.
 * Source: MIDI 1.0 Detailed Specification, "Hardware".
 */
export const DIN_MS_PER_BYTE = 0.32;

/** Kinds of link between two ports. Only a DIN link is slow enough that its time is counted. */
export type LinkKind = 'din' | 'usb' | 'bluetooth' | 'virtual' | 'network';

/** Milliseconds a byte on a link; 0 where the link is far faster than any message needs. */
export const msPerByte = (link: LinkKind): number => (link === 'din' ? DIN_MS_PER_BYTE : 0);

/** Milliseconds that `byteCount` (0 or more) bytes take on a link. Example: three bytes on DIN take 0.96 ms. */
export const wireTimeMs = (byteCount: number, link: LinkKind = 'din'): number =>
  // Counted in whole 10 µs so that three bytes are 0.96 and not 0.9600000000000001.
  Math.round(byteCount * msPerByte(link) * 100) / 100;

/** Messages a second that a DIN link carries at most. Example: three-byte messages, 1041.67. */
export const dinMessagesPerSecond = (bytesPerMessage: number): number =>
  1000 / (bytesPerMessage * DIN_MS_PER_BYTE);

/** Bytes a second that a DIN link carries at most: 3125. */
export const dinBytesPerSecond = 1000 / DIN_MS_PER_BYTE;
