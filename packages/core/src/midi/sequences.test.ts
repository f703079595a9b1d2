import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  bankProgram,
  controller,
  controller14,
  encode,
  hex,
  join14,
  machineMessage,
  NO_PARAMETER,
  parameterMessages,
  parameterNow,
  readMachineControl,
  SequenceReader,
  split14,
  sysex,
  type MachineControl,
  type Message,
  type Sequence,
} from './index';

const bytes = (messages: readonly Message[]) => messages.map((m) => hex(encode(m))).join(' | ');
const readAll = (messages: readonly Message[]): Sequence[] => {
  const reader = new SequenceReader();
  return messages.flatMap((m) => reader.read(m) ?? []);
};
const v14 = fc.integer({ min: 0, max: 16383 });

describe('values over several controllers', () => {
  // Source: MIDI 1.0 Detailed Specification, table III and "Registered parameter numbers" (from memory).
  it('sends coarse then fine', () => expect(bytes(controller14(0, 7, 8193))).toBe('B0 07 40 | B0 27 01'));
  it('sends an RPN with its closing null', () =>
    expect(bytes(parameterMessages('rpn', 0, 0, 256))).toBe(
      'B0 65 00 | B0 64 00 | B0 06 02 | B0 26 00 | B0 65 7F | B0 64 7F',
    ));
  it('sends an NRPN left open on request', () =>
    expect(bytes(parameterMessages('nrpn', 1, 300, 5, true))).toBe(
      'B1 63 02 | B1 62 2C | B1 06 00 | B1 26 05',
    ));
  it('sends bank select MSB, LSB, program', () =>
    expect(bytes(bankProgram(2, 129, 5))).toBe('B2 00 01 | B2 20 01 | C2 05'));

  it('splits and joins at both bounds', () => {
    expect(split14(16383)).toEqual({ msb: 127, lsb: 127 });
    expect(split14(8192)).toEqual({ msb: 64, lsb: 0 });
    expect(() => split14(16384)).toThrow(RangeError);
    expect(join14(127, 127)).toBe(16383);
    expect(() => join14(128, 0)).toThrow(RangeError);
  });

  it('has no fine partner above controller 31', () => {
    expect(() => controller14(0, 31, 0)).not.toThrow();
    expect(() => controller14(0, 32, 0)).toThrow(/no fine partner/);
  });

  it('reads back what was sent', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 15 }), fc.nat(NO_PARAMETER - 1), v14, (ch, parameter, value) => {
        for (const kind of ['rpn', 'nrpn'] as const)
          expect(readAll(parameterMessages(kind, ch, parameter, value)).at(-1)).toEqual({
            kind,
            channel: ch,
            parameter,
            value,
          });
        expect(readAll(bankProgram(ch, value, parameter % 128))).toEqual([
          { kind: 'bank-program', channel: ch, bank: value, program: parameter % 128 },
        ]);
        const coarse = 1 + (parameter % 5);
        expect(readAll(controller14(ch, coarse, value))).toEqual([
          { kind: 'controller-14', channel: ch, controller: coarse, value },
        ]);
      }),
      { seed: 31, numRuns: 500 },
    );
  });

  it('after the null number data entry means nothing', () => {
    const open = parameterMessages('rpn', 0, 1, 2);
    const entry = parameterMessages('rpn', 0, 1, 2).slice(2, 4);
    expect(readAll([...open, ...entry]).length).toBe(readAll(open).length);
  });

  const nrpn = (...halves: readonly (readonly [number, number])[]): Sequence[] =>
    readAll(halves.map(([number, value]) => controller(0, number, value)));
  it('half a number is no number', () => {
    expect(nrpn([99, 3], [6, 10])).toEqual([]);
    expect(nrpn([98, 3], [6, 10], [38, 1])).toEqual([]);
    // The other half is still the one of before, but not that of the other kind.
    expect(nrpn([99, 3], [98, 5], [99, 4], [6, 1]).at(-1)).toMatchObject({ parameter: (4 << 7) | 5 });
    expect(nrpn([101, 0], [100, 5], [99, 3], [6, 1])).toEqual([]);
  });
  // Source: RP-015, "Response to Reset All Controllers" (from memory).
  it('reset controllers forgets the chosen parameter', () =>
    expect(nrpn([99, 3], [98, 5], [121, 0], [6, 1])).toEqual([]));
  it('data increment and decrement move the value, after it was told', () => {
    const chosen = [
      [99, 3],
      [98, 5],
    ] as const;
    expect(nrpn(...chosen, [96, 0])).toEqual([]);
    const moved = nrpn(...chosen, [6, 10], [38, 4], [96, 0], [96, 0], [97, 0], [96, 0]);
    const [at, ...then] = moved.slice(1);
    expect([at, ...then].map((s) => s && 'value' in s && [parameterNow(s, 14), parameterNow(s, 7)])).toEqual([
      [1284, 10],
      [1285, 11],
      [1286, 12],
      [1285, 11],
      [1286, 12],
    ]);
    // A value that is told, or another parameter, begins anew; the ends hold.
    expect(
      nrpn(...chosen, [6, 127], [38, 127], [96, 0])
        .map((s) => 'value' in s && parameterNow(s, 14))
        .at(-1),
    ).toBe(16383);
    expect(nrpn(...chosen, [6, 1], [97, 0], [97, 0], [6, 2]).at(-1)).toEqual({
      kind: 'nrpn',
      channel: 0,
      parameter: 389,
      value: 256,
    });
    expect(nrpn(...chosen, [6, 1], [98, 6], [96, 0])).toHaveLength(1);
  });

  it('keeps channels apart', () => {
    const [select, , data] = parameterMessages('rpn', 0, 0, 0);
    const other = { ...(data as Message & { kind: 'controller' }), channel: 1 } as Message;
    expect(readAll([select!, other])).toEqual([]);
  });
});

