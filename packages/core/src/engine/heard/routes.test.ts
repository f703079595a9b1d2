import fc from 'fast-check';
import { PLAIN_SCENE, PLAIN_SONG, type Song } from '../../show';
import { describe, expect, it } from 'vitest';
import {
  controller,
  encode,
  hex,
  noteOff,
  noteOn,
  pitchBend,
  program,
  realTime,
  songPosition,
  type Message,
} from '../../midi';
import { PLAIN_CHANGE, PLAIN_FROM, PLAIN_MODULATION, PLAIN_ROUTE, type Route } from '../../routing';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  valuesOf,
} from '../../testing.test-support';
import {
  changeShow,
  compileWorld,
  initialState,
  isRouteOn,
  step,
  type Command,
  type Effect,
  type LiveState,
  type Show,
  type World,
  isLampLit,
} from '../index';
import { anyRun, playRun } from './routeRuns.test-support';

/** A board on `board-out`, keys on `keys`, and behind `out` a processor that answers on channel 3 and a host on 1. */
const processorIn = makePort({ id: 'processor-in', direction: 'in' });
const out = makePort({ id: 'out', direction: 'out', atComputer: true });
const hostIn = makePort({ id: 'host-in', direction: 'in', link: 'virtual', atComputer: true });
const drive = makeFunction({
  id: 'drive',
  drive: { kind: 'controller', controller: 24 },
  shape: { kind: 'switch', off: 0, on: 127 },
});
const volume = makeFunction({ id: 'volume', drive: { kind: 'controller', controller: 7 } });
const processor = makeDevice({ id: 'processor', channel: 2, ports: [processorIn], chart: [drive, volume] });
const host = makeDevice({ id: 'host', ports: [hostIn] });
const box = makeDevice({
  id: 'box',
  role: 'carrier',
  ports: [makePort({ id: 'keys', direction: 'in', link: 'usb', atComputer: true }), out],
});

const song: Song = {
  id: 'song',
  rigId: 'rig',
  name: 'Song',
  tempoBpm: 120,
  beatsPerBar: 4,
  lengthS: 60,
  ...PLAIN_SONG,
  scenes: ['verse', 'chorus'].map((id) => ({ ...PLAIN_SCENE, id, name: id })),
};

const route = (id: string, part: Partial<Route>): Route => ({
  id,
  name: id,
  ...PLAIN_ROUTE,
  from: { ...PLAIN_FROM, portIds: ['keys'] },
  to: [{ portId: 'host-in', channel: null }],
  ...part,
});

const b = makeBoard(2, 0, [[assign('s0', [{ kind: 'route', routeId: 'a', part: 'gate', to: 'toggle' }])]]);

function showOf(routes: Route[], othersTo: string[] = []): Show {
  const rig = makeRig([b.device, box, processor, host], [cable(out, processorIn)], [b.board]);
  return {
    rig: { ...rig, routing: { lines: [], routes, othersTo } },
    presets: [b.preset],
    setName: '',
    songs: [song],
  };
}

class Player {
  state: LiveState;
  world: World;
  nowMs = 0;
  effects: Effect[] = [];

  constructor(routes: Route[], othersTo: string[] = []) {
    this.world = compileWorld(showOf(routes, othersTo));
    this.state = initialState(this.world, 0);
  }

  edit(routes: Route[]): void {
    const { world, state, effects } = changeShow(this.world, this.state, showOf(routes), this.nowMs);
    this.world = world;
    this.state = state;
    this.effects = [...effects];
  }

  private run(event: Parameters<typeof step>[2]): string[] {
    const done = step(this.world, this.state, event);
    this.state = done.state;
    this.effects = done.effects;
    return done.effects.flatMap((e) => (e.kind === 'send' ? `${e.portId}: ${hex(encode(e.message))}` : []));
  }

