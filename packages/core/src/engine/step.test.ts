import { describe, expect, it } from 'vitest';
import { controller, encode, hex, noteOn, realTime, type Message } from '../midi';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  makeSong,
  valuesOf,
} from '../testing.test-support';
import type { Assignment } from '../floor';
import type { Cable, Device } from '../gear';
import type { Song } from '../show';
import {
  changeShow,
  placeOf,
  armedTracks,
  compileWorld,
  initialState,
  step,
  type Command,
  type Effect,
  type LiveEvent,
  type LiveState,
  type World,
  isLampLit,
} from './index';

const SETTLE_MS = 42;

const processorOut = makePort({ id: 'out-a', direction: 'out', link: 'din', atComputer: true });
const processorIn = makePort({ id: 'processor-in', direction: 'in' });
const carrier = makeDevice({ role: 'carrier', ports: [processorOut] });
const processor = makeDevice({
  id: 'processor',
  channel: 2,
  ports: [processorIn, makePort({ id: 'back', direction: 'out', link: 'usb', atComputer: true })],
  chart: [
    makeFunction({
      id: 'program',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [] },
      settleMs: SETTLE_MS,
    }),
    makeFunction({
      id: 'snapshot',
      drive: { kind: 'controller', controller: 22 },
      shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['a', 'b', 'c'] },
    }),
    makeFunction({
      id: 'drive',
      drive: { kind: 'controller', controller: 24 },
      shape: { kind: 'switch', off: 0, on: 127 },
    }),
    makeFunction({ id: 'volume', drive: { kind: 'controller', controller: 7 } }),
  ],
});
const host = makeDevice({
  id: 'host',
  channel: 0,
  ports: [makePort({ id: 'host-in', direction: 'in', link: 'virtual', atComputer: true })],
  chart: [
    makeFunction({
      id: 'arm-bow',
      arms: 'Bow',
      drive: { kind: 'controller', controller: 102 },
      shape: { kind: 'switch', off: 0, on: 127 },
    }),
    makeFunction({
      id: 'play',
      drive: { kind: 'transport', command: 'play' },
      shape: { kind: 'trigger', sent: 0 },
    }),
  ],
});
const stranded = makeDevice({ id: 'stranded', chart: [makeFunction({ id: 'unreached' })] });

function makeWorld(banks: Assignment[][], songs: Song[] = []): World {
  const { device, board, preset } = makeBoard(4, 1, banks);
  const rig = makeRig(
    [device, carrier, processor, host, stranded],
    [cable(processorOut, processorIn)],
    [board],
  );
  return compileWorld({ rig, presets: [preset], setName: 'Set', songs });
}

/** A run of steps with what they did, in a short form: `12 out-a B2 16 02`. */
class Run {
  state: LiveState;
  effects: Effect[] = [];
  constructor(
    readonly world: World,
    state?: LiveState,
  ) {
    this.state = state ?? initialState(world, 0);
  }
  event(event: LiveEvent): this {
    const result = step(this.world, this.state, event);
    this.state = result.state;
    this.effects = result.effects;
    return this;
  }
  message = (atMs: number, message: Message, portId = 'board-out') =>
    this.event({ kind: 'message', atMs, portId, message });
  down = (atMs: number, i: number) => this.message(atMs, controller(15, 30 + i, 127));
  up = (atMs: number, i: number) => this.message(atMs, controller(15, 30 + i, 0));
  pedal = (atMs: number, at: number) => this.message(atMs, controller(15, 4, at));
  tick = (atMs: number) => this.event({ kind: 'tick', atMs });
  late = (atMs: number) => this.event({ kind: 'tick', atMs, leavesMs: atMs });
  command = (atMs: number, command: Command) => this.event({ kind: 'command', atMs, command });
  sent(): string[] {
    return this.effects.flatMap((e) => (e.kind === 'send' ? `${e.portId} ${hex(encode(e.message))}` : []));
  }
  notes(): string[] {
    return this.effects.flatMap((e) => (e.kind === 'note' && e.note.code !== 'pressed' ? e.note.code : []));
  }
  wake(): number | undefined {
    return this.effects.flatMap((e) => (e.kind === 'wake' ? e.atMs : []))[0];
  }
}

