import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  channelPressure,
  controller,
  encode,
  mustFollow,
  noteOff,
  noteOn,
  NO_SEQUENCES,
  pitchBend,
  polyPressure,
  program,
  readSequence,
  realTime,
  songPosition,
  sysex,
  type Message,
} from './index';
import { anyMessage } from './arbitraries.test-support';

describe('which message has to leave after which', () => {
  it.each<[string, Message, Message, boolean]>([
    ['the same controller', controller(0, 7, 2), controller(0, 7, 1), true],
    ['its fine half', controller(0, 39, 2), controller(0, 7, 1), true],
    ['another controller', controller(0, 11, 2), controller(0, 7, 1), false],
    ['another channel', controller(1, 7, 2), controller(0, 7, 1), false],
    ['a program after a controller', program(0, 3), controller(0, 7, 1), true],
    ['a program on another channel', program(2, 3), controller(0, 7, 1), false],
    ['a controller after a program', controller(0, 7, 1), program(0, 3), true],
    ['a bank before its program', program(0, 3), controller(0, 32, 1), true],
    ['data after the parameter it is of', controller(0, 6, 1), controller(0, 100, 0), true],
    ['a controller while a parameter is told', controller(0, 7, 1), controller(0, 99, 0), true],
    ['all sound off after anything of its channel', controller(0, 120, 0), controller(0, 7, 1), true],
    ['a note after a controller', noteOn(0, 60, 90), controller(0, 7, 1), false],
    ['a note after the damper', noteOn(0, 60, 90), controller(0, 64, 0), true],
    ['the end of a note after its start', noteOff(0, 60), noteOn(0, 60, 90), true],
    ['pressure of a note that has to sound first', polyPressure(0, 60, 5), noteOn(0, 60, 90), true],
    ['bend after a controller', pitchBend(0, 8192), controller(0, 7, 1), false],
    ['bend after bend', pitchBend(0, 8192), pitchBend(0, 0), true],
    ['pressure after bend', channelPressure(0, 3), pitchBend(0, 0), false],
    ['a press between two clocks', program(0, 3), realTime('clock'), false],
    ['a clock between what makes a parameter', realTime('clock'), controller(0, 99, 0), false],
    ['stop after a clock', realTime('stop'), realTime('clock'), true],
    ['a start after its place', realTime('start'), songPosition(0), true],
    ['system exclusive after anything but time', sysex([0x7d, 1]), controller(0, 7, 1), true],
    ['anything but time after system exclusive', controller(0, 7, 1), sysex([0x7d, 1]), true],
    ['a clock during system exclusive', realTime('clock'), sysex([0x7d, 1]), false],
  ])('%s', (_, later, earlier, expected) => {
    expect(mustFollow(later, earlier)).toBe(expected);
  });

  it('says the same of two messages whichever comes first', () => {
    fc.assert(
      fc.property(anyMessage, anyMessage, (a, b) => mustFollow(a, b) === mustFollow(b, a)),
      { seed: 131, numRuns: 3000 },
    );
  });

  it('what need not follow ends in the same, whichever comes first', () => {
    fc.assert(
      fc.property(
        fc.array(anyOfOneChannel, { maxLength: 6 }),
        anyOfOneChannel,
        anyOfOneChannel,
        (before, a, b) => {
          if (!mustFollow(b, a)) expect(receivedAs([...before, a, b])).toEqual(receivedAs([...before, b, a]));
        },
      ),
      { seed: 132, numRuns: 5000 },
    );
  });
});

const few = fc.integer({ min: 0, max: 3 });
/** Much that touches each other: two channels, few notes, controllers of every sort. */
const anyOfOneChannel: fc.Arbitrary<Message> = fc.oneof(
  fc
    .tuple(
      fc.constantFrom(0, 1),
      fc.constantFrom(0, 6, 7, 11, 32, 38, 39, 64, 98, 99, 100, 101, 120, 121, 123),
      few,
    )
    .map(([channel, number, value]) => controller(channel, number, value * 42)),
  fc.tuple(few, fc.boolean()).map(([n, on]) => (on ? noteOn(0, 60 + n, 90) : noteOff(0, 60 + n))),
  few.map((n) => program(0, n)),
  few.map((n) => pitchBend(0, n * 5000)),
  few.map((n) => channelPressure(0, n)),
);

/**
 * What a plain receiver of channel 1 and 2 has in the end: the sound that is on and from which bank, what its controllers
 * and parameters are since that came, and which notes sound or are held by the damper.
 */
function receivedAs(messages: readonly Message[]) {
  const channels = [0, 1].map(() => ({
    sound: '',
    bank: [0, 0] as [number, number],
    values: new Map<string, number>(),
    sounding: new Set<number>(),
    held: new Set<number>(),
  }));
  let memory = NO_SEQUENCES;
  for (const message of messages) {
    const read = readSequence(memory, message);
    memory = read.memory;
    if (!('channel' in message)) continue;
    const at = channels[message.channel]!;
    const endAll = () => {
      at.sounding.clear();
      at.held.clear();
    };
    if (read.sequence && read.sequence.kind !== 'bank-program' && read.sequence.kind !== 'controller-14')
      at.values.set(`${read.sequence.kind} ${read.sequence.parameter}`, read.sequence.value);
    switch (message.kind) {
      case 'program':
        at.sound = `${at.bank.join('/')} ${message.program}`;
        at.values.clear();
        break;
      case 'controller':
        if (message.controller === 0) at.bank[0] = message.value;
        else if (message.controller === 32) at.bank[1] = message.value;
        else if (message.controller === 121) at.values.clear();
        else if (message.controller >= 120) endAll();
        else at.values.set(`controller ${message.controller}`, message.value);
        if (message.controller === 64 && message.value < 64) at.held.clear();
        break;
      case 'pitch-bend':
        at.values.set('bend', message.value);
        break;
      case 'channel-pressure':
        at.values.set('pressure', message.pressure);
        break;
      case 'note-on':
        at.sounding.add(message.note);
        break;
      case 'note-off':
        if (at.sounding.delete(message.note) && (at.values.get('controller 64') ?? 0) >= 64)
          at.held.add(message.note);
    }
  }
  return { channels, bytesOf: messages.map((m) => encode(m).join()).sort() };
}
