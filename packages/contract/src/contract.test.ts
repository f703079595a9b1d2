import { describe, expect, it } from 'vitest';
import type { z } from 'zod';
import {
  ActionSchema,
  ChartFunctionSchema,
  DeviceSchema,
  DriveSchema,
  fieldErrors,
  PresetSchema,
  RigSchema,
  SetlistSchema,
  ShapeSchema,
  SongSchema,
} from './index';

let next = 0;
const id = () => `00000000-0000-4000-8000-${String(++next).padStart(12, '0')}`;

/** The sentences with which a schema refuses, `[]` when it takes the value. */
function sentences(schema: z.ZodType, value: unknown): string[] {
  const result = schema.safeParse(value);
  return result.success ? [] : fieldErrors(result.error).map((e) => `${e.path}: ${e.message}`);
}

const fn = (part: object = {}) => ({
  id: id(),
  name: 'Volume',
  drive: { kind: 'controller', controller: 7 },
  shape: { kind: 'range', min: 0, max: 127, shownFrom: 0 },
  channel: null,
  arms: null,
  settleMs: 0,
  ...part,
});
const device = (part: object = {}) => ({
  id: id(),
  name: 'Kelpline',
  description: '',
  role: 'receiver',
  mark: { shape: 'tee', colour: 'leaf' },
  channel: 0,
  programsShownFrom: 0,
  standIn: null,
  away: false,
  ports: [],
  chart: [],
  ...part,
});
const rig = (part: object = {}) => ({
  id: id(),
  name: 'Rig',
  middleC: 3,
  devices: [],
  cables: [],
  boards: [],
  ...part,
});
const song = (part: object = {}) => ({
  id: id(),
  rigId: id(),
  name: 'Song',
  tempoBpm: 100,
  beatsPerBar: 4,
  lengthS: 0,
  scenes: [],
  ...part,
});
const preset = (part: object = {}) => ({
  id: id(),
  rigId: id(),
  boardId: id(),
  name: 'Preset',
  banks: [{ id: id(), name: 'Bank', assignments: [] }],
  ...part,
});

describe('numbers at both bounds and just outside', () => {
  const channel = (n: unknown) => [DeviceSchema, device({ channel: n })] as const;
  const cc = (n: unknown) => [DriveSchema, { kind: 'controller', controller: n }] as const;
  const track = (n: unknown) => [DriveSchema, { kind: 'record-ready', track: n }] as const;
  const bank = (n: unknown) => [DriveSchema, { kind: 'program', bank: n }] as const;
  const settle = (n: unknown) => [ChartFunctionSchema, fn({ settleMs: n })] as const;
  const tempo = (n: unknown) => [SongSchema, song({ tempoBpm: n })] as const;
  const beats = (n: unknown) => [SongSchema, song({ beatsPerBar: n })] as const;
  const length = (n: unknown) => [SongSchema, song({ lengthS: n })] as const;
  const raw = (bytes: unknown) => [ActionSchema, { id: id(), kind: 'raw', portId: id(), bytes }] as const;

  it.each([
    ['channel 0', channel(0)],
    ['channel 15', channel(15)],
    ['controller 0', cc(0)],
    ['controller 127', cc(127)],
    ['track 1', track(1)],
    ['track 64', track(64)],
    ['bank 16383', bank(16383)],
    ['no bank', bank(null)],
    ['settle 0', settle(0)],
    ['settle 10 s', settle(10_000)],
    ['tempo 20', tempo(20)],
    ['tempo 400', tempo(400)],
    ['tempo 92.5', tempo(92.5)],
    ['one beat', beats(1)],
    ['thirty-two beats', beats(32)],
    ['a bar of eighths', [SongSchema, song({ beatsPerBar: 6, beatUnit: 8 })] as const],
    ['ten hours', length(36_000)],
    ['no bytes yet', raw([])],
    ['running status', raw([0xb0, 7, 1, 7, 2])],
    ['SysEx', raw([0xf0, 0x7d, 1, 0xf7])],
  ] as [string, readonly [z.ZodType, unknown]][])('takes %s', (_name, [schema, value]) =>
    expect(sentences(schema, value)).toEqual([]),
  );

  it.each([
    ['channel −1', channel(-1), 'Channel 0 does not exist'],
    ['channel 16', channel(16), 'Channel 17 does not exist; channels are 1 to 16 (sent as 0 to 15).'],
    ['channel 1.5', channel(1.5), 'is not a whole number'],
    ['controller −1', cc(-1), 'Controller -1 is out of range; 0 to 127 would be right.'],
    ['controller 128', cc(128), 'Controller 128 is out of range; 0 to 127 would be right.'],
    ['controller “7”', cc('7'), 'Controller “7” is not a whole number; 0 to 127 would be right.'],
    ['track 0', track(0), 'Track 0 is out of range; 1 to 64 would be right.'],
    ['track 65', track(65), 'Track 65 is out of range; 1 to 64 would be right.'],
    ['bank 16384', bank(16384), 'Bank 16384 is out of range'],
    ['settle −1', settle(-1), 'Settle time -1 is out of range; 0 to 10000 ms would be right.'],
    ['settle 10001', settle(10_001), 'Settle time 10001 is out of range'],
    ['tempo 19.9', tempo(19.9), 'Tempo 19.9 is out of range; 20 to 400 bpm would be right.'],
    ['tempo 401', tempo(401), 'Tempo 401 is out of range'],
    ['tempo nothing', tempo(undefined), 'Tempo nothing is not a number; 20 to 400 bpm would be right.'],
    ['no beats', beats(0), 'Beats to the bar 0 is out of range; 1 to 32 would be right.'],
    ['thirty-three beats', beats(33), 'Beats to the bar 33 is out of range'],
    [
      'a bar of thirds',
      [SongSchema, song({ beatUnit: 3 })] as const,
      'A bar of beats like 3 is none; 1, 2, 4, 8, 16 or 32 would be right.',
    ],
    ['a length below 0', length(-1), 'Length -1 is out of range'],
    ['byte 256', raw([256]), 'Byte 256 is out of range; 0 to 255 would be right.'],
    ['half a message', raw([0xb0, 7]), 'These bytes are not whole messages: incomplete at byte 3.'],
    ['data without a status', raw([7]), 'stray data at byte 1.'],
  ] as [string, readonly [z.ZodType, unknown], string][])('refuses %s', (_name, [schema, value], sentence) =>
    expect(sentences(schema, value).join(' ')).toContain(sentence),
  );
});

