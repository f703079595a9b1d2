import type { ControlMessage } from '../../floor';
import type { Message } from '../../midi';

/** Whether one place of a control takes several messages. */
export const isSequenced = ({ kind }: ControlMessage): boolean =>
  kind === 'controller-14' || kind === 'rpn' || kind === 'nrpn';

export const sequenceKey = (kind: string, channel: number, number: number): string =>
  `${kind}/${channel}/${number}`;

const NOTE = 1 << 11;
const PROGRAM = 2 << 11;
const BEND = 3 << 11;
const PRESSURE = 4 << 11;

/** A number for kind, channel and number of a control's message; a key of the computer has none. */
export function controlKey(channel: number, { kind, number }: ControlMessage): number {
  const place = (channel << 7) | number;
  switch (kind) {
    case 'note':
      return NOTE | place;
    case 'program':
      return PROGRAM | place;
    case 'pitch-bend':
      return BEND | (channel << 7);
    case 'channel-pressure':
      return PRESSURE | (channel << 7);
    default:
      return place;
  }
}

/** The key of a message that a control may have sent, or -1. */
export function messageKey(message: Message): number {
  switch (message.kind) {
    case 'controller':
      return (message.channel << 7) | message.controller;
    case 'note-on':
    case 'note-off':
      return NOTE | (message.channel << 7) | message.note;
    case 'program':
      return PROGRAM | (message.channel << 7) | message.program;
    case 'pitch-bend':
      return BEND | (message.channel << 7);
    case 'channel-pressure':
      return PRESSURE | (message.channel << 7);
    default:
      return -1;
  }
}
