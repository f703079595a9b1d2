import { describe, expect, it } from 'vitest';
import {
  controller,
  controller14,
  noteOff,
  noteOn,
  parameterMessages,
  pitchBend,
  program,
  type Message,
} from '../../midi';
import { rowHeard } from './learnRow';

const heardAs = (messages: readonly Message[], portId = 'back') =>
  messages.map((message, i) => ({ atMs: i * 20, portId, message }));
const sweep = (make: (v: number) => Message[]) => [0, 30, 60, 90, 127].flatMap(make);

describe('a thing that was moved, as a row of a chart', () => {
  it.each<[string, Message[], unknown]>([
    [
      'a knob',
      sweep((v) => [controller(2, 20, v)]),
      {
        drive: { kind: 'controller', controller: 20 },
        shape: { kind: 'range', min: 0, max: 127, shownFrom: 0 },
        channel: 2,
      },
    ],
    [
      'a switch',
      [controller(2, 24, 127), controller(2, 24, 0)],
      {
        drive: { kind: 'controller', controller: 24 },
        shape: { kind: 'switch', off: 0, on: 127 },
        channel: 2,
      },
    ],
    [
      'a switch that was pressed once',
      [controller(2, 24, 127)],
      {
        drive: { kind: 'controller', controller: 24 },
        shape: { kind: 'switch', off: 0, on: 127 },
        channel: 2,
      },
    ],
    [
      'a switch with values of its own',
      [controller(2, 24, 65), controller(2, 24, 1)],
      { shape: { kind: 'switch', off: 1, on: 65 } },
    ],
    [
      'a pad',
      [noteOn(9, 36, 100), noteOff(9, 36)],
      { drive: { kind: 'note', note: 36 }, shape: { kind: 'trigger', sent: 127 }, channel: 9 },
    ],
    [
      'a program',
      [program(4, 7)],
      { drive: { kind: 'program', bank: null }, shape: { kind: 'program', names: [] }, channel: 4 },
    ],
    [
      'a wheel',
      sweep((v) => [pitchBend(0, v * 128)]),
      { drive: { kind: 'pitch-bend' }, shape: { kind: 'range', min: 0, max: 16383, shownFrom: 0 } },
    ],
    [
      'a fine knob',
      sweep((v) => controller14(0, 7, v * 128 + 3)),
      { drive: { kind: 'controller-14', controller: 7 } },
    ],
    [
      'a parameter',
      sweep((v) => parameterMessages('nrpn', 0, 300, v * 128)),
      { drive: { kind: 'parameter', registered: false, parameter: 300, bits: 14 } },
    ],
  ])('%s', (_, messages, row) => expect(rowHeard(heardAs(messages), 'back')).toMatchObject(row as object));

  it('is what was moved last, at the port of the device', () => {
    const heard = [
      ...heardAs(sweep((v) => [controller(2, 20, v)])),
      ...heardAs([controller(2, 24, 127), controller(2, 24, 0)]).map((h) => ({ ...h, atMs: h.atMs + 900 })),
    ];
    expect(rowHeard(heard, 'back')?.drive).toEqual({ kind: 'controller', controller: 24 });
    expect(rowHeard(heard, 'elsewhere')).toBeNull();
    expect(rowHeard(heard, null)?.drive).toEqual({ kind: 'controller', controller: 24 });
    expect(rowHeard([], null)).toBeNull();
  });
});
