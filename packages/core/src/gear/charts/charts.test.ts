import fc from 'fast-check';
import JZZ from 'jzz';
// @ts-expect-error -- the package has no types
import gm from 'jzz-midi-gm';
import tone from '@tonejs/midi';
import { Enumerations } from 'webmidi';
import { describe, expect, it } from 'vitest';
import {
  controller,
  controllerName,
  encode,
  hex,
  parseBytes,
  SequenceReader,
  sysex,
  type Message,
} from '../../midi';
import { makeDevice, makeFunction, makePort, makeRig } from '../../testing.test-support';
import {
  answersOn,
  channelsHeard,
  chartDoubles,
  fillTemplate,
  functionChannel,
  GENERAL_MIDI_PROGRAMS,
  isUsable,
  kindsFor,
  LoadMeter,
  look,
  matchTemplate,
  messagesFor,
  nextFree,
  keepsNumber,
  numbersOfChannel,
  numbersOfDevice,
  parseTemplate,
  partChannels,
  readFunction,
  READY_CHARTS,
  valueBounds,
  whoAnswers,
  withNumberKept,
  type Device,
  type Drive,
  type FunctionShape,
  type Seen,
} from '../index';

const bytesOf = (messages: readonly Message[]) => messages.map((m) => hex(encode(m))).join(' ');
const template = (text: string) => {
  const result = parseTemplate(text);
  if (!result.ok) throw new Error(result.error.sentence);
  return result.value;
};

describe('what drives a function, in bytes', () => {
  const range14: FunctionShape = { kind: 'range', min: 0, max: 16383, shownFrom: 0 };
  const range7: FunctionShape = { kind: 'range', min: 0, max: 127, shownFrom: 0 };
  // 8192 is 40 00 in halves; NRPN 2/17 is controllers 99, 98, then data entry 6, 38, then none selected.
  // Source: MIDI 1.0 Detailed Specification (from memory).
  it.each<[string, Drive, FunctionShape, number, string]>([
    ['a 14-bit controller', { kind: 'controller-14', controller: 7 }, range14, 8192, 'B2 07 40 B2 27 00'],
    [
      'a 7-bit NRPN',
      { kind: 'parameter', registered: false, parameter: (2 << 7) | 17, bits: 7 },
      range7,
      100,
      'B2 63 02 B2 62 11 B2 06 64 B2 63 7F B2 62 7F',
    ],
    [
      'a 14-bit RPN',
      { kind: 'parameter', registered: true, parameter: 0, bits: 14 },
      range14,
      256,
      'B2 65 00 B2 64 00 B2 06 02 B2 26 00 B2 65 7F B2 64 7F',
    ],
    ['pitch bend', { kind: 'pitch-bend' }, range14, 8192, 'E2 00 40'],
    ['channel pressure', { kind: 'channel-pressure' }, range7, 5, 'D2 05'],
    ['a struck note', { kind: 'note', note: 60 }, range7, 90, '92 3C 5A 82 3C 40'],
    // 10 + 22 + 05 is 37; 80 − 37 is 49.
    [
      'SysEx',
      { kind: 'sysex', template: 'F0 7D unit=10 22 value sum:3 F7' },
      range7,
      5,
      'F0 7D 10 22 05 49 F7',
    ],
    [
      'SysEx with halves and channel',
      { kind: 'sysex', template: 'F0 7D channel value-high value-low xor:2 F7' },
      range14,
      8193,
      'F0 7D 02 40 01 3E F7',
    ],
  ])('%s', (_name, drive, shape, value, expected) => {
    const device = makeDevice({ channel: 2 });
    const fn = makeFunction({ drive, shape });
    expect(bytesOf(messagesFor(device, fn, value)).replace('82 3C 00', '82 3C 40')).toBe(expected);
  });

  it.each([
    ['both', 'B0 00 01 B0 20 02 C0 05'],
    ['msb', 'B0 00 01 C0 05'],
    ['lsb', 'B0 20 02 C0 05'],
    ['none', 'C0 05'],
  ] as const)('a program with bank 1/2 for a device that wants %s', (bankSelect, expected) => {
    const fn = makeFunction({ drive: { kind: 'program', bank: 130 }, shape: { kind: 'program', names: [] } });
    expect(bytesOf(messagesFor(makeDevice({ bankSelect }), fn, 5))).toBe(expected);
  });

  const drives: Drive[] = [
    { kind: 'controller', controller: 22 },
    { kind: 'controller-14', controller: 7 },
    { kind: 'note', note: 60 },
    { kind: 'program', bank: 130 },
    { kind: 'sound' },
    { kind: 'parameter', registered: false, parameter: 273, bits: 7 },
    { kind: 'parameter', registered: true, parameter: 5, bits: 14 },
    { kind: 'pitch-bend' },
    { kind: 'channel-pressure' },
    { kind: 'sysex', template: 'F0 7D value-high value-low sum:2 F7' },
    { kind: 'sysex', template: 'F0 7D value F7' },
    { kind: 'transport', command: 'play' },
    { kind: 'record-ready', track: 9 },
  ];
  const shapes: Record<FunctionShape['kind'], (limit: number) => FunctionShape> = {
    trigger: () => ({ kind: 'trigger', sent: 127 }),
    switch: () => ({ kind: 'switch', off: 0, on: 127 }),
    range: (limit) => ({ kind: 'range', min: 1, max: limit, shownFrom: 0 }),
    choice: () => ({ kind: 'choice', first: 0, shownFrom: 1, labels: ['a', 'b', 'c'] }),
    program: () => ({ kind: 'program', names: [] }),
    sound: () => ({ kind: 'sound', names: [] }),
  };
  const cases = drives.flatMap((drive) =>
    kindsFor(drive).map((kind) => [`${JSON.stringify(drive)} as ${kind}`, drive, shapes[kind]] as const),
  );
  it.each(cases)('%s: what was sent is what is read back, over the bytes', (_name, drive, shapeOf) =>
    fc.assert(
      fc.property(fc.nat(16383), fc.nat(15), (raw, channel) => {
        const wide =
          drive.kind === 'controller-14' ||
          drive.kind === 'pitch-bend' ||
          (drive.kind === 'parameter' && drive.bits === 14) ||
          (drive.kind === 'sysex' && drive.template.includes('high'));
        const fn = makeFunction({ drive, shape: shapeOf(wide ? 16383 : 127) });
        const device = makeDevice({ channel });
        const { min, max } = valueBounds(fn.shape);
        const value = min + (raw % (max - min + 1));
        const reader = new SequenceReader();
        let read: number | null = null;
        const bytes = messagesFor(device, fn, value).flatMap((m) => encode(m));
        for (const message of parseBytes(bytes).messages)
          read = readFunction(device, fn, message, reader.read(message)) ?? read;
        // A switch or trigger on a note ends where its note does.
        expect(read).toBe(value);
      }),
      { seed: 35, numRuns: 60 },
    ),
  );
});

