import { describe, expect, it } from 'vitest';
import { controller, encode, hex, program, type Message } from '../../midi';
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
  valuesOf,
} from '../../testing.test-support';
import type { Assignment } from '../../floor';
import type { ChartFunction, Device } from '../../gear';
import { sceneSheet, type Song } from '../../show';
import {
  armedTracks,
  armingNow,
  captureFor,
  compileWorld,
  initialState,
  lampTold,
  loadingIn,
  scenePlan,
  step,
  type LiveEvent,
  type LiveState,
  type World,
} from '../index';

const out = makePort({ id: 'out', direction: 'out', link: 'usb', atComputer: true });
const back = makePort({ id: 'back', direction: 'in', link: 'usb', atComputer: true });
const box = makeDevice({ role: 'carrier', ports: [out, back] });
const gearIn = makePort({ id: 'gear-in' });
const gearOut = makePort({ id: 'gear-out', direction: 'out' });

const programs = (bank: number | null) => ({
  drive: { kind: 'program' as const, bank },
  shape: { kind: 'program' as const, names: [] },
});
const cc = (n: number) => ({ kind: 'controller' as const, controller: n });
const wide = { kind: 'range' as const, min: 0, max: 16383, shownFrom: 0 };
const onOff = { kind: 'switch' as const, off: 0, on: 127 };

function worldOf(
  chart: Partial<ChartFunction>[],
  songs: Song[] = [],
  assignments: Assignment[] = [],
  part: Partial<Device> = {},
): World {
  const gear = makeDevice({
    id: 'gear',
    ports: [gearIn, gearOut],
    chart: chart.map((c) => makeFunction(c)),
    ...part,
  });
  const { device, board, preset } = makeBoard(3, 0, [assignments]);
  return compileWorld({
    rig: makeRig([box, gear, device], [cable(out, gearIn), cable(gearOut, back)], [board]),
    presets: [preset],
    setName: '',
    songs,
  });
}

class Run {
  state: LiveState;
  sent: string[] = [];
  notes: string[] = [];
  atMs = 0;
  constructor(readonly world: World) {
    this.state = initialState(world, 0);
  }
  private event(event: LiveEvent): this {
    const done = step(this.world, this.state, event);
    this.state = done.state;
    this.sent = [];
    this.notes = [];
    for (const e of done.effects) {
      if (e.kind === 'send') this.sent.push(hex(encode(e.message)));
      if (e.kind === 'note') this.notes.push(e.note.code);
    }
    return this;
  }
  do(command: Extract<LiveEvent, { kind: 'command' }>['command']): this {
    this.atMs += 1000;
    return this.event({ kind: 'command', atMs: this.atMs, command });
  }
  go = (sceneIndex: number): this => this.do({ kind: 'go', songIndex: 0, sceneIndex });
  hear(portId: string, message: Message, afterMs = 1000): this {
    this.atMs += afterMs;
    return this.event({ kind: 'message', atMs: this.atMs, portId, message });
  }
  wait(ms: number): this {
    this.atMs += ms;
    return this.event({ kind: 'tick', atMs: this.atMs });
  }
  press(index: number): this {
    return this.hear('board-out', controller(15, 30 + index, 127));
  }
  get known(): Record<string, number> {
    return valuesOf(this.world, this.state);
  }
  lamp = (index: number): string => lampTold(this.state, `s${index}`).light;
}