describe('what does not go together is refused at its place', () => {
  it.each([
    [
      'a switch whose two values are one',
      ShapeSchema,
      { kind: 'switch', off: 1, on: 1 },
      'on: On and off send the same value, so off cannot be told from on.',
    ],
    [
      'a choice of nothing',
      ShapeSchema,
      { kind: 'choice', first: 0, shownFrom: 1, labels: [] },
      'labels: A choice needs at least one value.',
    ],
    [
      'a choice with a number too few',
      ShapeSchema,
      { kind: 'choice', first: 0, shownFrom: 1, labels: ['Dry', 'Full'], sent: [0] },
      'sent: There are 1 numbers to send for 2 names; one each would be right.',
    ],
    [
      'a choice whose numbers fall',
      ShapeSchema,
      { kind: 'choice', first: 0, shownFrom: 1, labels: ['Dry', 'Full'], sent: [64, 0] },
      'sent: The numbers that are sent have to rise from name to name.',
    ],
    [
      'a choice of numbers that starts elsewhere',
      ShapeSchema,
      { kind: 'choice', first: 3, shownFrom: 1, labels: ['Dry', 'Full'], sent: [0, 64] },
      'sent: Where each name has a number of its own, the first is 0 and not 3.',
    ],
    [
      'a choice beyond what its message carries',
      ChartFunctionSchema,
      fn({
        name: 'Mode',
        shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['A', 'B'], sent: [0, 128] },
      }),
      'shape: Mode: 128 is more than its message carries; up to 127 would be right.',
    ],
    [
      'a transport command that is a switch',
      ChartFunctionSchema,
      fn({
        name: 'Play',
        drive: { kind: 'transport', command: 'play' },
        shape: { kind: 'switch', off: 0, on: 1 },
      }),
      'shape: Play: a machine transport command drives a function of the kind trigger, not switch.',
    ],
    [
      'two functions of one name',
      RigSchema,
      rig({ devices: [device({ chart: [fn(), fn({ name: 'volume' })] })] }),
      'devices.0.chart.1.name: Kelpline has a function called volume already.',
    ],
    [
      'a board without its device',
      RigSchema,
      rig({
        boards: [
          { id: id(), deviceId: id(), presetId: null, widthMm: 1, heightMm: 1, xMm: 0, yMm: 0, controls: [] },
        ],
      }),
      'boards.0.deviceId: The device of this board is gone.',
    ],
    [
      'a preset without banks',
      PresetSchema,
      preset({ banks: [] }),
      'banks: A preset needs at least one bank.',
    ],
    ['note 60 called C2', RigSchema, rig({ middleC: 2 }), 'middleC: Note 60 is called C3, C4 or C5.'],
  ] as [string, z.ZodType, unknown, string][])('%s', (_name, schema, value, sentence) =>
    expect(sentences(schema, value)).toContain(sentence),
  );

  it('two controls that send the same', () => {
    const owner = device({ role: 'controller' });
    const control = () => ({
      id: id(),
      name: 'a',
      kind: 'footswitch',
      xMm: 0,
      yMm: 0,
      widthMm: 1,
      heightMm: 1,
      sends: { kind: 'note', number: 36 },
    });
    const board = {
      id: id(),
      deviceId: owner.id,
      presetId: null,
      widthMm: 1,
      heightMm: 1,
      xMm: 0,
      yMm: 0,
      controls: [control(), control()],
    };
    expect(sentences(RigSchema, rig({ devices: [owner], boards: [board] }))).toEqual([
      'boards.0.controls.1.sends: Another control of this board sends note 36 already, so they cannot be told apart.',
    ]);
  });

  it('a scene that sets a function twice, an assignment made twice', () => {
    const functionId = id();
    const scenes = [
      {
        id: id(),
        name: 'A',
        values: [
          { functionId, value: 1 },
          { functionId, value: 2 },
        ],
      },
    ];
    expect(sentences(SongSchema, song({ scenes }))).toEqual([
      'scenes.0.values.1: A sets the same function twice.',
    ]);
    const controlId = id();
    const assignment = { controlId, label: '', press: [], release: [], sweeps: [] };
    const banks = [{ id: id(), name: 'B', assignments: [assignment, assignment] }];
    expect(sentences(PresetSchema, preset({ banks }))).toEqual([
      'banks.0.assignments.1.controlId: B has two assignments for the same control.',
    ]);
  });

  it('a break without a name keeps a set from being stored', () => {
    const entries = [{ id: id(), kind: 'break', name: '', lengthS: 60 }];
    expect(sentences(SetlistSchema, { id: id(), rigId: id(), name: 'Set', entries })).toEqual([
      'entries.0.name: The name is empty; one character is enough.',
    ]);
  });
});