describe('press and release', () => {
  it('sets a function on press and does the release list on release', () => {
    const run = new Run(
      makeWorld([
        [
          assign(
            's0',
            [{ kind: 'set', functionId: 'snapshot', value: 2 }],
            [{ kind: 'set', functionId: 'snapshot', value: 0 }],
          ),
        ],
      ]),
    );
    expect(run.down(1, 0).sent()).toEqual(['out-a B2 16 02']);
    expect(run.up(2, 0).sent()).toEqual(['out-a B2 16 00']);
  });

  it('does the actions in their order', () => {
    const run = new Run(
      makeWorld([
        [
          assign('s0', [
            { kind: 'set', functionId: 'arm-bow', value: 1 },
            { kind: 'set', functionId: 'volume', value: 9 },
            { kind: 'set', functionId: 'play', value: 0 },
          ]),
        ],
      ]),
    );
    expect(run.down(0, 0).sent()).toEqual([
      'host-in B0 66 7F',
      'out-a B2 07 09',
      'host-in F0 7F 7F 06 02 F7',
    ]);
  });

  it('toggles once a press, whether the switch sends 127 and 0 or always 127', () => {
    const world = makeWorld([[assign('s0', [{ kind: 'toggle', functionId: 'drive' }])]]);
    const both = new Run(world);
    expect([both.down(0, 0).sent(), both.up(1, 0).sent(), both.down(2, 0).sent()]).toEqual([
      ['out-a B2 18 7F'],
      [],
      ['out-a B2 18 00'],
    ]);
    const always = new Run(world);
    expect([always.down(0, 0).sent(), always.down(1, 0).sent(), always.down(2, 0).sent()].flat()).toEqual([
      'out-a B2 18 7F',
      'out-a B2 18 00',
      'out-a B2 18 7F',
    ]);
  });

  it('a toggle knows what a scene has set, and what the device reports', () => {
    const song = makeSong('Song', [['On', { drive: 1 }]]);
    const run = new Run(makeWorld([[assign('s0', [{ kind: 'toggle', functionId: 'drive' }])]], [song]));
    run.command(0, { kind: 'scene', to: 'next' });
    expect(run.down(1, 0).sent()).toEqual(['out-a B2 18 00']);
    run.up(2, 0).message(3, controller(2, 24, 127), 'back');
    expect(run.down(4, 0).sent()).toEqual(['out-a B2 18 00']);
  });

  it('a release belongs to the bank in which the press was', () => {
    const first = [
      assign('s0', [{ kind: 'bank', to: { kind: 'up' } }], [{ kind: 'set', functionId: 'volume', value: 1 }]),
    ];
    const second = [
      assign(
        's0',
        [{ kind: 'set', functionId: 'volume', value: 2 }],
        [{ kind: 'set', functionId: 'volume', value: 3 }],
      ),
    ];
    const run = new Run(makeWorld([first, second]));
    expect(run.down(0, 0).sent()).toEqual([]);
    expect(run.up(1, 0).sent()).toEqual(['out-a B2 07 01']);
    expect(run.down(2, 0).sent()).toEqual(['out-a B2 07 02']);
  });

  it('ignores a release without a press, other channels and other ports', () => {
    const run = new Run(
      makeWorld([
        [
          assign(
            's0',
            [{ kind: 'set', functionId: 'volume', value: 1 }],
            [{ kind: 'set', functionId: 'volume', value: 2 }],
          ),
        ],
      ]),
    );
    expect(run.up(0, 0).sent()).toEqual([]);
    expect(run.message(1, controller(14, 30, 127)).sent()).toEqual([]);
    expect(run.message(2, controller(15, 30, 127), 'elsewhere').sent()).toEqual([]);
    expect(run.message(3, realTime('active-sensing')).sent()).toEqual([]);
  });

  it('says why nothing happened', () => {
    const run = new Run(
      makeWorld([
        [
          assign('s0', [{ kind: 'set', functionId: 'unreached', value: 1 }]),
          assign('s1', [{ kind: 'set', functionId: 'nowhere', value: 1 }]),
          assign('s2', [{ kind: 'set', functionId: 'snapshot', value: 9 }]),
        ],
      ]),
    );
    expect(run.down(0, 0).notes()).toEqual(['no-way']);
    expect(run.down(1, 1).notes()).toEqual(['function-gone']);
    expect(run.down(2, 2).notes()).toEqual(['value-refused']);
    expect(run.down(3, 3).notes()).toEqual(['nothing-assigned']);
    expect(valuesOf(run.world, run.state)).toEqual({});
  });

  it('sends raw bytes as whole messages to their port', () => {
    const run = new Run(
      makeWorld([[assign('s0', [{ kind: 'raw', portId: 'out-a', bytes: [0x92, 60, 100, 60, 0] }])]]),
    );
    expect(run.down(0, 0).sent()).toEqual(['out-a 92 3C 64', 'out-a 92 3C 00']);
    expect(run.state.sounding).toEqual([]);
  });
});