describe('programs of two banks of one device', () => {
  const chart = [
    { id: 'a', name: 'Bank A', ...programs(0) },
    { id: 'c', name: 'Bank C', ...programs(2) },
  ];
  const song = makeSong('Song', [
    ['One', { a: 11 }],
    ['Two', { c: 4 }],
    ['Three', { a: 11 }],
  ]);
  it('are one register: a scene sends the bank that it means, from wherever one comes', () => {
    const run = new Run(worldOf(chart, [song]));
    expect(run.go(0).sent).toEqual(['B0 00 00', 'B0 20 00', 'C0 0B']);
    expect(run.go(2).sent).toEqual([]);
    expect(run.go(1).sent).toEqual(['B0 00 00', 'B0 20 02', 'C0 04']);
    expect(run.known).toEqual({ c: 4 });
    expect(run.go(2).sent).toEqual(['B0 00 00', 'B0 20 00', 'C0 0B']);
  });
  it('send again ends on the sound of the scene', () => {
    const run = new Run(worldOf(chart, [song])).go(0).go(1);
    expect(run.do({ kind: 'scene', to: 'again' }).sent).toEqual(['B0 00 00', 'B0 20 02', 'C0 04']);
  });
  it('in the sheet the row that was replaced says so, and is not carried', () => {
    const world = worldOf(chart, [song]);
    expect(sceneSheet(song, 1, world.carrying)).toEqual({
      cells: new Map([['c', { value: 4, setIn: 1, way: null }]]),
      replaced: new Map([['a', { by: 'c', setIn: 1 }]]),
    });
    expect([...sceneSheet(song, 2, world.carrying).cells.keys()]).toEqual(['a']);
  });
  it('the plan lists what is sent', () => {
    const run = new Run(worldOf(chart, [song])).go(0).go(1);
    const planned = scenePlan(run.world, song, 1, 2).lines.flatMap((l) => l.messages);
    expect(run.go(2).sent).toEqual(planned.map((m) => hex(encode(m))));
  });
  it('a program that is played from outside replaces what was known', () => {
    const run = new Run(
      worldOf(chart, [song], [assign('s0', [{ kind: 'raw', portId: 'out', bytes: [0xc0, 7] }])]),
    );
    run.go(1).press(0);
    expect(run.known).toEqual({ c: 7 });
    expect(run.go(1).sent).toEqual(['B0 00 00', 'B0 20 02', 'C0 04']);
  });
});

describe('rows that write the same', () => {
  it('a range and a choice on one controller are two names of one value', () => {
    const run = new Run(
      worldOf([
        { id: 'range', drive: cc(22) },
        {
          id: 'choice',
          drive: cc(22),
          shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['a', 'b'] },
        },
      ]),
    );
    expect(run.do({ kind: 'set', functionId: 'choice', value: 1 }).known).toEqual({ range: 1, choice: 1 });
    expect(run.do({ kind: 'set', functionId: 'range', value: 90 }).known).toEqual({ range: 90 });
  });
  it('both halves of a pair: the coarse one by itself sets the fine one to 0', () => {
    const run = new Run(
      worldOf([
        { id: 'whole', drive: { kind: 'controller-14', controller: 7 }, shape: wide },
        { id: 'coarse', drive: cc(7) },
        { id: 'fine', drive: cc(39) },
      ]),
    );
    const set = (functionId: string, value: number) => run.do({ kind: 'set', functionId, value }).known;
    expect(set('whole', 1000)).toEqual({ whole: 1000, coarse: 7, fine: 104 });
    expect(set('fine', 3)).toEqual({ whole: 7 * 128 + 3, coarse: 7, fine: 3 });
    expect(set('coarse', 9)).toEqual({ whole: 9 * 128, coarse: 9, fine: 0 });
  });
  it('without a row for the pair the two numbers have nothing to do with each other', () => {
    const run = new Run(
      worldOf([
        { id: 'seven', drive: cc(7) },
        { id: 'thirty-nine', drive: cc(39) },
      ]),
    );
    run.do({ kind: 'set', functionId: 'thirty-nine', value: 5 });
    expect(run.do({ kind: 'set', functionId: 'seven', value: 9 }).known).toEqual({
      seven: 9,
      'thirty-nine': 5,
    });
  });
  it('one parameter twice', () => {
    const drive = (bits: 7 | 14) => ({ kind: 'parameter' as const, registered: false, parameter: 273, bits });
    const run = new Run(
      worldOf([
        { id: 'seven', drive: drive(7) },
        { id: 'fourteen', drive: drive(14), shape: wide },
      ]),
    );
    expect(run.do({ kind: 'set', functionId: 'seven', value: 5 }).known).toEqual({ seven: 5, fourteen: 640 });
  });
  it('what is on its way in another scene and writes it is over', () => {
    const song = makeSong('Song', [
      ['One', { coarse: 0 }],
      ['Two', { coarse: 100 }],
      ['Three', { fine: 80 }],
    ]);
    const glides = {
      ...song,
      scenes: song.scenes.map((s, i) => ({
        ...s,
        transition:
          i === 1
            ? { time: { amount: 10, unit: 's' as const }, curve: 'linear' as const, switchAt: 0 }
            : null,
      })),
    };
    const chart = [
      { id: 'whole', drive: { kind: 'controller-14' as const, controller: 7 }, shape: wide },
      { id: 'coarse', drive: cc(7) },
      { id: 'fine', drive: cc(39) },
    ];
    const run = new Run(worldOf(chart, [glides]));
    run.go(0).go(1);
    expect(run.go(2).sent.at(-1)).toBe('B0 27 50');
    expect(run.wait(3000).known).toMatchObject({ fine: 80 });
  });
  it('a trigger that writes it is sent before what the scene wants there, which is then sent too', () => {
    const song = makeSong('Song', [['One', { hit: 0, level: 50 }]]);
    const chart = [
      { id: 'hit', drive: cc(22), shape: { kind: 'trigger' as const, sent: 3 } },
      { id: 'level', drive: cc(22) },
    ];
    const run = new Run(worldOf(chart, [song])).go(0);
    expect(run.go(0).sent).toEqual(['B0 16 03', 'B0 16 32']);
  });
  it('are captured once, by the name that the scene has for it', () => {
    const song = makeSong('Song', [['One', { choice: 0 }]]);
    const world = worldOf(
      [
        { id: 'range', drive: cc(22) },
        {
          id: 'choice',
          drive: cc(22),
          shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['a', 'b'] },
        },
      ],
      [song],
    );
    const at = (value: number) => ({ registers: registersAt(world, { range: value }), pending: [] });
    const captured = (value: number) =>
      captureFor(world, at(value), song, 0).map((c) => [c.fn.id, c.value, c.before, c.replaces]);
    expect(captured(1)).toEqual([['choice', 1, 0, []]]);
    // A value that the choice has no name for comes by the other row, which takes its place.
    expect(captured(90)).toEqual([['range', 90, null, ['choice']]]);
  });
  it('a track that two messages arm is one', () => {
    const run = new Run(
      worldOf([
        { id: 'arm', drive: cc(102), shape: onOff, arms: 'Bow' },
        { id: 'ready', drive: { kind: 'record-ready', track: 1 }, shape: onOff, arms: 'Bow' },
      ]),
    );
    expect(run.do({ kind: 'set', functionId: 'ready', value: 1 }).known).toEqual({ arm: 1, ready: 1 });
  });
});

