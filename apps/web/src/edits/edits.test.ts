import { layersOf, type FullRig } from '@idle-step/core/routing';
import { presetFaults, PresetSchema, RigSchema, SongSchema } from '@idle-step/contract';
import { driveText } from '@idle-step/core/formats';
import { PLAIN_ASSIGNMENT } from '@idle-step/core/floor';
import { sceneCells, type Part } from '@idle-step/core/show';
import { demoPresets, demoRig, demoSongs } from '@idle-step/demo';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addRows } from './chartEdits';
import { moved } from './moved';
import { newLayer, withLayerNamed, withRoute, withRoutes } from './routeEdits';
import { assignmentOf, newAction, newBank, newSweep, withAssignment } from './presetEdits';
import { withNewBoard, withNewControls, withoutBoard } from './boardEdits';
import { DEVICE_KINDS, withNewDevice } from './newDevice';
import { exampleBytes, rangeWords, valueWords } from '../words/chartWords';
import { withoutValue, withValue } from '@idle-step/core/sheet';
import {
  barsToSplit,
  newSong,
  withNewScene,
  withNewSceneAfter,
  withSceneCopy,
  withSceneSplit,
} from './songEdits';
import { freeName } from '../words/names';
import { minutes, parseMinutes } from '../words/times';

const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
const row = (name: string) => kelpline.chart.find((f) => f.name === name)!;

describe('one more scene', () => {
  const heron = demoSongs.find((s) => s.name === 'Heron')!;
  const names = (song: typeof heron) => song.scenes.map((s) => s.name);
  const [first, ...others] = names(heron) as [string, ...string[]];

  it('stands behind the one that it was asked for at, under a name that is free', () => {
    const song = withNewSceneAfter(heron, 0);
    expect(names(song)).toEqual([first, `${first} 2`, ...others]);
    expect([song.scenes[1]!.values, SongSchema.safeParse(song).success]).toEqual([[], true]);
    expect(names(withNewSceneAfter({ ...heron, scenes: [] }, 0))).toEqual(['Scene']);
  });

  it('as a copy sets the same and is another scene', () => {
    const id = crypto.randomUUID();
    const song = withSceneCopy(heron, 0, id);
    expect([song.scenes[1]!.id, song.scenes[1]!.values]).toEqual([id, heron.scenes[0]!.values]);
    expect(new Set(song.scenes.map((s) => s.id)).size).toBe(song.scenes.length);
  });
});

describe('a new layer', () => {
  const made = newLayer(demoRig);
  const added = withRoutes(demoRig, (routes) => [made, ...routes]);
  const playing = (rig: FullRig, portId: string, channel: number): FullRig =>
    withRoute(rig, made.id, (r) => ({ ...r, to: [{ portId, channel }] }));
  const nameIn = (rig: FullRig) => rig.routing.routes.find((r) => r.id === made.id)!.name;
  const layer = layersOf(demoRig).find((l) => l.level)!;
  const [{ portId, channel }] = layer.route.to as [{ portId: string; channel: number }];

  it('is called after the device that it plays, until somebody names it', () => {
    const { name } = layer.level!.device;
    expect(nameIn(withLayerNamed(playing(added, portId, channel), made.id))).toMatch(new RegExp(`^${name}`));
    const own = withRoute(playing(added, portId, channel), made.id, (r) => ({ ...r, name: 'Strings' }));
    expect(nameIn(withLayerNamed(own, made.id))).toBe('Strings');
  });
});