describe('MIDI Machine Control', () => {
  // Source of the bytes: RP-013, MIDI Machine Control 1.0 (from memory).
  it.each([
    ['stop', { kind: 'transport', machine: 127, command: 'stop' }, 'F0 7F 7F 06 01 F7'],
    ['play', { kind: 'transport', machine: 127, command: 'play' }, 'F0 7F 7F 06 02 F7'],
    ['record strobe', { kind: 'transport', machine: 0, command: 'record-strobe' }, 'F0 7F 00 06 06 F7'],
    ['pause', { kind: 'transport', machine: 127, command: 'pause' }, 'F0 7F 7F 06 09 F7'],
    [
      'arm track 1',
      { kind: 'record-ready', machine: 127, track: 1, armed: true },
      'F0 7F 7F 06 41 04 4F 00 20 20 F7',
    ],
    [
      'arm track 2',
      { kind: 'record-ready', machine: 127, track: 2, armed: true },
      'F0 7F 7F 06 41 04 4F 00 40 40 F7',
    ],
    [
      'arm track 3',
      { kind: 'record-ready', machine: 127, track: 3, armed: true },
      'F0 7F 7F 06 41 04 4F 01 01 01 F7',
    ],
    [
      'disarm track 3',
      { kind: 'record-ready', machine: 127, track: 3, armed: false },
      'F0 7F 7F 06 41 04 4F 01 01 00 F7',
    ],
    [
      'locate 1:02:03:04 at 25',
      { kind: 'locate', machine: 127, rate: 25, hours: 1, minutes: 2, seconds: 3, frames: 4 },
      'F0 7F 7F 06 44 06 01 21 02 03 04 00 F7',
    ],
  ] as [string, MachineControl, string][])('%s both ways', (_name, control, wanted) => {
    const message = machineMessage(control);
    expect(hex(encode(message))).toBe(wanted);
    expect(readMachineControl(message)).toEqual([control]);
  });

  it('reads a mask that names two tracks, and all tracks up to 64 one by one', () => {
    const both = sysex([0x7f, 0x7f, 6, 0x41, 4, 0x4f, 0, 0x60, 0x20]);
    expect(readMachineControl(both)).toMatchObject([
      { track: 1, armed: true },
      { track: 2, armed: false },
    ]);
    for (let track = 1; track <= 64; track++) {
      const control = { kind: 'record-ready', machine: 127, track, armed: true } as const;
      expect(readMachineControl(machineMessage(control))).toEqual([control]);
    }
    expect(() => machineMessage({ kind: 'record-ready', machine: 127, track: 0, armed: true })).toThrow(
      RangeError,
    );
    expect(() => machineMessage({ kind: 'record-ready', machine: 127, track: 65, armed: true })).toThrow(
      RangeError,
    );
  });

  it.each([
    [[]],
    [[0x7f]],
    [[0x7e, 0x7f, 6, 1]],
    [[0x7f, 0x7f, 6, 0x41, 4, 0x4f, 0, 0x20]],
    [[0x7f, 0x7f, 6, 0x7d]],
  ])('takes SysEx %j for none', (data) => expect(readMachineControl(sysex(data))).toEqual([]));
});
