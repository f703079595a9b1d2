import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PLAIN_BANK, PLAIN_HARDWARE, type Assignment, type LampRule } from '../../floor';
import { controller } from '../../midi';
import { PLAIN_ROUTE, type Route } from '../../routing';
import { PLAIN_LINE } from '../../show';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  makeSong,
} from '../../testing.test-support';
import {
  compileWorld,
  initialState,
  isShining,
  step,
  type Command,
  type LiveEvent,
  type LiveState,
  type World,
} from '../index';
import { lampNow, lampTold } from './lamps';
import { bankInForce, pageOfGroup } from '../world/place';

const SWITCHES = 6;
/** The last two have pages of their own. */
const IN_GROUP = ['s4', 's5'];

const out = makePort({ id: 'out', direction: 'out', link: 'usb', atComputer: true });
const gearIn = makePort({ id: 'gear-in', direction: 'in', link: 'usb' });
const box = makeDevice({ role: 'carrier', ports: [out] });
const SWITCHED = { kind: 'switch' as const, off: 0, on: 127 };
const gear = makeDevice({
  id: 'gear',
  channel: 2,
  ports: [gearIn],
  chart: [
    makeFunction({ id: 'level', drive: { kind: 'controller', controller: 20 } }),
    makeFunction({ id: 'echo', drive: { kind: 'controller', controller: 21 }, shape: SWITCHED }),
    makeFunction({ id: 'swirl', drive: { kind: 'controller', controller: 22 }, shape: SWITCHED }),
    makeFunction({
      id: 'strike',
      drive: { kind: 'controller', controller: 23 },
      shape: { kind: 'trigger', sent: 1 },
    }),
  ],
});
const songs = [
  makeSong(
    'One',
    [
      ['A', { level: 5, echo: 0 }],
      ['B', { level: 90, swirl: 127 }],
    ],
    { line: { ...PLAIN_LINE, loop: { fromBar: 1, toBar: 1, isOn: false } } },
  ),
  makeSong('Two', [['C', { echo: 127 }]]),
];

const gated = (id: string, by: NonNullable<Route['gate']>['by']): Route => ({
  ...PLAIN_ROUTE,
  id,
  name: id,
  from: { ...PLAIN_ROUTE.from, portIds: ['board-out'] },
  gate: { by, startsOpen: false, holds: [], others: 'pass' },
  to: [{ portId: 'out', channel: 0 }],
});
const routes = [
  gated('by level', { kind: 'function', functionId: 'level', from: 64, to: 127 }),
  gated('by scene', { kind: 'scenes', sceneIds: [songs[0]!.scenes[1]!.id] }),
  gated('by foot', { kind: 'switch' }),
  gated('by pedal', {
    kind: 'controller',
    portId: null,
    channel: null,
    controller: 4,
    from: 64,
    to: 127,
  }),
];

/** Every kind of work that a lamp can follow. */
const WORKS: readonly object[] = [
  ...['level', 'strike', 'gone'].flatMap((functionId) => [
    { kind: 'set', functionId, value: 1 },
    { kind: 'set', functionId, value: 90 },
  ]),
  ...['echo', 'swirl'].flatMap((functionId) => [
    { kind: 'toggle', functionId },
    { kind: 'one-of', functionId, circle: 'round' },
    { kind: 'momentary', functionId, down: 127, up: 0 },
  ]),
  { kind: 'step', functionId: 'level', values: [0, 40, 90], direction: 'forward', atEnd: 'round' },
  {
    kind: 'ramp',
    functionId: 'level',
    from: 0,
    to: 100,
    time: { amount: 0.2, unit: 's' },
    curve: 'linear',
  },
  ...['start', 'stop'].map((to) => ({ kind: 'clock', portId: 'out', to })),
  ...['toggle', 'stop'].map((to) => ({ kind: 'line', to })),
  ...['toggle', 'on'].map((to) => ({ kind: 'loop', to })),
  ...routes.flatMap(({ id }) =>
    ['route', 'gate'].map((part) => ({ kind: 'route', routeId: id, part, to: 'toggle' })),
  ),
  { kind: 'route', routeId: 'gone', part: 'route', to: 'on' },
  ...[0, 1].map((index) => ({ kind: 'scene', to: { kind: 'at', index } })),
  { kind: 'scene', to: { kind: 'is', sceneId: songs[1]!.scenes[0]!.id } },
  { kind: 'scene', to: { kind: 'next' } },
  ...['bank-0', 'bank-1'].map((bankId) => ({ kind: 'bank', to: { kind: 'bank', bankId } })),
  { kind: 'bank', to: { kind: 'up' } },
  ...['page-0', 'page-1'].map((bankId) => ({
    kind: 'page',
    groupId: 'group',
    to: { kind: 'bank', bankId },
  })),
  { kind: 'page', groupId: 'group', to: { kind: 'down' } },
  ...['begin', 'end', 'next'].map((to) => ({ kind: 'show', to })),
  { kind: 'song', to: 'next' },
  { kind: 'tap' },
  { kind: 'song-tempo' },
  ...['toggle', 'on', 'off'].flatMap((to) =>
    ['click', 'hands-off'].map((thing) => ({ kind: 'here', thing, to })),
  ),
  { kind: 'panic' },
];
const anyWork = fc.constantFrom(...WORKS);
const anyRule = fc.constantFrom<LampRule | null>(
  null,
  null,
  { kind: 'work' },
  { kind: 'switch' },
  {
    kind: 'function',
    functionId: 'level',
    stops: [
      { from: 0, light: 'off', colour: null, sends: null },
      { from: 30, light: 'blink', colour: 'leaf', sends: 64 },
      { from: 80, light: 'steady', colour: null, sends: null },
    ],
  },
);
const anyAssignments = fc
  .array(fc.option(fc.tuple(anyWork, fc.option(anyWork), fc.boolean(), anyRule), { freq: 8 }), {
    minLength: SWITCHES,
    maxLength: SWITCHES,
  })
  .map((all) =>
    all.flatMap((given, i): Assignment[] => {
      if (!given) return [];
      const [work, other, takesTurns, lamp] = given;
      const press = other
        ? [
            { ...work, every: takesTurns ? 'odd' : undefined },
            { ...other, every: takesTurns ? 'even' : undefined },
          ]
        : [work];
      return [{ ...assign(`s${i}`, press as never), lamp }];
    }),
  );
