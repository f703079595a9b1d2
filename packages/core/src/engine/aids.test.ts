import { NO_ROUTE_MEMORY } from '../routing';
import { describe, expect, it } from 'vitest';
import type { Action, Assignment } from '../floor';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  makeSong,
  registersAt,
} from '../testing.test-support';
import {
  actionWires,
  armedTracks,
  compileWorld,
  devicesMoved,
  drivenBy,
  initialState,
  labelOf,
  lampOf,
  pressLanes,
  sceneCost,
  scenePlan,
} from './index';
import { controller } from '../midi';

const out = makePort({ id: 'out', direction: 'out', link: 'din', atComputer: true });
const carrier = makeDevice({ role: 'carrier', ports: [out] });
const processor = makeDevice({
  id: 'processor',
  name: 'Kelpline',
  channel: 2,
  ports: [makePort({ id: 'in' })],
  chart: [
    makeFunction({
      id: 'program',
      name: 'Program',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [{ program: 13, name: 'Bow wide' }] },
      settleMs: 42,
    }),
    makeFunction({
      id: 'snapshot',
      name: 'Snapshot',
      drive: { kind: 'controller', controller: 22 },
      shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['Dry', '', 'Full'] },
    }),
    makeFunction({
      id: 'echo',
      name: 'Echo',
      drive: { kind: 'controller', controller: 27 },
      shape: { kind: 'switch', off: 0, on: 127 },
    }),
    makeFunction({ id: 'volume', name: 'Volume', drive: { kind: 'controller', controller: 7 } }),
    makeFunction({
      id: 'banked',
      name: 'Banked',
      drive: { kind: 'program', bank: 0 },
      shape: { kind: 'program', names: [] },
    }),
  ],
});
const host = makeDevice({
  id: 'host',
  ports: [makePort({ id: 'host-in', link: 'virtual', atComputer: true })],
  chart: [
    makeFunction({
      id: 'arm',
      arms: 'Bow',
      name: 'Arm Bow',
      drive: { kind: 'controller', controller: 102 },
      shape: { kind: 'switch', off: 0, on: 127 },
    }),
    makeFunction({
      id: 'ready',
      arms: 'Bow',
      name: 'Bow ready',
      drive: { kind: 'record-ready', track: 1 },
      shape: { kind: 'switch', off: 0, on: 1 },
    }),
    makeFunction({
      id: 'play',
      name: 'Play',
      drive: { kind: 'transport', command: 'play' },
      shape: { kind: 'trigger', sent: 0 },
    }),
  ],
});
const lost = makeDevice({ chart: [makeFunction({ id: 'lost' })] });
const song = makeSong('Song', [
  ['Intro', { program: 13, snapshot: 0, arm: 1 }],
  ['Verse', { snapshot: 2, play: 0 }],
]);
const { device, board, preset } = makeBoard(2, 1, [[], []]);
const world = compileWorld({
  rig: makeRig([device, carrier, processor, host, lost], [cable(out, processor.ports[0]!)], [board]),
  presets: [preset],
  setName: '',
  songs: [song],
});
type Loose = Parameters<typeof assign>[1][number];
const does = (action: Loose): Assignment => assign('s0', [action]);
const alone = (action: Loose): Action => does(action).press[0]!;