  hear(message: Message, portId = 'keys'): string[] {
    this.nowMs += 100;
    return this.run({ kind: 'message', atMs: this.nowMs, portId, message });
  }

  do(command: Command): string[] {
    this.nowMs += 100;
    return this.run({ kind: 'command', atMs: this.nowMs, command });
  }

  /** Sends of everything that comes due until a time, with their times. */
  waitUntil(ms: number): string[] {
    const sent: string[] = [];
    for (let i = 0; i < 1000; i++) {
      const wake = this.effects.find((e) => e.kind === 'wake');
      if (!wake || wake.atMs > ms) break;
      this.nowMs = wake.atMs;
      sent.push(...this.run({ kind: 'tick', atMs: wake.atMs }).map((s) => `${wake.atMs} ${s}`));
    }
    this.nowMs = ms;
    return sent;
  }
}

const inScenes = (...sceneIds: string[]): Route['gate'] => ({
  by: { kind: 'scenes', sceneIds },
  startsOpen: false,
  holds: [],
  others: 'pass',
});
const scene = (sceneIndex: number): Command => ({ kind: 'go', songIndex: 0, sceneIndex });

/** Two instruments on the same keys, each in its scene. */
const hum = route('hum', {
  gate: inScenes('verse'),
  to: [{ portId: 'host-in', channel: 0 }],
  after: 'pass',
});
const bells = route('bells', {
  gate: inScenes('chorus'),
  to: [{ portId: 'out', channel: 2 }],
  after: 'pass',
});

describe('the same keys on two instruments by scene', () => {
  it('switched under a held chord with sustain and a bend: each ends where it began', () => {
    const p = new Player([hum, bells]);
    expect(p.hear(noteOn(0, 60, 1))).toEqual([]);
    p.hear(noteOff(0, 60));
    p.do(scene(0));
    expect(
      [noteOn(0, 60, 9), noteOn(0, 64, 9), controller(0, 64, 127), pitchBend(0, 0)].map((m) => p.hear(m)),
    ).toEqual([['host-in: 90 3C 09'], ['host-in: 90 40 09'], ['host-in: B0 40 7F'], ['host-in: E0 00 00']]);
    p.do(scene(1));
    expect(p.hear(noteOn(0, 67, 9))).toEqual(['out: 92 43 09']);
    expect(p.hear(noteOff(0, 60, 20))).toEqual(['host-in: 80 3C 14']);
    expect(p.hear(pitchBend(0, 8192))).toEqual(['out: E2 00 40', 'host-in: E0 00 40']);
    expect(p.hear(controller(0, 64, 0))).toEqual(['out: B2 40 00', 'host-in: B0 40 00']);
    p.do(scene(0));
    expect(p.hear(noteOff(0, 67))).toEqual(['out: 82 43 40']);
    expect(p.hear(noteOff(0, 64))).toEqual(['host-in: 80 40 40']);
    expect(p.state.sounding).toEqual([]);
    expect(p.state.routes.begun).toEqual([]);
  });
});

describe('a note that is struck again before it ends', () => {
  const strike = noteOn(0, 60, 90);

  it('ends once where both strikes sound', () => {
    const p = new Player([hum, bells]);
    p.do(scene(0));
    expect([p.hear(strike), p.hear(strike)]).toEqual([['host-in: 90 3C 5A'], ['host-in: 90 3C 5A']]);
    expect(p.hear(noteOff(0, 60))).toEqual(['host-in: 80 3C 40']);
    expect(p.state.routes.begun).toEqual([]);
  });

  it('ends in both places where the second strike sounds elsewhere', () => {
    const p = new Player([hum, bells]);
    p.do(scene(0));
    p.hear(strike);
    p.do(scene(1));
    expect(p.hear(strike)).toEqual(['out: 92 3C 5A']);
    expect(p.hear(noteOff(0, 60))).toEqual(['host-in: 80 3C 40', 'out: 82 3C 40']);
    expect([p.state.routes.begun, p.state.sounding]).toEqual([[], []]);
  });

  it('ends on both channels of one port', () => {
    const other = { ...bells, to: [{ portId: 'host-in', channel: 5 }] };
    const p = new Player([hum, other]);
    p.do(scene(0));
    p.hear(strike);
    p.do(scene(1));
    expect(p.hear(strike)).toEqual(['host-in: 95 3C 5A']);
    expect(p.hear(noteOff(0, 60))).toEqual(['host-in: 80 3C 40', 'host-in: 85 3C 40']);
  });
});