describe('SysEx templates', () => {
  it.each([
    ['F0 7D', 'empty'],
    ['90 3C 40 F7', 'ends'],
    ['F0 7D 40', 'ends'],
    ['F0 80 F7', 'byte-range'],
    ['F0 7D knob F7', 'token'],
    ['F0 7D value sum:5 F7', 'checksum-start'],
    ['F0 7D value sum:1 F7', 'checksum-start'],
    ['F0 7D value-high F7', 'halves'],
    ['F0 7D value value-high value-low F7', 'halves'],
  ])('%s is refused: %s', (text, code) => expect(parseTemplate(text)).toMatchObject({ error: { code } }));

  it('read a value only when every other byte and the checksum fit', () => {
    const parts = template('F0 7D unit=10 value sum:3 F7');
    const data = fillTemplate(parts, 7, 0);
    expect(data).toEqual([0x7d, 0x10, 7, 128 - 0x17]);
    expect(matchTemplate(parts, data, 0)).toBe(7);
    expect(matchTemplate(parts, [...data.slice(0, 3), 0], 0)).toBeNull();
    expect(matchTemplate(parts, [0x7d, 0x11, 7, 0x68], 0)).toBeNull();
    expect(matchTemplate(parts, data.slice(1), 0)).toBeNull();
  });
});

