import {
  channelPressure,
  controller,
  endsNote,
  noteOff,
  noteOn,
  pitchBend,
  polyPressure,
  type ChannelMessage,
  type Message,
} from '../../midi';
import { BEND_CENTRE, isHoldPedal, KIND_INDEX, numberOf, routeKind, valueOf } from '../route';
import type { Begun } from './routeMemory';

/** What came by a port and has not ended, by its key. */
export const find = (begun: readonly Begun[], portId: string, key: number): Begun | undefined => {
  for (const h of begun) if (h.key === key && h.portId === portId) return h;
  return undefined;
};

/**
 * A number for the thing that a message begins or ends: a note, controller, bend or pressure of a channel; −1 for any
 * other message.
 */
export function begunKey(message: Message): number {
  switch (message.kind) {
    case 'note-on':
    case 'note-off':
      return (message.channel << 7) | message.note;
    case 'controller':
      return (1 << 11) | (message.channel << 7) | message.controller;
    case 'poly-pressure':
      return (2 << 11) | (message.channel << 7) | message.note;
    case 'channel-pressure':
      return (3 << 11) | (message.channel << 7);
    case 'pitch-bend':
      return (4 << 11) | (message.channel << 7);
    default:
      return -1;
  }
}

/** Whether a message makes a receiver hold something: a note, a pedal that is down, a bend. */
export const holds = (message: Message): boolean =>
  message.kind === 'note-on'
    ? message.velocity > 0
    : message.kind === 'controller'
      ? isHoldPedal(message.controller) && message.value >= 64
      : message.kind === 'pitch-bend' && message.value !== BEND_CENTRE;

/** Whether a message makes a receiver let go of what it holds. */
export const letsGo = (message: Message): boolean =>
  message.kind === 'controller'
    ? isHoldPedal(message.controller) && message.value < 64
    : message.kind === 'pitch-bend'
      ? message.value === BEND_CENTRE
      : endsNote(message);

/** What brings to rest what a message has begun. */
export function endOf(message: Message): Message | null {
  switch (message.kind) {
    case 'note-on':
      return noteOff(message.channel, message.note);
    case 'controller':
      return controller(message.channel, message.controller, 0);
    case 'pitch-bend':
      return pitchBend(message.channel, BEND_CENTRE);
    case 'channel-pressure':
      return channelPressure(message.channel, 0);
    case 'poly-pressure':
      return polyPressure(message.channel, message.note, 0);
    default:
      return null;
  }
}

/** The end of a note with the velocity, and in the form, that the one who played it let it go with. */
export function endingLike(end: Message, came: Message): Message {
  if (end.kind !== 'note-off') return end;
  if (came.kind === 'note-on') return noteOn(end.channel, end.note, 0);
  return came.kind === 'note-off' ? noteOff(end.channel, end.note, came.velocity) : end;
}

export const onChannel = (message: Message, channel: number | null): Message =>
  channel === null || !('channel' in message) || message.channel === channel
    ? message
    : // A message with another channel is one of the same kind.
      ({ ...message, channel } as Message);

/** Kind, channel, number and value in one number. */
export const repeatKey = (message: ChannelMessage): number =>
  (KIND_INDEX[routeKind(message)] << 25) |
  (message.channel << 21) |
  ((numberOf(message) ?? 0) << 14) |
  (message.kind === 'pitch-bend' ? message.value : (valueOf(message) ?? 0));