describe('a gate', () => {
  const gated = (by: NonNullable<Route['gate']>['by'], startsOpen = false) =>
    route('a', { gate: { by, startsOpen, holds: [], others: 'pass' } });

  it('is turned by a switch of the board, and its lamp shows it', () => {
    const p = new Player([gated({ kind: 'switch' })]);
    expect(p.hear(noteOn(0, 60, 1))).toEqual([]);
    p.hear(controller(15, 30, 127), 'board-out');
    expect(isLampLit(p.state, 's0')).toBe(true);
    p.hear(controller(15, 30, 0), 'board-out');
    expect(p.hear(noteOn(0, 61, 1))).toEqual(['host-in: 90 3D 01']);
    p.hear(controller(15, 30, 127), 'board-out');
    expect(isLampLit(p.state, 's0')).toBe(false);
    expect(p.hear(noteOff(0, 61))).toEqual(['host-in: 80 3D 40']);
  });

  it('follows a function, and is as it starts before that is known', () => {
    const p = new Player([gated({ kind: 'function', functionId: 'drive', from: 1, to: 1 }, true)]);
    expect(p.hear(controller(0, 1, 1))).toHaveLength(1);
    p.do({ kind: 'set', functionId: 'drive', value: 0 });
    expect(p.hear(controller(0, 1, 2))).toHaveLength(0);
    p.do({ kind: 'set', functionId: 'drive', value: 1 });
    expect(p.hear(controller(0, 1, 3))).toHaveLength(1);
  });

  it('follows a controller also where a control sends it', () => {
    const by = {
      kind: 'controller',
      portId: 'board-out',
      channel: 15,
      controller: 31,
      from: 64,
      to: 127,
    } as const;
    const p = new Player([gated(by)]);
    p.hear(controller(15, 31, 127), 'board-out');
    expect(p.hear(controller(0, 1, 1))).toHaveLength(1);
    p.hear(controller(15, 31, 0), 'board-out');
    expect(p.hear(controller(0, 1, 1))).toHaveLength(0);
  });
});