describe('pedals', () => {
  const swept: Assignment = {
    ...assign('p0', []),
    sweeps: [{ id: 'x', functionId: 'volume', from: 0, to: 127, invert: false, curve: 'linear', points: [] }],
  };
  it('follow the foot and send each value once', () => {
    const run = new Run(makeWorld([[swept]]));
    expect(run.pedal(0, 64).sent()).toEqual(['out-a B2 07 40']);
    expect(run.pedal(1, 64).sent()).toEqual([]);
    expect(run.pedal(2, 65).sent()).toEqual(['out-a B2 07 41']);
  });
  it('give only the last value to a device that was settling meanwhile', () => {
    const run = new Run(
      makeWorld([[swept, assign('s0', [{ kind: 'set', functionId: 'program', value: 5 }])]]),
    );
    run.down(0, 0);
    for (let i = 1; i <= 20; i++) expect(run.pedal(i, i).sent()).toEqual([]);
    expect(run.wake()).toBeCloseTo(42.64, 9);
    expect(run.tick(42.6).sent()).toEqual([]);
    expect(run.tick(42.64).sent()).toEqual(['out-a B2 07 14']);
  });
});

describe('scenes and songs', () => {
  const one = makeSong('One', [
    ['Intro', { program: 13, snapshot: 0, 'arm-bow': 1 }],
    ['Verse', { snapshot: 1, play: 0 }],
    ['Outro', { snapshot: 0 }],
  ]);
  const two = makeSong('Two', [['Only', { program: 13, snapshot: 2 }]], { tempoBpm: 72, beatsPerBar: 3 });
  const next: Command = { kind: 'scene', to: 'next' };
  const previous: Command = { kind: 'scene', to: 'previous' };

  it('begin with the first scene; the rest waits while the program settles', () => {
    const run = new Run(makeWorld([[]], [one, two]));
    expect(placeOf(run.world, run.state)).toMatchObject({ songIndex: 0, sceneIndex: null });
    expect(run.command(0, next).sent()).toEqual(['out-a C2 0D', 'host-in B0 66 7F']);
    expect(run.wake()).toBeCloseTo(0.64 + SETTLE_MS, 9);
    expect(run.tick(42.64).sent()).toEqual(['out-a B2 16 00']);
    expect(armedTracks(run.world, run.state).map((t) => t.track)).toEqual(['Bow']);
  });

  it('send only changes from then on, triggers only in their own scene', () => {
    const run = new Run(makeWorld([[]], [one, two])).command(0, next).tick(50);
    expect(run.command(100, next).sent()).toEqual(['out-a B2 16 01', 'host-in F0 7F 7F 06 02 F7']);
    expect(run.command(200, next).sent()).toEqual(['out-a B2 16 00']);
  });

  it('walk on into the next song with its tempo, and stop at both ends of the set', () => {
    const run = new Run(makeWorld([[]], [one, two]));
    for (let i = 0; i < 4; i++) run.command(i * 100, next);
    expect(placeOf(run.world, run.state)).toEqual({ songIndex: 1, sceneIndex: 0, partIndex: 0 });
    expect(run.sent()).toEqual(['out-a B2 16 02']);
    expect(run.state.tempo).toMatchObject({ bpm: 72, beatsPerBar: 3, originMs: 300 });
    expect(run.command(400, next).notes()).toEqual(['end-of-set']);
    expect(placeOf(run.world, run.command(500, previous).state)).toEqual({
      songIndex: 0,
      sceneIndex: 2,
      partIndex: 2,
    });
    expect(run.command(600, { kind: 'song', to: 'previous' }).notes()).toEqual(['start-of-set']);
  });

  it('a jump back brings what the scenes before it carry', () => {
    const run = new Run(
      makeWorld([[assign('s0', [{ kind: 'scene', to: { kind: 'at', index: 1 } }])]], [one]),
    );
    run.down(0, 0).tick(100);
    expect(valuesOf(run.world, run.state)).toMatchObject({ program: 13, snapshot: 1, 'arm-bow': 1 });
  });

  it('a scene that the song does not have is said, and nothing is sent', () => {
    const run = new Run(
      makeWorld([[assign('s0', [{ kind: 'scene', to: { kind: 'at', index: 3 } }])]], [one]),
    );
    expect(run.down(0, 0).notes()).toEqual(['no-such-scene']);
    expect(run.sent()).toEqual([]);
  });

  it('sends all of a scene again on request', () => {
    const run = new Run(makeWorld([[]], [two])).command(0, next).tick(50);
    expect(run.command(100, { kind: 'scene', to: 'again' }).sent()).toEqual(['out-a C2 0D']);
    expect(run.tick(200).sent()).toEqual(['out-a B2 16 02']);
  });

  it('a scene change while the device settles drops what was waiting for the old one', () => {
    const back = makeSong('Back', [
      ['A', { program: 1, snapshot: 0 }],
      ['B', { program: 2, snapshot: 2 }],
    ]);
    const run = new Run(makeWorld([[]], [back])).command(0, next);
    expect(run.command(10, next).sent()).toEqual([]);
    const sent = [run.tick(42.64).sent(), run.tick(85.29).sent()].flat();
    expect(sent).toEqual(['out-a C2 02', 'out-a B2 16 02']);
  });

  it('a timer that comes late puts off what waits for the device, so that nothing is lost', () => {
    const back = makeSong('Back', [
      ['A', { program: 1 }],
      ['B', { program: 2, snapshot: 2 }],
    ]);
    const run = new Run(makeWorld([[]], [back])).command(0, next).command(10, next);
    expect(run.late(60).sent()).toEqual(['out-a C2 02']);
    expect(run.wake()).toBeCloseTo(60 + 0.64 + SETTLE_MS, 9);
    expect(run.tick(102.6).sent()).toEqual([]);
    expect(run.tick(102.65).sent()).toEqual(['out-a B2 16 02']);
  });

  it('without songs says so', () => {
    expect(new Run(makeWorld([[]])).command(0, next).notes()).toEqual(['no-songs']);
  });
});