describe('a new device', () => {
  it('leaves the rig one that the contract takes, whatever is added and however often', () => {
    const empty: FullRig = { ...demoRig, devices: [], cables: [], boards: [] };
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...DEVICE_KINDS.map((k) => k.kind)), { maxLength: 24 }),
        fc.boolean(),
        (kinds, onDemo) => {
          const start = onDemo ? demoRig : empty;
          const rig = kinds.reduce((r, kind) => withNewDevice(r, kind).rig, start);
          expect(RigSchema.safeParse(rig).error?.issues ?? []).toEqual([]);
          expect(rig.devices).toHaveLength(start.devices.length + kinds.length);
        },
      ),
      { seed: 101, numRuns: 60 },
    );
  });

  it('takes a channel of its own: boards from 16 down, what answers from 1 up', () => {
    const { rig, deviceId } = withNewDevice(demoRig, 'string-processor');
    expect(rig.devices.find((d) => d.id === deviceId)!.channel).toBe(1);
    const board = withNewBoard(demoRig, 'four-small', false);
    expect(board.rig.devices.find((d) => d.id === board.deviceId)!.channel).toBe(12);
    expect(board.rig.boards.at(-1)!.controls).toHaveLength(4);
  });
});

it('a new looper gets the channel after its own for the track that is selected, and nobody else does', () => {
  const { rig, deviceId } = withNewDevice(demoRig, 'looper');
  const made = rig.devices.find((d) => d.id === deviceId)!;
  expect(made.extraChannels).toEqual([{ name: 'the track selected now', channel: made.channel + 1 }]);
  const selected = made.chart.find((f) => f.name === 'Record selected')!;
  expect(exampleBytes(made, selected)).toMatch(
    new RegExp(`^B${(made.channel + 1).toString(16).toUpperCase()} 1B`),
  );
  const next = withNewDevice(rig, 'receiver');
  const channel = next.rig.devices.find((d) => d.id === next.deviceId)!.channel;
  expect([made.channel, made.channel + 1]).not.toContain(channel);
});

describe('a new board', () => {
  it('is called after what it is, and the next one like it is told apart', () => {
    const once = withNewBoard(demoRig, 'three-switches', false);
    const twice = withNewBoard(once.rig, 'three-switches', false);
    const third = withNewBoard(twice.rig, 'sixteen-pads', true);
    expect(third.rig.devices.slice(-3).map((d) => d.name)).toEqual([
      'Switches',
      'Switches 2',
      'Pads on screen',
    ]);
  });

  it('is put on a controller that has none, and on no other', () => {
    const bare: FullRig = { ...demoRig, boards: demoRig.boards.slice(1) };
    const owner = withoutBoard(bare).find((d) => d.id === demoRig.boards[0]!.deviceId);
    const made = withNewBoard(bare, 'ten-and-two', false, owner!.id);
    expect(made.rig.devices).toBe(bare.devices);
    expect(made.rig.boards.at(-1)!.deviceId).toBe(owner!.id);
    expect(withoutBoard(made.rig)).toEqual(withoutBoard(demoRig));
  });

  it('fills a row before it begins the next, also on an empty board that grows', () => {
    const { rig, boardId } = withNewBoard(demoRig, 'empty', false);
    const board = rig.boards.find((b) => b.id === boardId)!;
    const made = withNewControls(board, 'footswitch', 7).board;
    expect(made.controls.map((c) => [c.xMm, c.yMm])).toEqual([
      [12, 12],
      [128, 12],
      [244, 12],
      [12, 132],
      [128, 132],
      [244, 132],
      [12, 252],
    ]);
  });
});