describe('routes and the rest of the rig', () => {
  it('what a route sends is known of its function, and a lamp follows it', () => {
    const p = new Player([route('a', { to: [{ portId: 'out', channel: 2 }] })]);
    p.hear(controller(0, 24, 127));
    expect(valuesOf(p.world, p.state).drive).toBe(1);
    expect(p.effects.find((e) => e.kind === 'send')).toMatchObject({ functionId: 'drive', routeId: 'a' });
    p.hear(controller(0, 7, 99));
    expect(valuesOf(p.world, p.state).volume).toBe(99);
  });

  it('a control that has nothing to do lets its messages through; one that has keeps them', () => {
    const all = route('all', { from: PLAIN_FROM });
    const p = new Player([all, gateless('a')]);
    expect(p.hear(controller(15, 31, 127), 'board-out')).toEqual(['host-in: BF 1F 7F']);
    expect(p.hear(controller(15, 30, 127), 'board-out')).toEqual([]);
    // Neither does what else is held let them through.
    p.hear(noteOn(0, 60, 90));
    expect(p.hear(controller(15, 30, 0), 'board-out')).toEqual([]);
    expect(p.hear(controller(15, 30, 127), 'board-out')).toEqual([]);
    expect(p.hear(noteOff(0, 60))).toEqual(['host-in: 80 3C 40']);
  });

  it('what this application says goes through a route that takes from its output', () => {
    const own = route('own', {
      from: { ...PLAIN_FROM, portIds: ['out'], kinds: ['controller'] },
      change: { ...PLAIN_CHANGE, numbers: [{ kind: 'controller', from: 24, to: 25 }] },
      to: [{ portId: 'out', channel: null }],
    });
    const p = new Player([own]);
    expect(p.do({ kind: 'set', functionId: 'drive', value: 1 })).toEqual(['out: B2 19 7F']);
    expect(p.do({ kind: 'set', functionId: 'volume', value: 1 })).toEqual(['out: B2 07 01']);
  });

  it('a route off in its scene is switched by a command and counts what passes', () => {
    const p = new Player([route('a', {})]);
    expect(p.do({ kind: 'route', routeId: 'a', part: 'route', to: 'off' })).toEqual([]);
    expect(p.hear(program(0, 1))).toEqual([]);
    p.do({ kind: 'route', routeId: 'a', part: 'route', to: 'toggle' });
    expect(isRouteOn(p.state, p.world.routes.byId.get('a')!)).toBe(true);
    p.hear(program(0, 1));
    expect(p.effects.filter((e) => e.kind === 'routed')).toMatchObject([{ routeId: 'a', outcome: 'passed' }]);
    p.do({ kind: 'route', routeId: 'gone', part: 'route', to: 'off' });
    expect(p.effects).toContainEqual({ kind: 'note', note: { code: 'route-gone' } });
  });

  it('an output that is not enabled gets nothing, and that is said', () => {
    const show = showOf([route('a', {})]);
    const shut = { ...hostIn, plays: false };
    const world = compileWorld({
      ...show,
      rig: { ...show.rig, devices: [b.device, box, processor, { ...host, ports: [shut] }] },
    });
    const { effects } = step(world, initialState(world, 0), {
      kind: 'message',
      atMs: 1,
      portId: 'keys',
      message: noteOn(0, 60, 1),
    });
    expect(effects.filter((e) => e.kind === 'send')).toEqual([]);
    expect(effects).toContainEqual({
      kind: 'note',
      note: { code: 'port-off', portId: 'host-in', functionId: null },
    });
  });
});

function gateless(id: string): Route {
  return route(id, { isOn: false });
}

describe('what is held by a port that goes', () => {
  it('ends when it is unplugged', () => {
    const p = new Player([route('a', {})]);
    p.hear(noteOn(0, 60, 1));
    p.hear(controller(0, 64, 127));
    expect(p.do({ kind: 'port-lost', portId: 'keys' })).toEqual(['host-in: 80 3C 40', 'host-in: B0 40 00']);
    expect(p.do({ kind: 'port-lost', portId: 'keys' })).toEqual([]);
  });

  it('ends when an edit takes it out of the rig', () => {
    const p = new Player([route('a', {})]);
    p.hear(noteOn(0, 60, 1));
    const show = showOf([]);
    const less = { ...show, rig: { ...show.rig, devices: [b.device, processor, host] } };
    const { effects } = changeShow(p.world, p.state, less, 999);
    expect(effects).toContainEqual(expect.objectContaining({ portId: 'host-in', message: noteOff(0, 60) }));
  });

  it('ends by panic, with modulations at rest', () => {
    const p = new Player([
      route('m', { modulation: { ...PLAIN_MODULATION, attackMs: 0, decayMs: 0 }, after: 'pass' }),
      route('a', {}),
    ]);
    p.hear(noteOn(0, 60, 1));
    const sent = p.do({ kind: 'panic' });
    expect(sent).toContain('host-in: 80 3C 40');
    expect(sent).toContain('host-in: B0 01 00');
    expect(p.state.routes).toMatchObject({ begun: [], runs: {} });
  });
});