describe('a proposed label', () => {
  it.each([
    [{ kind: 'set', functionId: 'snapshot', value: 2 }, 'Full'],
    [{ kind: 'set', functionId: 'snapshot', value: 1 }, 'Snapshot 2'],
    [{ kind: 'set', functionId: 'program', value: 13 }, 'Bow wide'],
    [{ kind: 'set', functionId: 'echo', value: 0 }, 'Echo off'],
    [{ kind: 'set', functionId: 'play', value: 0 }, 'Play'],
    [{ kind: 'toggle', functionId: 'echo' }, 'Echo'],
    [{ kind: 'toggle', functionId: 'nowhere' }, 'gone'],
    [{ kind: 'raw', portId: 'out', bytes: [] }, 'Raw'],
    [{ kind: 'bank', to: { kind: 'up' } }, 'Bank up'],
    [{ kind: 'bank', to: { kind: 'bank', bankId: 'bank-1' } }, 'Bank 2'],
    [{ kind: 'bank', to: { kind: 'bank', bankId: 'x' } }, 'gone'],
    [{ kind: 'scene', to: { kind: 'next' } }, 'Next'],
    [{ kind: 'scene', to: { kind: 'previous' } }, 'Back'],
    [{ kind: 'scene', to: { kind: 'at', index: 1 } }, 'Verse'],
    [{ kind: 'scene', to: { kind: 'at', index: 2 } }, ''],
    [{ kind: 'song', to: 'next' }, 'Next song'],
    [{ kind: 'song', to: 'previous' }, 'Previous song'],
    [{ kind: 'panic' }, 'Panic'],
  ] as [Loose, string][])('of %j is “%s”', (action, label) =>
    expect(labelOf(world, does(action), 0)).toBe(label),
  );

  it('gives way to one’s own, comes from the release or the pedal, and is empty for nothing', () => {
    expect(labelOf(world, { ...does({ kind: 'panic' }), label: 'Help' }, 0)).toBe('Help');
    expect(labelOf(world, assign('s0', [], [{ kind: 'panic' }]), 0)).toBe('Panic');
    const sweep = {
      id: 'x',
      functionId: 'volume',
      from: 0,
      to: 127,
      invert: false,
      curve: 'linear' as const,
      points: [],
    };
    expect(labelOf(world, { ...assign('p0', []), sweeps: [sweep] }, 0)).toBe('Volume');
    expect([labelOf(world, assign('s0', []), 0), labelOf(world, undefined, 0)]).toEqual(['', '']);
    expect(labelOf(world, does({ kind: 'scene', to: { kind: 'at', index: 1 } }), 7)).toBe('Scene 2');
  });
});

describe('a lamp', () => {
  const state = {
    registers: registersAt(world, { echo: 1, snapshot: 2 }),
    pending: [],
    position: { entryId: world.songs[0]!.entryId, sceneId: song.scenes[1]!.id, partId: null },
    banks: { board: 'bank-1' },
    pages: {},
    ramps: [],
    clocks: {},
    latched: {},
    evens: {},
    line: null,
    held: {},
    routes: NO_ROUTE_MEMORY,
    run: null,
    here: initialState(world, 0).here,
  };
  it.each([
    [{ kind: 'toggle', functionId: 'echo' }, true],
    [{ kind: 'toggle', functionId: 'arm' }, false],
    [{ kind: 'set', functionId: 'snapshot', value: 2 }, true],
    [{ kind: 'set', functionId: 'snapshot', value: 0 }, false],
    [{ kind: 'set', functionId: 'nowhere', value: 0 }, false],
    [{ kind: 'scene', to: { kind: 'at', index: 1 } }, true],
    [{ kind: 'scene', to: { kind: 'at', index: 0 } }, false],
    [{ kind: 'bank', to: { kind: 'bank', bankId: 'bank-1' } }, true],
    [{ kind: 'bank', to: { kind: 'bank', bankId: 'bank-0' } }, false],
  ] as [Loose, boolean][])('of %j is %s, up or down', (action, lit) => {
    for (const down of [true, false])
      expect(lampOf(world, state, 0, does(action), down)).toBe(lit ? 'steady' : 'off');
  });
  it.each([
    { kind: 'set', functionId: 'play', value: 0 },
    { kind: 'scene', to: { kind: 'next' } },
    { kind: 'bank', to: { kind: 'up' } },
    { kind: 'song', to: 'next' },
    { kind: 'panic' },
  ] as Loose[])('of %j is lit while it is down', (action) =>
    expect([true, false].map((down) => lampOf(world, state, 0, does(action), down))).toEqual([
      'steady',
      'off',
    ]),
  );
  it('of a free switch stays dark', () => expect(lampOf(world, state, 0, undefined, true)).toBe('off'));
});