describe('a preset', () => {
  const preset = demoPresets[0]!;
  const bank = preset.banks[0]!;
  const free = '00000000-0000-4000-8000-00000000f00d';

  it('gets an assignment, keeps the place of one that is changed, and drops one that does nothing', () => {
    const first = bank.assignments[0]!;
    const changed = withAssignment(preset, bank.id, { ...first, label: 'New' });
    expect(changed.banks[0]!.assignments.map((a) => a.controlId)).toEqual(
      bank.assignments.map((a) => a.controlId),
    );
    expect(assignmentOf(first.controlId, changed.banks[0]).label).toBe('New');
    const emptied = withAssignment(changed, bank.id, {
      ...first,
      ...PLAIN_ASSIGNMENT,
    } as never);
    expect(emptied.banks[0]!.assignments).toHaveLength(bank.assignments.length - 1);
    expect(assignmentOf(free, bank)).toEqual({ controlId: free, ...PLAIN_ASSIGNMENT });
  });

  it('with new actions, sweeps and banks is one that the contract takes', () => {
    const first = bank.assignments[0]!;
    const made = withAssignment({ ...preset, banks: [...preset.banks, newBank(4)] }, bank.id, {
      ...first,
      press: [
        newAction({ kind: 'set', functionId: row('Snapshot').id, value: 0 }),
        newAction({ kind: 'panic' }),
      ],
      sweeps: [newSweep(row('Volume'))],
    });
    expect(PresetSchema.safeParse(made).success).toBe(true);
    expect(presetFaults(demoRig, made)).toEqual([]);
  });

  it('that points at what is gone says where', () => {
    const first = bank.assignments[0]!;
    const broken = withAssignment(preset, bank.id, {
      ...first,
      press: [
        newAction({ kind: 'toggle', functionId: row('Volume').id }),
        newAction({ kind: 'set', functionId: row('Snapshot').id, value: 8 }),
        newAction({ kind: 'toggle', functionId: free }),
        newAction({ kind: 'bank', to: { kind: 'bank', bankId: free } }),
        newAction({ kind: 'raw', portId: free, bytes: [] }),
      ],
    });
    expect(presetFaults(demoRig, broken).map((f) => f.sentence)).toEqual([
      'Crossing, far 1: Volume is no switch, so it cannot be switched on and off.',
      'Crossing, far 1: Kelpline Snapshot does not take 8 (sent); it takes 1 to 8 as shown.',
      "Crossing, far 1: the function is gone from the rig's charts.",
      'Crossing, far 1: the bank it goes to is gone.',
      'Crossing, far 1: the port is gone from the rig.',
    ]);
  });
});

describe('a song', () => {
  const song = demoSongs[3]!;
  const chorus = song.scenes[2]!;
  it('setting and clearing a value gives the song back', () => {
    const volume = row('Volume').id;
    const set = withValue(song, chorus.id, volume, 99);
    expect(sceneCells(set, 4).get(volume)).toEqual({ value: 99, setIn: 2, way: null });
    expect(withoutValue(set, chorus.id, volume)).toEqual(song);
  });
  it('a new scene carries everything; a new song is one that the contract takes', () => {
    const { song: longer } = withNewScene(song);
    expect([...sceneCells(longer, 5)]).toEqual([...sceneCells(song, 4)]);
    expect(SongSchema.safeParse(newSong(demoRig.id, 'New')).success).toBe(true);
  });
  it.each([
    [0, '0:00'],
    [59.6, '1:00'],
    [245, '4:05'],
    [3599, '59:59'],
    [3600, '1:00:00'],
    [3725, '1:02:05'],
  ])('%f s is shown as %s and read back', (seconds, text) => {
    expect(minutes(seconds)).toBe(text);
    expect(parseMinutes(text)).toEqual({ value: Math.round(seconds) });
  });
  it.each(['', 'four', '4:5', '4:60x', '99:00:00'])('“%s” is no length', (text) =>
    expect(parseMinutes(text)).toHaveProperty('error'),
  );
  it.each([
    [['Song', 'song 2'], 'Song', 'Song 3'],
    [['Bank 2'], 'Bank 2', 'Bank 3'],
    [['Bank 2', 'bank 3'], 'Bank 2', 'Bank 4'],
    [['7'], '7', '7 2'],
    [['Verse'], 'Bridge', 'Bridge'],
    [[], 'Verse 2', 'Verse 2'],
  ])('of %j a copy of “%s” is “%s”', (taken, name, free) => expect(freeName(taken, name)).toBe(free));
});

