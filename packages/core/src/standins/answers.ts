import { sysex, type Message } from '../midi';
import { identityReply, packed, readIdentityRequest, unpacked, ALL_DEVICES } from '../transfer';
import { keysOf } from '../sure';
import type { StandInKind } from '../gear';

/**
 * What every stand-in says when it is asked, as gear does: who it is, and all that it is set to. Its dump is system
 * exclusive of its own: `7D 0D`, its channel, `01` for the request or `02`, and its state as text, packed.
 */
const OWN = [0x7d, 0x0d] as const;
const REQUEST = 0x01;
const DUMP = 0x02;
/** The family of stand-ins; a member is its place among the kinds, from 1. */
const FAMILY = 0x0a00;

/** The bytes that ask a stand-in for its dump, without `F0` and `F7`. @param channel 0–15. */
export const standInRequest = (channel: number): number[] => [...OWN, channel, REQUEST];

/** What is said to a question; nothing to anything else. @param kinds all kinds, in their order. */
export function answersTo(
  message: Message,
  standIn: { readonly kind: StandInKind; readonly state: unknown },
  channel: number,
  kinds: Readonly<Record<StandInKind, unknown>>,
): Message[] {
  if (message.kind !== 'sysex') return [];
  const { data } = message;
  const asked = readIdentityRequest(data);
  if (asked === ALL_DEVICES || asked === channel) {
    const member = keysOf(kinds).indexOf(standIn.kind) + 1;
    return [
      sysex(
        identityReply({
          device: channel,
          manufacturer: [0x7d],
          family: FAMILY,
          member,
          version: [0, 0, 0, 1],
        }),
      ),
    ];
  }
  if (!isOwn(data, channel, REQUEST) || data.length !== 4) return [];
  const text = JSON.stringify(standIn.state);
  return [sysex([...OWN, channel, DUMP, ...packed(Array.from(text, (c) => c.charCodeAt(0) & 0xff))])];
}

/** The state in a dump that is sent back to a stand-in; `undefined` for anything else. */
export function stateIn(message: Message, channel: number): unknown {
  if (message.kind !== 'sysex' || !isOwn(message.data, channel, DUMP)) return undefined;
  const read = unpacked(message.data.subarray(4));
  if (!read.ok) return undefined;
  try {
    return JSON.parse(String.fromCharCode(...read.value));
  } catch {
    return undefined;
  }
}

const isOwn = (data: Uint8Array, channel: number, what: number): boolean =>
  data[0] === OWN[0] && data[1] === OWN[1] && data[2] === channel && data[3] === what;