describe('a modulation', () => {
  const modulation = {
    ...PLAIN_MODULATION,
    attackMs: 40,
    decayMs: 0,
    sustain: 1,
    releaseMs: 20,
    peak: 100,
    everyMs: 10,
  };
  const wash = route('wash', { modulation, to: [{ portId: 'out', channel: 2 }] });

  it('starts with its note, stays while it is held, and goes back with its end', () => {
    const p = new Player([wash]);
    expect(p.hear(noteOn(0, 60, 1))).toEqual(['out: B2 01 00']);
    expect(p.waitUntil(500)).toEqual([
      '110 out: B2 01 19',
      '120 out: B2 01 32',
      '130 out: B2 01 4B',
      '140 out: B2 01 64',
    ]);
    expect(p.hear(noteOff(0, 60))).toEqual([]);
    expect(p.waitUntil(900)).toEqual(['610 out: B2 01 32', '620 out: B2 01 00']);
    expect(p.state.routes.runs).toEqual({});
  });

  it('moves at its own moments, whatever else happens between them', () => {
    const slow = { ...modulation, attackMs: 400, everyMs: 200 };
    const p = new Player([{ ...wash, modulation: slow }]);
    p.hear(noteOn(0, 60, 1));
    for (const atMs of [110, 199, 299]) {
      p.nowMs = atMs - 100;
      expect(p.hear(controller(15, 99, atMs % 100), 'board-out')).toEqual([]);
    }
    expect(p.waitUntil(900)).toEqual(['300 out: B2 01 32', '500 out: B2 01 64']);
    // Nor does it say again where it stands once it has arrived.
    expect(p.hear(controller(15, 99, 1), 'board-out')).toEqual([]);
  });

  it('goes on with the next note from where it is, and ends with the last', () => {
    const p = new Player([wash]);
    p.hear(noteOn(0, 60, 1));
    p.waitUntil(120);
    p.nowMs = 20;
    expect(p.hear(noteOn(0, 62, 1))).toEqual([]);
    p.waitUntil(400);
    p.hear(noteOff(0, 60));
    expect(p.waitUntil(600)).toEqual([]);
    p.hear(noteOff(0, 62));
    expect(p.waitUntil(900).at(-1)).toBe('720 out: B2 01 00');
  });

  it('goes back when its route is switched off', () => {
    const p = new Player([wash]);
    p.hear(noteOn(0, 60, 1));
    p.waitUntil(300);
    p.do({ kind: 'route', routeId: 'wash', part: 'route', to: 'off' });
    expect(p.waitUntil(900).at(-1)).toBe('420 out: B2 01 00');
  });
});

describe('routes under anything', () => {
  it('leave nothing sounding once everything is let go, whatever was edited, gated and switched meanwhile', () => {
    fc.assert(
      fc.property(anyRun, (run) => {
        expect(playRun(run)).toEqual([]);
      }),
      { seed: 5, numRuns: 3000 },
    );
  }, 120_000);
});

describe('a layer', () => {
  const layer = route('low', { isLayer: true, to: [{ portId: 'out', channel: 5 }] });
  it('passes what is played, and nothing that runs in time', () => {
    const p = new Player([layer]);
    const heard = (message: Message) => p.hear(message).length > 0;
    expect([noteOn(0, 60, 9), controller(0, 64, 127), pitchBend(0, 9)].map(heard)).toEqual([
      true,
      true,
      true,
    ]);
    expect(
      [realTime('start'), realTime('clock'), realTime('stop'), songPosition(4), program(0, 3)].map(heard),
    ).toEqual([false, false, false, false, false]);
  });
  it('is reached by panic, and so is where any route leads', () => {
    const world = compileWorld(showOf([layer, route('up', { to: [{ portId: 'out', channel: 8 }] })]));
    expect(world.channelsBehind.get('out')!.map((c) => c.channel)).toEqual([2, 5, 8]);
  });
});
