import { keysOf, nth } from '../sure';

/**
 * Universal system exclusive: who a device is, and the handshake of dumps. All are the data between `F0` and `F7`.
 * Source of every byte here: MIDI 1.0 Detailed Specification, "Universal System Exclusive".
 */

const NON_REAL_TIME = 0x7e;
const GENERAL = 0x06;
const REQUEST = 0x01;
const REPLY = 0x02;
/** The device number that every device answers to. */
export const ALL_DEVICES = 0x7f;

export type Identity = {
  /** 0–127; the number under which it is asked for more. */
  readonly device: number;
  /** One byte, or three of which the first is 0. */
  readonly manufacturer: readonly number[];
  /** 0–16383. */
  readonly family: number;
  readonly member: number;
  /** Four bytes of 0–127, as the maker means them. */
  readonly version: readonly number[];
};

/** Asks a device who it is; every one that hears it by default. @param device 0–127. */
export const identityRequest = (device = ALL_DEVICES): number[] => [NON_REAL_TIME, device, GENERAL, REQUEST];

/** The device that is asked who it is, or `null` for other data. */
export const readIdentityRequest = (data: ArrayLike<number>): number | null =>
  data.length === 4 && data[0] === NON_REAL_TIME && data[2] === GENERAL && data[3] === REQUEST
    ? nth(data, 1)
    : null;

const pair = (value: number): number[] => [value & 0x7f, (value >> 7) & 0x7f];

export const identityReply = ({ device, manufacturer, family, member, version }: Identity): number[] => [
  NON_REAL_TIME,
  device,
  GENERAL,
  REPLY,
  ...manufacturer,
  ...pair(family),
  ...pair(member),
  ...version,
];

/** Who answers, or `null` for other data. */
export function readIdentityReply(data: ArrayLike<number>): Identity | null {
  const bytes = Array.from(data);
  if (bytes[0] !== NON_REAL_TIME || bytes[2] !== GENERAL || bytes[3] !== REPLY) return null;
  const makerBytes = bytes[4] === 0 ? 3 : 1;
  const rest = bytes.slice(4 + makerBytes);
  if (rest.length !== 8) return null;
  const at = (i: number) => nth(rest, i) | (nth(rest, i + 1) << 7);
  return {
    device: nth(bytes, 1),
    manufacturer: bytes.slice(4, 4 + makerBytes),
    family: at(0),
    member: at(2),
    version: rest.slice(4),
  };
}

/** Maker, family and member as hexadecimal digits, by which the same kind of device is known again. Example: `7D 0A00 0001`. */
export function identityText({ manufacturer, family, member }: Identity): string {
  const digits = (value: number, count: number) => value.toString(16).toUpperCase().padStart(count, '0');
  return `${manufacturer.map((b) => digits(b, 2)).join('')} ${digits(family, 4)} ${digits(member, 4)}`;
}

/** What one side of a dump says of a packet of the other. */
const HANDSHAKE = {
  'end-of-file': 0x7b,
  wait: 0x7c,
  cancel: 0x7d,
  'not-acknowledged': 0x7e,
  acknowledged: 0x7f,
} as const;
export type HandshakeKind = keyof typeof HANDSHAKE;
export type Handshake = {
  readonly kind: HandshakeKind;
  /** 0–127. */
  readonly device: number;
  /** The number of the packet, 0–127. */
  readonly packet: number;
};

export const handshake = (kind: HandshakeKind, device: number, packet: number): number[] => [
  NON_REAL_TIME,
  device,
  HANDSHAKE[kind],
  packet & 0x7f,
];

/** A handshake, or `null` for other data. */
export function readHandshake(data: ArrayLike<number>): Handshake | null {
  if (data.length !== 4 || data[0] !== NON_REAL_TIME) return null;
  const kind = keysOf(HANDSHAKE).find((k) => HANDSHAKE[k] === data[2]);
  return kind !== undefined ? { kind, device: nth(data, 1), packet: nth(data, 3) } : null;
}