describe('banks, lamps, tempo, panic', () => {
  it('turn round at the ends, and lamps follow the bank, the value and the scene', () => {
    const song = makeSong('Song', [['A', { snapshot: 1 }]]);
    const world = makeWorld(
      [
        [
          assign('s0', [{ kind: 'bank', to: { kind: 'down' } }]),
          assign('s1', [{ kind: 'set', functionId: 'snapshot', value: 1 }]),
          assign('s2', [{ kind: 'scene', to: { kind: 'at', index: 0 } }]),
        ],
        [assign('s1', [{ kind: 'bank', to: { kind: 'bank', bankId: 'bank-1' } }])],
      ],
      [song],
    );
    const run = new Run(world);
    run.down(0, 2);
    expect(['s1', 's2'].map((id) => isLampLit(run.state, id))).toEqual([true, true]);
    expect(run.up(1, 2).down(2, 0).state.banks).toEqual({ board: 'bank-1' });
    expect(['s1', 's2'].map((id) => isLampLit(run.state, id))).toEqual([true, false]);
    expect(run.up(3, 0).down(4, 1).notes()).toEqual([]);
  });

  it('tapping 600 ms apart is 100 bpm; a long pause starts over', () => {
    const run = new Run(makeWorld([[]]));
    for (const at of [0, 600, 1200, 1800]) run.command(at, { kind: 'tap' });
    expect(run.state.tempo.bpm).toBe(100);
    run.command(3801, { kind: 'tap' });
    expect(run.state.taps).toEqual([3801]);
    expect(run.state.tempo).toMatchObject({ bpm: 100, originMs: 3801 });
  });

  it('goes back to the tempo of the song from one that was tapped', () => {
    const slow = makeSong('Slow', [['Only', { snapshot: 2 }]], { tempoBpm: 84 });
    const run = new Run(makeWorld([[assign('s0', [{ kind: 'song-tempo' }])]], [slow]));
    run.command(0, { kind: 'scene', to: 'next' });
    for (const at of [0, 600, 1200]) run.command(at, { kind: 'tap' });
    expect(run.state.tempo.bpm).toBe(100);
    run.down(2000, 0);
    expect(run.state).toMatchObject({ taps: [], tempo: { bpm: 84 } });
  });

  it('panic ends sent notes, silences every channel in use, and drops what waits', () => {
    const run = new Run(
      makeWorld([
        [
          assign('s0', [
            { kind: 'raw', portId: 'out-a', bytes: [0x95, 60, 100] },
            { kind: 'set', functionId: 'program', value: 1 },
            { kind: 'set', functionId: 'volume', value: 5 },
          ]),
        ],
      ]),
    );
    run.down(0, 0);
    expect(run.command(1, { kind: 'panic' }).sent()).toEqual([
      'out-a 85 3C 40',
      'out-a B2 40 00',
      'out-a B2 7B 00',
      'out-a B2 78 00',
      'host-in B0 40 00',
      'host-in B0 7B 00',
      'host-in B0 78 00',
    ]);
    expect(run.tick(100).sent()).toEqual([]);
    expect(valuesOf(run.world, run.state)).toEqual({ program: 1 });
    expect(run.state.sounding).toEqual([]);
  });

  it('panic leaves the tails of a device that is to keep them, unless another on its channel is not', () => {
    const { show } = makeWorld([]);
    const silence = (besides: Device[], cables: Cable[] = []) => {
      const kept = show.rig.devices.map((d) => (d === processor ? { ...d, soundOffAtPanic: false } : d));
      const rig = { ...show.rig, devices: [...kept, ...besides], cables: [...show.rig.cables, ...cables] };
      const world = compileWorld({ ...show, rig });
      return new Run(world).command(0, { kind: 'panic' }).sent();
    };
    const atHost = ['host-in B0 40 00', 'host-in B0 7B 00', 'host-in B0 78 00'];
    expect(silence([])).toEqual(['out-a B2 40 00', 'out-a B2 7B 00', ...atHost]);
    const into = makePort();
    const neighbour = makeDevice({ channel: 2, ports: [into], chart: [makeFunction()] });
    expect(silence([neighbour], [cable(processorOut, into)])).toEqual([
      'out-a B2 40 00',
      'out-a B2 7B 00',
      'out-a B2 78 00',
      ...atHost,
    ]);
  });
});

