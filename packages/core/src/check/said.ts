import { travelOf, type ControlMessage } from '../floor';
import { parameterNow, readSequence, type Message, type SequenceMemory } from '../midi';
import type { CheckedControl } from './things';

/** What arrived, as what a control may have said. */
export type Said = {
  readonly portId: string;
  /** 0–15; of no account for a key. */
  readonly channel: number;
  readonly sends: ControlMessage;
  /** 0–127, fractions where it has 14 bits. */
  readonly value: number;
  readonly isDown: boolean;
};

export const saidByKey = (number: number, isDown: boolean): Said => ({
  portId: '',
  channel: 0,
  sends: { kind: 'key', number },
  value: isDown ? 127 : 0,
  isDown,
});

/** What a message says, as plain and as one half of a sequence; messages that no control sends say nothing. */
export function saidBy(
  portId: string,
  message: Message,
  before: SequenceMemory,
): { readonly memory: SequenceMemory; readonly said: readonly Said[] } {
  const { memory, sequence } = readSequence(before, message);
  const of = (channel: number, sends: ControlMessage, value: number, isDown = value > 0): Said => ({
    portId,
    channel,
    sends,
    value,
    isDown,
  });
  switch (message.kind) {
    case 'controller': {
      const { channel, controller, value } = message;
      const said = [of(channel, { kind: 'controller', number: controller }, value)];
      if (controller < 32) said.push(of(channel, { kind: 'controller-14', number: controller }, value));
      if (sequence && sequence.kind !== 'bank-program') {
        const number = sequence.kind === 'controller-14' ? sequence.controller : sequence.parameter;
        const position = (parameterNow(sequence, 14) * 127) / 16383;
        said.push(of(channel, { kind: sequence.kind, number }, position));
      }
      return { memory, said };
    }
    case 'note-on':
      return {
        memory,
        said: [of(message.channel, { kind: 'note', number: message.note }, message.velocity)],
      };
    case 'note-off':
      return { memory, said: [of(message.channel, { kind: 'note', number: message.note }, 0)] };
    case 'program':
      return {
        memory,
        said: [of(message.channel, { kind: 'program', number: message.program }, 127, true)],
      };
    case 'pitch-bend':
      return {
        memory,
        said: [of(message.channel, { kind: 'pitch-bend', number: 0 }, (message.value * 127) / 16383)],
      };
    case 'channel-pressure':
      return {
        memory,
        said: [of(message.channel, { kind: 'channel-pressure', number: 0 }, message.pressure)],
      };
    default:
      return { memory, said: [] };
  }
}

export const isSameSaid = (a: Said, b: Said): boolean =>
  a.portId === b.portId && a.channel === b.channel && isSameMessage(a.sends, b.sends);

const isSameMessage = (a: ControlMessage, b: ControlMessage): boolean =>
  a.kind === b.kind && a.number === b.number;

/** How what arrived fits a control. */
export type Fit = 'right' | 'wrong-channel' | 'wrong-number' | 'other';

export function fitOf({ portId, channel, control }: CheckedControl, said: Said): Fit {
  if (said.portId !== portId || said.sends.kind !== control.sends.kind) return 'other';
  const isNumber = said.sends.number === control.sends.number;
  if (said.sends.kind === 'key') return isNumber ? 'right' : 'wrong-number';
  if (isNumber) return said.channel === channel ? 'right' : 'wrong-channel';
  return said.channel === channel ? 'wrong-number' : 'other';
}

/** Where a pedal stands in its travel, 0–127. */
export const placeOf = ({ control }: CheckedControl, said: Said): number =>
  travelOf(control.hardware, said.value);