describe('presets', () => {
  const assignment = (part: object = {}) => ({
    controlId: id(),
    label: '',
    press: [],
    release: [],
    sweeps: [],
    ...part,
  });
  const page = { id: id(), kind: 'page', groupId: id(), to: { kind: 'up' } };
  const tap = { id: id(), kind: 'tap' };
  const bank = (assignments: object[]) => ({ id: id(), name: 'B', assignments });

  it('of earlier saves are read with what has been added since', () => {
    const read = PresetSchema.parse(preset({ banks: [bank([assignment()])] }));
    expect(read).toMatchObject({ folder: '', groups: [], feel: [], banks: [{ colour: null, remark: '' }] });
    expect(read.banks[0]!.assignments[0]).toMatchObject({
      toe: [],
      heel: [],
      lamp: null,
      response: { takeover: 'jump' },
    });
  });
  it.each([
    [
      'a control that turns pages and sends',
      [assignment({ press: [page, tap] })],
      'banks.0.assignments.0: B: a control either turns pages or sends; take one of the two away.',
    ],
    [
      'a control that turns pages and sends on another gesture',
      [assignment({ press: [page], release: [tap] })],
      'banks.0.assignments.0: B: a control either turns pages or sends; take one of the two away.',
    ],
  ])('refuse %s', (_name, assignments, sentence) =>
    expect(sentences(PresetSchema, preset({ banks: [bank(assignments)] }))).toEqual([sentence]),
  );
  it('take one that turns pages only', () =>
    expect(sentences(PresetSchema, preset({ banks: [bank([assignment({ press: [page] })])] }))).toEqual([]));
  it('refuse a control in two groups, and one that banks tell as well', () => {
    const controlId = id();
    const group = () => ({ id: id(), name: 'G', controlIds: [controlId], pages: [bank([])] });
    expect(sentences(PresetSchema, preset({ banks: [bank([])], groups: [group(), group()] }))).toEqual([
      'groups.1.controlIds: A control can have the pages of one group only.',
    ]);
    const told = preset({ banks: [bank([assignment({ controlId, press: [tap] })])], groups: [group()] });
    expect(sentences(PresetSchema, told)).toEqual([
      'banks.0.assignments.0: B: this control has pages of its own; what it does is said there.',
    ]);
  });
  it.each([
    [
      'points of a curve in order',
      [
        { x: 0.2, y: 0 },
        { x: 0.4, y: 1 },
      ],
      0,
    ],
    [
      'points that go back',
      [
        { x: 0.4, y: 0 },
        { x: 0.4, y: 1 },
      ],
      1,
    ],
    ['a point beyond the travel', [{ x: 1.1, y: 0 }], 1],
  ])('%s', (_name, points, faults) => {
    const sweep = { id: id(), functionId: id(), from: 0, to: 127, invert: false, curve: 'points', points };
    expect(
      sentences(PresetSchema, preset({ banks: [bank([assignment({ sweeps: [sweep] })])] })),
    ).toHaveLength(faults);
  });
});

it('names are kept without the spaces at their ends', () => {
  expect(SongSchema.parse(song({ name: '  Slow Ferry ' })).name).toBe('Slow Ferry');
});
