import {
  channelPressure,
  controller,
  controller14,
  encode,
  noteOff,
  noteOn,
  parameterMessages,
  pitchBend,
  program,
  type Message,
} from '../midi';

/** What a control of a board sends; numbers 0–127, coarse halves 0–31, parameters 0–16382. */
type Sends = {
  readonly kind:
    | 'controller'
    | 'note'
    | 'program'
    | 'controller-14'
    | 'rpn'
    | 'nrpn'
    | 'pitch-bend'
    | 'channel-pressure'
    | 'key';
  readonly number: number;
};

/**
 * The bytes of a momentary switch going down or up: 127 and 0 (a note goes off with its note-off, a program is sent
 * going down only).
 * @param channel 0–15. @param velocity 1–127, how hard it is struck. Source: common practice, no source.
 */
export function switchBytes(channel: number, sends: Sends, down: boolean, velocity = 127): number[] {
  if (sends.kind === 'note')
    return encode(down ? noteOn(channel, sends.number, velocity) : noteOff(channel, sends.number));
  if (sends.kind === 'program') return down ? encode(program(channel, sends.number)) : [];
  return pedalBytes(channel, sends, down ? 127 : 0);
}

/** The bytes of a pedal at a position, 0–127; fractions count where it has 14 bits. */
export const pedalBytes = (channel: number, sends: Sends, position: number): number[] =>
  positionMessages(channel, sends, position).flatMap(encode);

function positionMessages(channel: number, { kind, number }: Sends, position: number): Message[] {
  const coarse = Math.round(position);
  const fine = Math.round((position * 16383) / 127);
  switch (kind) {
    case 'controller':
      return [controller(channel, number, coarse)];
    case 'note':
      return [noteOn(channel, number, coarse)];
    case 'program':
      return [program(channel, coarse)];
    case 'controller-14':
      return controller14(channel, number, fine);
    case 'rpn':
    case 'nrpn':
      return parameterMessages(kind, channel, number, fine);
    case 'pitch-bend':
      return [pitchBend(channel, fine)];
    case 'channel-pressure':
      return [channelPressure(channel, coarse)];
    case 'key':
      return [];
  }
}