/** Presses of so many switches, a pedal, commands and time that goes by. */
const deedsOf = (switches: number, maxLength: number) =>
  fc.array(
    fc.oneof(
      {
        weight: 8,
        arbitrary: fc.record({
          kind: fc.constant('switch' as const),
          index: fc.nat(switches - 1),
          down: fc.boolean(),
        }),
      },
      {
        weight: 2,
        arbitrary: fc.record({ kind: fc.constant('wait' as const), ms: fc.integer({ min: 1, max: 300 }) }),
      },
      fc.record({ kind: fc.constant('pedal' as const), value: fc.integer({ min: 0, max: 127 }) }),
      fc.record({
        kind: fc.constant('command' as const),
        command: fc.constantFrom<Command>(
          ...[0, 40, 90, 127].map((value) => ({ kind: 'set' as const, functionId: 'level', value })),
          { kind: 'show', to: 'begin' },
          { kind: 'show', to: 'end' },
          { kind: 'scene', to: 'next' },
          { kind: 'song', to: 'next' },
          { kind: 'line', to: 'toggle' },
          { kind: 'loop', to: 'toggle' },
          { kind: 'panic' },
          { kind: 'bank', boardId: 'board', to: 'up' },
          { kind: 'page', boardId: 'board', groupId: 'group', to: 'up' },
          { kind: 'route', routeId: 'by foot', part: 'gate', to: 'toggle' },
        ),
      }),
    ),
    { minLength: 5, maxLength },
  );
const anyRun = fc.record({
  banks: fc.tuple(anyAssignments, anyAssignments),
  pages: fc.tuple(anyAssignments, anyAssignments),
  hasLamps: fc.boolean(),
  deeds: deedsOf(SWITCHES, 30),
});
type Run = typeof anyRun extends fc.Arbitrary<infer T> ? T : never;

function worldOf({ banks, pages, hasLamps }: Run): World {
  const { device, board, preset } = makeBoard(SWITCHES, 1, banks);
  const own = (list: readonly Assignment[]) => list.filter((a) => IN_GROUP.includes(a.controlId));
  const groups = [
    {
      id: 'group',
      name: 'Group',
      controlIds: IN_GROUP,
      pages: pages.map((list, i) => ({
        ...PLAIN_BANK,
        id: `page-${i}`,
        name: `Page ${i}`,
        assignments: own(list),
      })),
    },
  ];
  const controls = board.controls.map((c, i) => ({
    ...c,
    hardware: {
      ...PLAIN_HARDWARE,
      switching: i % 3 === 0 ? ('latching' as const) : PLAIN_HARDWARE.switching,
      lamp: hasLamps && i % 2 === 0 ? { off: 0, on: 127, blink: 64 } : null,
    },
  }));
  const rig = makeRig([device, box, gear], [cable(out, gearIn)], [{ ...board, controls }]);
  const routing = { lines: [], routes, othersTo: [] };
  return compileWorld({
    rig: { ...rig, routing },
    presets: [{ ...preset, groups }],
    setName: '',
    songs,
  });
}