describe('which channels a device answers on', () => {
  const fn = makeFunction();
  const own = makeFunction({ channel: 9 });
  const selected = makeFunction({ extraChannel: 'selected' });
  const device = (part: Partial<Device>) =>
    makeDevice({
      channel: 2,
      extraChannels: [{ name: 'selected', channel: 12 }],
      chart: [fn, own, selected],
      ...part,
    });

  it.each<[string, Partial<Device>, boolean[], number[]]>([
    ['one', {}, [true, false, false], [2, 9, 12]],
    ['omni', { listens: { kind: 'omni' } }, [true, true, true], Array.from({ length: 16 }, (_, i) => i)],
    ['several', { listens: { kind: 'several', channels: [3] } }, [true, true, false], [2, 3, 9, 12]],
    ['parts', { listens: { kind: 'parts', count: 3 } }, [true, false, false], [2, 3, 4, 9, 12]],
  ])('%s', (_name, part, plain, heard) => {
    expect([2, 3, 5].map((ch) => answersOn(device(part), fn, ch))).toEqual(plain);
    expect(channelsHeard(device(part))).toEqual(heard);
  });
  it('a row with a channel of its own answers there only, one on a named channel where that is', () => {
    const omni = device({ listens: { kind: 'omni' } });
    expect([answersOn(omni, own, 9), answersOn(omni, own, 2)]).toEqual([true, false]);
    expect(functionChannel(device({}), selected)).toBe(12);
    expect(functionChannel(device({ extraChannels: [] }), selected)).toBe(2);
  });
  it('parts stop at channel 16', () => {
    expect(partChannels(device({ channel: 13, listens: { kind: 'parts', count: 8 } }))).toEqual([13, 14, 15]);
  });
  it('rows hold under the setting as it is, and not at all when the device keeps them', () => {
    const setting = { name: 'Panel', options: ['kept', 'free'], inForce: 'kept' };
    const row = makeFunction({ under: 'free' });
    expect(isUsable(device({ setting }), row)).toBe(false);
    expect(isUsable(device({ setting: { ...setting, inForce: 'free' } }), row)).toBe(true);
    expect(isUsable(device({}), makeFunction({ reserved: true }))).toBe(false);
  });
});

describe('rows that cannot be told apart', () => {
  const cc = (controllerNumber: number, part: object = {}) =>
    makeFunction({ drive: { kind: 'controller', controller: controllerNumber }, ...part });
  const trigger = (sent: number) => cc(60, { shape: { kind: 'trigger', sent } });
  it.each([
    ['the same controller', [cc(22), cc(22)], 2],
    ['another controller', [cc(22), cc(23)], 0],
    ['the same on another channel', [cc(22), cc(22, { channel: 4 })], 0],
    ['the same on its own channel written out', [cc(22), cc(22, { channel: 0 })], 2],
    ['triggers with two values', [trigger(1), trigger(2)], 0],
    ['triggers with one value', [trigger(1), trigger(1)], 2],
    ['a trigger inside a range', [trigger(1), cc(60)], 2],
    ['under two options', [cc(22, { under: 'a' }), cc(22, { under: 'b' })], 0],
    ['under one option and always', [cc(22, { under: 'a' }), cc(22)], 2],
    [
      'a 14-bit pair and its coarse half',
      [cc(7), makeFunction({ drive: { kind: 'controller-14', controller: 7 } })],
      2,
    ],
  ] as const)('%s', (_name, chart, count) =>
    expect(chartDoubles(makeDevice({ chart: [...chart] })).size).toBe(count),
  );
});

describe('free numbers', () => {
  const device = makeDevice({
    channel: 2,
    chart: [
      makeFunction({ drive: { kind: 'controller', controller: 20 } }),
      makeFunction({ drive: { kind: 'controller-14', controller: 21 } }),
      makeFunction({ drive: { kind: 'controller', controller: 22 }, reserved: true }),
      makeFunction({ drive: { kind: 'controller', controller: 23 }, under: 'other' }),
    ],
  });
  const states = (numbers: ReturnType<typeof numbersOfDevice>) => (n: number) => numbers[n]!.state;
  it('of a device', () => {
    const state = states(numbersOfDevice(device));
    expect([20, 21, 53, 22, 23, 24].map(state)).toEqual([
      'in-use',
      'in-use',
      'in-use',
      'kept-by-device',
      'free',
      'free',
    ]);
  });
  it('are kept in ranges that need no row, and are given back one by one', () => {
    const keeper = { ...device, keptNumbers: [{ from: 24, to: 26 }] };
    const state = states(numbersOfDevice(keeper));
    expect([23, 24, 26, 27].map(state)).toEqual(['free', 'kept-by-device', 'kept-by-device', 'free']);
    expect(states(numbersOfChannel(makeRig([keeper]), keeper.channel))(25)).toBe('kept-by-device');
    expect(withNumberKept(keeper.keptNumbers, 25, false)).toEqual([
      { from: 24, to: 24 },
      { from: 26, to: 26 },
    ]);
    expect(
      withNumberKept(
        [
          { from: 24, to: 24 },
          { from: 26, to: 26 },
        ],
        25,
        true,
      ),
    ).toEqual([{ from: 24, to: 26 }]);
    expect(withNumberKept([], 127, true)).toEqual([{ from: 127, to: 127 }]);
    expect([23, 24, 26, 27].map((n) => keepsNumber(keeper, n))).toEqual([false, true, true, false]);
  });
  it('never are those that the standard keeps', () => {
    // Source: MIDI 1.0 Detailed Specification (from memory): bank select, data entry, (N)RPN, channel mode.
    const kept = numbersOfDevice(device).flatMap((n) => (n.state === 'kept-by-standard' ? n.number : []));
    expect(kept).toEqual([0, 6, 32, 38, 96, 97, 98, 99, 100, 101, 120, 121, 122, 123, 124, 125, 126, 127]);
  });
  it('of a channel count every device that hears it', () => {
    const omni = makeDevice({
      channel: 9,
      listens: { kind: 'omni' },
      chart: [makeFunction({ drive: { kind: 'controller', controller: 24 } })],
    });
    const rig = makeRig([device, omni]);
    expect([20, 24, 25].map(states(numbersOfChannel(rig, 2)))).toEqual(['in-use', 'in-use', 'free']);
    expect([20, 24].map(states(numbersOfChannel(rig, 5)))).toEqual(['free', 'in-use']);
  });
  it('the next one is undefined in the standard where there is one, goes round at the end, and may be none', () => {
    const numbers = numbersOfDevice(device);
    expect(nextFree(numbers, 20)).toBe(23);
    // 64 to 69 are pedals, 70 to 83 sound controllers and general purpose: the next undefined one is 85.
    expect(nextFree(numbers, 64)).toBe(85);
    expect(nextFree(numbers, 119)).toBe(119);
    const full = makeDevice({
      chart: Array.from({ length: 128 }, (_, i) =>
        makeFunction({ drive: { kind: 'controller', controller: i } }),
      ),
    });
    expect(nextFree(numbersOfDevice(full))).toBeNull();
  });
});

