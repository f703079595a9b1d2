/** Numbers of the MIDI standard that are easily confused, each with its one checked constructor. */

declare const brand: unique symbol;
type Branded<Name extends string> = number & { readonly [brand]: Name };

/** Channel as sent, 0–15. People see 1–16. */
export type Channel = Branded<'Channel'>;
/** One data byte, 0–127. */
export type Data7 = Branded<'Data7'>;
/** Two data bytes joined, 0–16383. */
export type Value14 = Branded<'Value14'>;

/** Thrown when code builds a message from a number that the standard does not allow. */
export class MidiRangeError extends RangeError {
  constructor(
    readonly what: string,
    readonly received: number,
    readonly min: number,
    readonly max: number,
  ) {
    super(`${what} ${String(received)} is outside ${min}–${max}`);
    this.name = 'MidiRangeError';
  }
}

function checked(what: string, n: number, max: number): number {
  if (!Number.isInteger(n) || n < 0 || n > max) throw new MidiRangeError(what, n, 0, max);
  return n;
}

// Cut to this many bits, every number is in range.
/** The low four bits: the channel of a status byte. */
export const channelBits = (n: number): Channel => (n & 0x0f) as Channel;
/** The low seven bits: a data byte. */
export const dataBits = (n: number): Data7 => (n & 0x7f) as Data7;
/** The low seven bits of two numbers as one of fourteen. */
export const joinBits = (msb: number, lsb: number): Value14 =>
  (((msb & 0x7f) << 7) | (lsb & 0x7f)) as Value14;

/** @throws MidiRangeError outside 0–15. Example: `channel(2)` is what people call channel 3. */
export const channel = (n: number): Channel => channelBits(checked('channel', n, 15));
/** @throws MidiRangeError outside 0–127. */
export const data7 = (n: number): Data7 => dataBits(checked('data byte', n, 127));
/** @throws MidiRangeError outside 0–16383. */
export const value14 = (n: number): Value14 => {
  checked('14-bit value', n, 16383);
  return joinBits(n >> 7, n);
};

/** Splits 0–16383 into its coarse (MSB) and fine (LSB) data bytes. Example: 8192 is 64 and 0. */
export const split14 = (n: number): { msb: Data7; lsb: Data7 } => {
  const v = value14(n);
  return { msb: dataBits(v >> 7), lsb: dataBits(v) };
};

/** Joins two data bytes to 0–16383. */
export const join14 = (msb: number, lsb: number): Value14 => joinBits(data7(msb), data7(lsb));