describe('a sound: bank and program as one value', () => {
  const chart = [
    { id: 'sound', drive: { kind: 'sound' as const }, shape: { kind: 'sound' as const, names: [] } },
  ];
  it('sends its bank and its program, as its device wants them', () => {
    const sent = (bankSelect: Device['bankSelect']) =>
      new Run(worldOf(chart, [], [], { bankSelect })).do({ kind: 'set', functionId: 'sound', value: 261 })
        .sent;
    expect(sent('both')).toEqual(['B0 00 00', 'B0 20 02', 'C0 05']);
    expect(sent('lsb')).toEqual(['B0 20 02', 'C0 05']);
    expect(sent('none')).toEqual(['C0 05']);
  });
  it('is not sent again while it stands, and replaces a program of a bank', () => {
    const song = makeSong('Song', [
      ['One', { sound: 261 }],
      ['Two', { bank: 5 }],
    ]);
    const run = new Run(worldOf([...chart, { id: 'bank', ...programs(2) }], [song]));
    run.go(0);
    expect(run.known).toEqual({ sound: 261, bank: 5 });
    expect(run.go(1).sent).toEqual([]);
  });
});

describe('what is not known', () => {
  const chart = [
    { id: 'program', ...programs(null) },
    { id: 'drive', drive: cc(27), shape: onOff, powerOn: 0 },
    { id: 'level', drive: cc(20) },
  ];
  const toggle = assign('s0', [{ kind: 'toggle', functionId: 'drive' }]);
  const load = assign('s1', [{ kind: 'set', functionId: 'program', value: 3 }]);
  it('after a program a lamp says so, and the first press sends off', () => {
    const run = new Run(worldOf(chart, [], [toggle, load]));
    run.do({ kind: 'lamps' });
    expect(run.lamp(0)).toBe('off');
    expect(run.press(0).sent).toEqual(['B0 1B 7F']);
    expect(run.lamp(0)).toBe('steady');
    run.press(1);
    expect(run.lamp(0)).toBe('unknown');
    run.press(0);
    expect([run.sent, run.lamp(0)]).toEqual([['B0 1B 00'], 'off']);
    expect(run.notes).toContain('switched-off-unknown');
    expect(run.press(0).sent).toEqual(['B0 1B 7F']);
  });
  it('a program that is sent as a plain message or through a route is one too', () => {
    const raw = assign('s1', [{ kind: 'raw', portId: 'out', bytes: [0xc0, 9] }]);
    const run = new Run(worldOf(chart, [], [toggle, raw])).press(0).press(1);
    expect([run.lamp(0), run.known]).toEqual(['unknown', { program: 9 }]);
  });
  it('never told and without a value at power-on: not known from the start', () => {
    const bare = [{ id: 'drive', drive: cc(27), shape: onOff, powerOn: null }];
    const run = new Run(worldOf(bare, [], [toggle]));
    run.do({ kind: 'lamps' });
    expect(run.lamp(0)).toBe('unknown');
    expect(run.press(0).sent).toEqual(['B0 1B 00']);
  });
  it('a device that can be asked is asked, and its answer decides', () => {
    const asked = chart.map((c) => (c.id === 'drive' ? { ...c, request: 'F0 7D 01 F7' } : c));
    const run = new Run(worldOf(asked, [], [toggle, load])).press(1);
    expect(run.press(0).sent).toEqual(['F0 7D 01 F7']);
    expect(run.hear('back', controller(0, 27, 127), 40).sent).toEqual(['B0 1B 00']);
    expect(run.wait(1000).sent).toEqual([]);
  });
  it('one that does not answer within 300 ms is told off, once', () => {
    const asked = chart.map((c) => (c.id === 'drive' ? { ...c, request: 'F0 7D 01 F7' } : c));
    const run = new Run(worldOf(asked, [], [toggle, load])).press(1).press(0);
    expect(run.wait(299).sent).toEqual([]);
    expect(run.wait(1).sent).toEqual(['B0 1B 00']);
    expect(run.wait(1000).sent).toEqual([]);
  });
  it('a device that reports another program has moved what else was known; the one that it was told, not', () => {
    const run = new Run(worldOf(chart, [], [toggle, load])).press(1).press(0).press(0);
    expect(run.hear('back', program(0, 3)).known).toEqual({ program: 3, drive: 1 });
    expect(run.hear('back', program(0, 4)).known).toEqual({ program: 4 });
  });
  it('what is sent while the port is unplugged is not heard, so it is not known', () => {
    const run = new Run(worldOf(chart, [], [toggle])).press(0);
    run.do({ kind: 'port-lost', portId: 'out' }).do({ kind: 'set', functionId: 'level', value: 9 });
    expect(run.known).toEqual({ drive: 1 });
  });
  it('reset all controllers is known where the standard says what it sets', () => {
    const rows = [
      { id: 'expression', drive: cc(11) },
      { id: 'wheel', drive: cc(1) },
      { id: 'volume', drive: cc(7) },
    ];
    const reset = assign('s0', [{ kind: 'raw', portId: 'out', bytes: [0xb0, 121, 0] }]);
    const run = new Run(worldOf(rows, [], [reset]));
    for (const id of ['expression', 'wheel', 'volume']) run.do({ kind: 'set', functionId: id, value: 5 });
    expect(run.press(0).known).toEqual({ expression: 127, wheel: 0, volume: 5 });
  });
  it('tracks of a host that is packed away are not armed, and that is said', () => {
    const rows = [{ id: 'arm', drive: cc(102), shape: onOff, arms: 'Bow', powerOn: null }];
    const there = worldOf(rows);
    const armed = { registers: registersAt(there, { arm: 1 }), pending: [] };
    expect(armedTracks(there, armed).map((t) => t.track)).toEqual(['Bow']);
    expect(armingNow(there, { registers: {}, pending: [] })).toBe('unknown');
    const away = worldOf(rows, [], [], { away: true });
    expect([armedTracks(away, armed), armingNow(away, armed)]).toEqual([[], 'away']);
  });
});

it('a scene that loads a program says that what glides there is set at once', () => {
  const song = makeSong('Song', [
    ['One', { program: 1, level: 10 }],
    ['Two', { program: 2, level: 90 }],
    ['Three', { level: 20 }],
  ]);
  const world = worldOf(
    [
      { id: 'program', ...programs(null) },
      { id: 'level', drive: cc(20) },
    ],
    [song],
  );
  expect([0, 1, 2].map((i) => [...loadingIn(world, song, i)])).toEqual([['gear'], ['gear'], []]);
});