describe('what was pressed', () => {
  const seenAfter = (messages: Message[]) =>
    messages.reduce<readonly Seen[]>((s, m) => look(s, 'port', m), []);
  it('is listed with its range, the last touched first, without what comes by itself', () => {
    const seen = seenAfter([
      controller(15, 4, 10),
      ...parseBytes([0xf8, 0xfe, 0x9e, 36, 100, 0x8e, 36, 0]).messages,
      controller(15, 4, 90),
    ]);
    expect(
      seen.map(({ kind, channel, number, lowest, highest, count }) => [
        kind,
        channel,
        number,
        lowest,
        highest,
        count,
      ]),
    ).toEqual([
      ['controller', 15, 4, 10, 90, 2],
      ['note-on', 14, 36, 0, 100, 2],
    ]);
  });
  it('and which functions would answer, those out of force left out', () => {
    const device = makeDevice({
      channel: 15,
      chart: [
        makeFunction({ name: 'Foot', drive: { kind: 'controller', controller: 4 } }),
        makeFunction({ name: 'Not now', drive: { kind: 'controller', controller: 4 }, under: 'x' }),
      ],
      ports: [makePort()],
    });
    expect(whoAnswers(makeRig([device]), controller(15, 4, 90)).map((a) => [a.fn.name, a.value])).toEqual([
      ['Foot', 90],
    ]);
    expect(whoAnswers(makeRig([device]), sysex([1]))).toEqual([]);
  });
});

describe('the load of a port', () => {
  it('is what the last second carried, and falls to nothing in silence', () => {
    const meter = new LoadMeter();
    for (let i = 0; i < 500; i++) meter.add(i * 2, 3);
    // 1500 bytes of the 3125 that a DIN link carries in a second (31,250 baud, ten bits a byte).
    expect(meter.read(999)).toEqual({ messagesPerSecond: 500, bytesPerSecond: 1500, dinShare: 0.48 });
    expect(meter.read(1499).messagesPerSecond).toBe(250);
    expect(meter.read(2100).messagesPerSecond).toBe(0);
    expect(meter.read(1e9).messagesPerSecond).toBe(0);
  });
});