describe('an edit while playing', () => {
  const a = makeSong('A', [
    ['A1', {}],
    ['A2', {}],
  ]);
  const b = makeSong('B', [
    ['B1', {}],
    ['B2', {}],
  ]);
  const before = makeWorld([[], []], [a, b]);
  const playing = new Run(before)
    .command(0, { kind: 'go', songIndex: 1, sceneIndex: 1 })
    .command(1, { kind: 'bank', boardId: 'board', to: 'up' });

  const edited = (world: World, given: LiveState) => {
    const after = changeShow(before, given, world.show, 2);
    return placeOf(after.world, after.state);
  };

  it('finds the song and scene in play where they went', () => {
    const moved = { ...b, scenes: [...b.scenes].reverse() };
    expect(edited(makeWorld([[], []], [moved, a]), playing.state)).toEqual({
      songIndex: 0,
      sceneIndex: 0,
      partIndex: 0,
    });
  });
  it('falls back when they are gone', () => {
    expect(edited(makeWorld([[]], [a]), playing.state)).toMatchObject({ songIndex: 0, sceneIndex: null });
    const { state } = changeShow(before, playing.state, makeWorld([[]], [a]).show, 2);
    expect(state.banks).toEqual({ board: 'bank-0' });
  });
  it('before anything was played leads to the first song', () => {
    expect(edited(makeWorld([[]], [b, a]), initialState(before, 0)).songIndex).toBe(0);
  });
});

it('a note-on of velocity 0 lets a note switch go', () => {
  const { device, board, preset } = makeBoard(1, 0, [
    [
      assign(
        's0',
        [{ kind: 'set', functionId: 'volume', value: 1 }],
        [{ kind: 'set', functionId: 'volume', value: 2 }],
      ),
    ],
  ]);
  const notes = {
    ...board,
    controls: [{ ...board.controls[0]!, sends: { kind: 'note' as const, number: 36 } }],
  };
  const rig = makeRig([device, carrier, processor], [cable(processorOut, processorIn)], [notes]);
  const run = new Run(compileWorld({ rig, presets: [preset], setName: '', songs: [] }));
  expect(run.message(0, noteOn(15, 36, 90)).sent()).toEqual(['out-a B2 07 01']);
  expect(run.message(1, noteOn(15, 36, 0)).sent()).toEqual(['out-a B2 07 02']);
});