/** Lamps that were told something else than what they would be told now. */
function wrongLamps(world: World, state: LiveState): string[] {
  return world.boards.flatMap((board, boardIndex) =>
    [bankInForce(board, state), ...board.groups.map((g) => pageOfGroup(g, state))].flatMap((page) =>
      (page?.lamps ?? []).flatMap((entry) => {
        const { light, colour } = lampNow(world, state, boardIndex, entry);
        const told = lampTold(state, entry.control.id);
        return told.light === light && told.colour === colour
          ? []
          : `${entry.control.id} ${JSON.stringify(entry.assignment?.press)} is ${told.light}, not ${light}`;
      }),
    ),
  );
}

/** Plays deeds and holds every lamp against its work after each. @returns how often one was lit. */
function playAll(world: World, deeds: Run['deeds']): number {
  let lit = 0;
  let atMs = 0;
  let state = step(world, initialState(world, 0), {
    kind: 'command',
    atMs,
    command: { kind: 'lamps' },
  }).state;
  expect(wrongLamps(world, state)).toEqual([]);
  for (const deed of deeds) {
    atMs += deed.kind === 'wait' ? deed.ms : 7;
    state = step(world, state, eventOf(deed, atMs)).state;
    expect(wrongLamps(world, state)).toEqual([]);
    lit += Object.values(state.lamps).filter(isShining).length;
  }
  return lit;
}

function eventOf(deed: Run['deeds'][number], atMs: number): LiveEvent {
  const heard = (number: number, value: number): LiveEvent => ({
    kind: 'message',
    atMs,
    portId: 'board-out',
    message: controller(15, number, value),
  });
  switch (deed.kind) {
    case 'switch':
      return heard(30 + deed.index, deed.down ? 127 : 0);
    case 'pedal':
      return heard(4, deed.value);
    case 'command':
      return { kind: 'command', atMs, command: deed.command };
    case 'wait':
      return { kind: 'tick', atMs };
  }
}

describe('lamps', () => {
  it('are told whatever they follow, at the step at which it changes', () => {
    let [lit, runs] = [0, 0];
    const property = fc.property(anyRun, (run) => {
      runs++;
      lit += playAll(worldOf(run), run.deeds);
    });
    fc.assert(property, { numRuns: 800 });
    expect(lit).toBeGreaterThan(runs);
  });

  it('of everything that a switch can do are told, each beside all others', () => {
    const { device, board, preset } = makeBoard(WORKS.length, 1, [
      WORKS.map((work, i) => assign(`s${i}`, [work as never])),
    ]);
    const rig = makeRig([device, box, gear], [cable(out, gearIn)], [board]);
    const routing = { lines: [], routes, othersTo: [] };
    const world = compileWorld({ rig: { ...rig, routing }, presets: [preset], setName: '', songs });
    const property = fc.property(deedsOf(WORKS.length, 60), (deeds) => {
      playAll(world, deeds);
    });
    fc.assert(property, { numRuns: 800 });
  });

  it('that shine from the beginning are told with the first thing that happens, whatever that is', () => {
    const bank = { kind: 'bank', to: { kind: 'bank', bankId: 'bank-0' } } as never;
    const { device, board, preset } = makeBoard(2, 0, [[assign('s0', [bank])]]);
    const rig = makeRig([device], [], [board]);
    const world = compileWorld({ rig, presets: [preset], setName: '', songs: [] });
    const heard = {
      kind: 'message',
      atMs: 1,
      portId: 'board-out',
      message: controller(15, 31, 127),
    } as const;
    expect(step(world, initialState(world, 0), heard).effects).toContainEqual({
      kind: 'lamp',
      controlId: 's0',
      lamp: { light: 'steady', colour: null },
    });
  });

  it('changed by a step leave the state that it began with as it was', () => {
    const toggle = { kind: 'toggle', functionId: 'echo' } as never;
    const { device, board, preset } = makeBoard(2, 0, [[assign('s0', [toggle]), assign('s1', [toggle])]]);
    const rig = makeRig([device, box, gear], [cable(out, gearIn)], [board]);
    const world = compileWorld({ rig, presets: [preset], setName: '', songs: [] });
    const heard = (atMs: number) =>
      ({ kind: 'message', atMs, portId: 'board-out', message: controller(15, 30, 127) }) as const;
    const first = step(world, initialState(world, 0), heard(1)).state;
    const before = structuredClone(first);
    const second = step(world, first, heard(2)).state;
    expect(first).toEqual(before);
    expect([first, second].map((s) => Object.values(s.lamps).map((l) => l.light))).toEqual([
      ['steady', 'steady'],
      ['off', 'off'],
    ]);
  });
});