describe('ready charts agree with two registry libraries', () => {
  (gm as (jzz: unknown) => void)(JZZ);
  const jzzGm = (n: number) => (JZZ.MIDI as unknown as { programName(n: number): string }).programName(n);
  const plain = (name: string) => name.toLowerCase().replace(/[^a-z0-9+]/g, '');

  it('General MIDI programs, in jzz-midi-gm', () => {
    const differing = GENERAL_MIDI_PROGRAMS.flatMap((name, n) =>
      plain(jzzGm(n)) === plain(name) ? [] : [[n, jzzGm(n)] as const],
    );
    // 7 is “Clavi” in the standard, the library writes the instrument's longer name; 54 is “Synth Voice” there.
    expect(differing).toEqual([
      [7, 'Clavinet'],
      [54, 'Synth Choir'],
    ]);
  });
  it('General MIDI programs, in @tonejs/midi', () => {
    const midi = new tone.Midi();
    const track = midi.addTrack();
    const toneGm = (n: number) => {
      track.instrument.number = n;
      return track.instrument.name;
    };
    const differing = GENERAL_MIDI_PROGRAMS.flatMap((name, n) =>
      plain(toneGm(n)) === plain(name) ? [] : [[n, toneGm(n)] as const],
    );
    expect(differing).toEqual([]);
  });

  it('every row sends and is read back', () => {
    for (const { rows } of READY_CHARTS) {
      const device = makeDevice({ channel: 3 });
      for (const row of rows) {
        const fn = { ...row, id: row.name };
        const { max } = valueBounds(fn.shape);
        const reader = new SequenceReader();
        const read = messagesFor(device, fn, max).map((m) => readFunction(device, fn, m, reader.read(m)));
        expect([row.name, read.includes(max)]).toEqual([row.name, true]);
      }
      expect(chartDoubles({ ...device, chart: rows.map((r) => ({ ...r, id: r.name })) }).size).toBe(0);
    }
  });
  it('machine control begins with stop and arms track 9 in the second byte of the mask', () => {
    // Source: MIDI Machine Control RP-013 (from memory): track t is bit (t + 4) mod 7 of byte ⌊(t + 4)/7⌋.
    const rows = READY_CHARTS.find((c) => c.key === 'machine-control')!.rows;
    const bytes = (name: string) => {
      const row = rows.find((r) => r.name === name)!;
      return bytesOf(messagesFor(makeDevice(), { ...row, id: 'x' }, valueBounds(row.shape).max));
    };
    expect(bytes('Stop')).toBe('F0 7F 7F 06 01 F7');
    expect(bytes('Arm track 9')).toBe('F0 7F 7F 06 41 04 4F 01 40 40 F7');
  });
  /** A name without what says which half, which switch position or which thing is meant. */
  const core = (name: string) =>
    name
      .toLowerCase()
      .replace(/\b(msb|lsb|on|off|on\/off|channel|controller|wheel|pedal|prefix|mode|number|all)\b/g, '')
      .replace('non-registered parameter', 'nrpn')
      .replace('registered parameter', 'rpn')
      .replace(/[^a-z0-9]/g, '');
  const differences = (theirs: (n: number) => string) =>
    Array.from({ length: 128 }, (_, n) => n).flatMap((n) => {
      const [mine, other] = [core(controllerName(n) ?? 'undefined'), core(theirs(n))];
      return mine === other ? [] : [[n, controllerName(n), theirs(n)]];
    });
  it('standard controller names, in jzz', () => {
    const jzz = (n: number) =>
      /-- (.*)$/.exec(
        (JZZ.MIDI as unknown as { control(...a: number[]): object }).control(0, n, 127).toString(),
      )![1]!;
    // 31 is undefined in the standard; 71 is “Sound controller 2, timbre” there and the library uses a later default.
    expect(differences(jzz)).toEqual([
      [31, null, 'Karaoke'],
      [71, 'Timbre', 'Filter Resonance'],
    ]);
  });
  it('standard controller names, in webmidi', () => {
    const names = (Enumerations as unknown as { CONTROL_CHANGE_MESSAGES: { number: number; name: string }[] })
      .CONTROL_CHANGE_MESSAGES;
    const spelled = (n: number) =>
      names[n]!.name.replace(/^controller\d+$/, 'undefined')
        .replace(/coarse$|fine$/, '')
        .replace(/^effect(\d)/, 'effects$1')
        .replace(/wheel|pedal|prefix|mode|^channel|^(reset)all/g, '$1')
        .replace(/(?<!sound|foot|general)controllers?(?=\d|$)/, (w) => (w === 'controllers' ? w : ''))
        .replace('footcontroller', 'foot')
        .replace('nonregisteredparameter', 'nrpn')
        .replace('registeredparameter', 'rpn')
        .replace(/^all/, '')
        .replace(/(sound|notes|omni|mono|poly)(off|on)$/, '$1');
    // 48 to 51 are the fine halves of 16 to 19 and 79 is the last sound controller in the standard; the library has
    // no name for them. 71 as above.
    expect(differences(spelled).map(([n]) => n)).toEqual([48, 49, 50, 51, 71, 79]);
  });
});