describe('what an action puts on the wire', () => {
  const off = { ...initialState(world, 0), registers: registersAt(world, { echo: 0, arm: 0 }) };
  // 320 µs a byte on DIN (MIDI 1.0 Detailed Specification, from memory).
  it.each([
    [{ kind: 'set', functionId: 'snapshot', value: 2 }, [[0xb2, 0x16, 2]], 0.96],
    [{ kind: 'toggle', functionId: 'echo' }, [[0xb2, 0x1b, 127]], 0.96],
    [
      { kind: 'set', functionId: 'banked', value: 5 },
      [
        [0xb2, 0, 0],
        [0xb2, 32, 0],
        [0xc2, 5],
      ],
      2.56,
    ],
    [{ kind: 'set', functionId: 'arm', value: 1 }, [[0xb0, 102, 127]], 0],
    [
      { kind: 'raw', portId: 'out', bytes: [0xc2, 1, 2] },
      [
        [0xc2, 1],
        [0xc2, 2],
      ],
      1.28,
    ],
  ] as [Loose, number[][], number][])('%j', (action, messages, ms) =>
    expect(actionWires(world, alone(action), off)).toMatchObject([{ messages, ms }]),
  );
  it('of a whole press, by port, with what waits for its delay last', () => {
    const snapshot = alone({ kind: 'set', functionId: 'snapshot', value: 1 });
    const arm = alone({ kind: 'toggle', functionId: 'arm' });
    const late = {
      ...alone({ kind: 'toggle', functionId: 'echo' }),
      delay: { amount: 50, unit: 'ms' as const },
    };
    const left = { ...alone({ kind: 'set', functionId: 'snapshot', value: 0 }), isOff: true };
    expect(pressLanes(world, [], off)).toEqual([]);
    expect(
      pressLanes(world, [late, left, snapshot, arm], off).map((l) => [l.portId, l.wires.length, l.doneMs]),
    ).toEqual([
      ['out', 2, 50.96],
      ['host-in', 1, 0],
    ]);
  });
  it('off first, where nothing tells whether it is on', () =>
    expect(
      actionWires(world, alone({ kind: 'toggle', functionId: 'echo' }), {
        ...off,
        registers: Object.fromEntries(Object.keys(off.registers).map((key) => [key, null])),
      }),
    ).toMatchObject([{ messages: [[0xb2, 0x1b, 0]], unknown: 'off', value: 0 }]));

  it.each([
    { kind: 'panic' },
    { kind: 'set', functionId: 'lost', value: 1 },
    { kind: 'set', functionId: 'nowhere', value: 1 },
    { kind: 'set', functionId: 'snapshot', value: 3 },
  ] as Loose[])('nothing for %j', (action) => expect(actionWires(world, alone(action), off)).toEqual([]));
});

it('a scene costs what differs from the one before, with its settle time', () => {
  // Program 2 bytes, then 42 ms, then the snapshot's 3 bytes: 0.64 + 42 + 0.96.
  expect(sceneCost(world, song, 0)).toEqual({ messages: 3, settlesInMs: 43.6 });
  expect(sceneCost(world, song, 1)).toEqual({ messages: 2, settlesInMs: 0.96 });
});

it('the plan of a scene keeps its port busy for all of its messages', () =>
  // Two bytes of a program and three of a controller, 0.32 ms each.
  expect(scenePlan(world, song, null, 0).wireMs.get('out')).toBeCloseTo(1.6, 9));

const at = (values: Record<string, number>) => ({ registers: registersAt(world, values), pending: [] });

it('armed tracks are named once, however many functions arm them', () => {
  expect(armedTracks(world, at({ arm: 1, ready: 1 })).map((t) => t.track)).toEqual(['Bow']);
  expect(armedTracks(world, at({ arm: 0 }))).toEqual([]);
});

it('a message on its way is known again as the function it drives', () => {
  expect(drivenBy(world, 'out', controller(2, 22, 2))).toMatchObject({
    reached: { fn: { id: 'snapshot' } },
    value: 2,
  });
  expect(drivenBy(world, 'host-in', controller(2, 22, 2))).toBeNull();
});

it('a go-to-scene moves the devices that the scene has values for', () => {
  const moved = devicesMoved(world, does({ kind: 'scene', to: { kind: 'at', index: 0 } }), 0);
  expect(moved.map((d) => d.id)).toEqual(['processor', 'host']);
});