describe('chart rows in words', () => {
  it.each([
    ['Program', 'program', '6 named programs', 'C2 7F'],
    ['Snapshot', 'CC 22', '1 Dry to 8 Lead', 'B2 16 07'],
    ['Echo', 'CC 27', 'on 127, off 0', 'B2 1B 7F'],
    ['Volume', 'CC 7', '0 to 127', 'B2 07 7F'],
  ])('%s', (name, drive, range, bytes) => {
    expect([
      driveText(row(name).drive, 3),
      rangeWords(kelpline, row(name)),
      exampleBytes(kelpline, row(name)),
    ]).toEqual([drive, range, bytes]);
  });
  it('show the sent number beside the one that people see only where they differ', () => {
    expect(valueWords(kelpline, row('Snapshot'), 2)).toBe('3 Full (sent 2)');
    expect(valueWords(kelpline, row('Volume'), 81)).toBe('81');
  });
});

it('moving a row and back gives the list back', () => {
  fc.assert(
    fc.property(fc.array(fc.integer(), { minLength: 1 }), fc.nat(), fc.nat(), (list, a, b) => {
      const [from, to] = [a % list.length, b % list.length];
      expect(moved(moved(list, from, to), to, from)).toEqual(list);
    }),
    { seed: 102 },
  );
});

it('more rows than a chart holds are refused before they are held against each other', () => {
  const device = demoRig.devices.find((d) => d.chart.length > 0)!;
  const row = { ...device.chart[0]!, name: 'Level' };
  const result = addRows(
    device,
    Array.from({ length: 20_000 }, () => row),
  );
  expect(result).toEqual({
    faults: [
      {
        line: null,
        sentence: `${device.name} has ${device.chart.length} rows and these are 20000 more; a chart holds 2000.`,
      },
    ],
  });
});

describe('a scene split in two', () => {
  const base = demoSongs.find((s) => s.name === 'Slow Ferry')!;
  const [intro, verse] = base.scenes;
  const part = (sceneId: string, length: (typeof base.parts)[number]['length']) => ({
    ...base.parts[0]!,
    id: crypto.randomUUID(),
    sceneId,
    length,
  });
  const song = {
    ...base,
    tempoBpm: 120,
    parts: [
      part(verse!.id, { amount: 16, unit: 'bars' }),
      part(intro!.id, { amount: 4, unit: 'bars' }),
      // 4/4 at 120: a bar is 4 beats, and 2 s.
      part(verse!.id, { amount: 24, unit: 'beats' }),
      part(verse!.id, { amount: 10, unit: 's' }),
      part(verse!.id, { amount: 2, unit: 'bars' }),
      part(verse!.id, null),
    ],
  };
  const id = crypto.randomUUID();
  const lengths = (after: number | null) => {
    const split = withSceneSplit(song, 1, id, after);
    expect(SongSchema.safeParse(split).error).toBeUndefined();
    expect(split.scenes[2]).toMatchObject({ id, name: 'Verse 2', values: [] });
    return split.parts.map((p) => [p.sceneId === id ? 'second' : 'first', p.length?.amount ?? null]);
  };
  it('splits the lengths of its parts at the bar that one says; one that is shorter stays whole', () =>
    expect(lengths(4)).toEqual([
      ['first', 4],
      ['second', 12],
      ['first', 4],
      ['first', 16],
      ['second', 8],
      ['first', 8],
      ['second', 2],
      ['first', 2],
      ['first', null],
      ['second', null],
    ]));
  it('takes no time away, wherever it is split', () => {
    for (const after of [1, 3, 5, 7.5]) {
      const split = withSceneSplit(song, 1, id, after);
      for (const unit of ['bars', 'beats', 's'] as const) {
        const sum = (parts: readonly Part[]) =>
          parts.reduce((n, p) => n + (p.length?.unit === unit ? p.length.amount : 0), 0);
        expect(sum(split.parts)).toBeCloseTo(sum(song.parts), 6);
      }
    }
  });
  it('knows how many bars there are to split, and none where no length is known', () => {
    expect(barsToSplit(song, verse!.id)).toBe(16);
    expect(barsToSplit({ ...song, parts: [] }, verse!.id)).toBe(null);
  });
});
