import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { controller, hex, encode, noteOn, noteOff, program, type Message } from '../../midi';
import type { Assignment } from '../../floor';
import { PLAIN_FROM, PLAIN_ROUTE, type Route } from '../../routing';
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
} from '../../testing.test-support';
import {
  bookmarkOf,
  changeShow,
  compileWorld,
  initialState,
  nextThing,
  pauseNow,
  placeOf,
  setClock,
  step,
  type Command,
  type Effect,
  type LiveState,
  type Pause,
  type Show,
  type World,
} from '../index';

const SETTLE_MS = 40;
const processorIn = makePort({ id: 'processor-in', link: 'usb', atComputer: true });
const mixerIn = makePort({ id: 'mixer-in', link: 'usb', atComputer: true });
const keysOut = makePort({ id: 'keys-out', direction: 'out', link: 'usb', atComputer: true });
const processor = makeDevice({
  id: 'processor',
  channel: 2,
  ports: [processorIn],
  chart: [
    makeFunction({
      id: 'program',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [] },
      settleMs: SETTLE_MS,
    }),
    makeFunction({ id: 'level', drive: { kind: 'controller', controller: 24 } }),
    makeFunction({ id: 'damper', drive: { kind: 'controller', controller: 64 } }),
    makeFunction({
      id: 'fire',
      drive: { kind: 'controller', controller: 50 },
      shape: { kind: 'trigger', sent: 127 },
    }),
  ],
});
const mixer = makeDevice({
  id: 'mixer',
  channel: 8,
  ports: [mixerIn],
  chart: [makeFunction({ id: 'wash', drive: { kind: 'controller', controller: 20 } })],
});
const keys = makeDevice({ id: 'keys', role: 'controller', channel: 0, ports: [keysOut] });

const songA = makeSong('A', [
  ['a1', { program: 1, level: 10, wash: 1 }],
  ['a2', { level: 20, damper: 127, fire: 127 }],
]);
const songB = makeSong('B', [['b1', { program: 2, level: 30 }]], { tempoBpm: 80 });
const songC = makeSong('C', [
  ['c1', { program: 3, wash: 90 }],
  ['c2', { level: 50 }],
]);
const PAUSES: readonly Pause[] = [
  { id: 'hello', kind: 'talk', name: 'Hello', lengthS: 30, before: 0 },
  { id: 'break', kind: 'break', name: 'Break', lengthS: 600, before: 2 },
  { id: 'talk', kind: 'talk', name: 'Thanks', lengthS: 60, before: 2 },
];

const route: Route = {
  ...PLAIN_ROUTE,
  id: 'route',
  name: 'Keys',
  from: { ...PLAIN_FROM, portIds: ['keys-out'] },
  to: [{ portId: 'processor-in', channel: null }],
};

function showOf({
  assignments = [],
  pauses = PAUSES,
  guardMs = 0,
}: { assignments?: Assignment[]; pauses?: readonly Pause[]; guardMs?: number } = {}): Show {
  const { device, board, preset } = makeBoard(4, 0, [assignments]);
  const withKeys = {
    ...board,
    controls: board.controls.map((c, i) =>
      i === 3 ? { ...c, sends: { kind: 'key' as const, number: 78 } } : c,
    ),
  };
  return {
    rig: {
      ...makeRig([processor, mixer, keys, device], [cable(device.ports[0]!, device.ports[0]!)], [withKeys]),
      stepGuardMs: guardMs,
      routing: { lines: [], routes: [route], othersTo: [] },
    },
    presets: [preset],
    setId: 'set',
    setName: 'Set',
    songs: [songA, songB, songC],
    pauses,
  };
}

/** Plays events one after the other and keeps what came of them. */
class Player {
  state: LiveState;
  atMs = 1000;
  effects: Effect[] = [];
  constructor(
    readonly world: World,
    state?: LiveState,
  ) {
    this.state = state ?? initialState(world, 1000);
  }
  do(command: Command, afterMs = 5000): this {
    this.atMs += afterMs;
    return this.took(step(this.world, this.state, { kind: 'command', atMs: this.atMs, command }));
  }
  hear(portId: string, message: Message, afterMs = 10): this {
    this.atMs += afterMs;
    return this.took(step(this.world, this.state, { kind: 'message', atMs: this.atMs, portId, message }));
  }
  wait(ms: number): this {
    this.atMs += ms;
    return this.took(step(this.world, this.state, { kind: 'tick', atMs: this.atMs }));
  }
  private took({ state, effects }: { state: LiveState; effects: Effect[] }): this {
    this.state = state;
    this.effects = effects;
    return this;
  }
  get sent(): string[] {
    return this.effects.flatMap((e) => (e.kind === 'send' ? `${e.portId} ${hex(encode(e.message))}` : []));
  }
  get notes(): string[] {
    return this.effects.flatMap((e) => (e.kind === 'note' ? e.note.code : []));
  }
  /** Where the evening is, in words. */
  get where(): string {
    const pause = pauseNow(this.world, this.state.run);
    if (pause) return pause.name;
    const { songIndex, sceneIndex } = placeOf(this.world, this.state);
    const song = this.world.songs[songIndex]!.song;
    return `${this.state.run ? '' : 'idle '}${sceneIndex === null ? song.name : song.scenes[sceneIndex]!.name}`;
  }
}
const show = (to: 'begin' | 'end' | 'next' | 'previous'): Command => ({ kind: 'show', to });

describe('the set is walked by one switch', () => {
  const WALK = ['Hello', 'a1', 'a2', 'b1', 'Break', 'Thanks', 'c1', 'c2', 'idle c2'];

  it('begins, goes scene by scene, song by song and through its breaks, and ends', () => {
    const player = new Player(compileWorld(showOf()));
    expect(WALK.map(() => player.do(show('next')).where)).toEqual(WALK);
    expect(player.notes).toContain('set-ended');
  });

  it('goes back the same way, and stops at its beginning', () => {
    const player = new Player(compileWorld(showOf()));
    for (let i = 0; i < 8; i++) player.do(show('next'));
    const back = Array.from({ length: 7 }, () => player.do(show('previous')).where);
    expect(back).toEqual(['c1', 'Thanks', 'Break', 'b1', 'a2', 'a1', 'Hello']);
    player.do(show('previous'));
    expect([player.where, player.notes.includes('start-of-set')]).toEqual(['Hello', true]);
    expect(player.do(show('next')).where).toBe('a1');
  });

  it('what "next" leads to is where it then is', () => {
    const player = new Player(compileWorld(showOf()));
    player.do(show('next'));
    for (let i = 0; i < 7; i++) {
      const ahead = nextThing(player.world, player.state);
      player.do(show('next'));
      const { songIndex, partIndex } = placeOf(player.world, player.state);
      if (ahead.kind === 'pause') expect(pauseNow(player.world, player.state.run)).toBe(ahead.pause);
      else if (ahead.kind === 'part')
        expect({ songIndex, partIndex }).toEqual({ songIndex: ahead.songIndex, partIndex: ahead.partIndex });
      else expect.unreachable();
    }
    expect(nextThing(player.world, player.state)).toEqual({ kind: 'end' });
  });

  it('begins anew with the first song whatever was tried before, and its time with it', () => {
    const player = new Player(compileWorld(showOf({ pauses: [] })));
    player.do({ kind: 'go', songIndex: 2, sceneIndex: 1 }).do({ kind: 'go', songIndex: 0, sceneIndex: 1 });
    player.do(show('begin'), 60_000);
    expect([player.where, player.state.songStartedAtMs, player.state.run?.startedAtMs]).toEqual([
      'a1',
      player.atMs,
      player.atMs,
    ]);
  });

  it('a set that runs is not begun, one that does not is not ended or gone back in', () => {
    const player = new Player(compileWorld(showOf()));
    expect(player.do(show('end')).notes).toContain('set-runs-not');
    expect(player.do(show('previous')).notes).toContain('set-runs-not');
    player.do(show('begin'));
    const { run } = player.state;
    expect(player.do(show('begin')).notes).toContain('set-runs');
    expect(player.state.run).toEqual(run);
  });

  it('going on after the last thing ends it, and does not begin it again', () => {
    const player = new Player(compileWorld(showOf()));
    player.do(show('begin'));
    for (let i = 0; i < 30 && player.state.run; i++) player.do(show('next'));
    expect(player.state).toMatchObject({ run: null, isOver: true });
    const { where } = player;
    expect(player.do(show('next')).notes).toContain('set-over');
    expect([player.state.run, player.where]).toEqual([null, where]);
    // Begun by what begins it, or once something else was gone to.
    expect(player.do(show('begin')).state.isOver).toBe(false);
    expect(player.state.run).not.toBeNull();
    for (let i = 0; i < 30 && player.state.run; i++) player.do(show('next'));
    player.do({ kind: 'song', to: { index: 0 } });
    expect(player.do(show('next')).state.run).not.toBeNull();
  });

  it('a scene that is gone to ends a break; what sounded goes on through it', () => {
    const player = new Player(compileWorld(showOf()));
    for (let i = 0; i < 4; i++) player.do(show('next'));
    player.wait(500);
    expect(player.do(show('next')).sent).toEqual([]);
    expect(player.where).toBe('Break');
    expect(player.do({ kind: 'scene', to: 'again' }).where).toBe('b1');
    player.do(show('next'));
    expect(player.do({ kind: 'song', to: { index: 0 } }).where).toBe('a1');
  });

  it('runs on through an edit; a break that is taken out is over, and another set ends it', () => {
    const player = new Player(compileWorld(showOf()));
    for (let i = 0; i < 5; i++) player.do(show('next'));
    const without = changeShow(
      player.world,
      player.state,
      showOf({ pauses: PAUSES.slice(0, 1) }),
      player.atMs,
    );
    expect(without.state.run).toEqual({ ...player.state.run, pauseId: null, pausedAtMs: null });
    const other = changeShow(player.world, player.state, { ...showOf(), setId: 'other' }, player.atMs);
    expect(other.state.run).toBeNull();
  });
});

describe('songs and scenes by their place', () => {
  it.each([
    [{ kind: 'song', to: { index: 1 } }, 'idle b1'],
    [{ kind: 'song', to: { index: 7 } }, 'idle a2'],
    [{ kind: 'song', to: 'again' }, 'idle a1'],
    [{ kind: 'song', to: 'next' }, 'idle b1'],
    [{ kind: 'scene', to: 'again' }, 'idle a2'],
  ] as [Command, string][])('%j leads to %s', (command, where) => {
    const player = new Player(compileWorld(showOf()));
    player.do({ kind: 'go', songIndex: 0, sceneIndex: 1 });
    expect(player.do(command).where).toBe(where);
  });

  it('the song again sends all of its first scene and counts its time anew', () => {
    const player = new Player(compileWorld(showOf()));
    player.do({ kind: 'go', songIndex: 0, sceneIndex: 0 }).wait(1000);
    player.do({ kind: 'song', to: 'again' });
    expect(player.sent).toContain('processor-in C2 01');
    expect(player.state.songStartedAtMs).toBe(player.atMs);
  });
});

describe('a step that the foot doubles', () => {
  const next = [assign('s0', [{ kind: 'scene', to: { kind: 'next' } }])];
  const press = (player: Player, afterMs: number, control = 30) =>
    player
      .hear('board-out', controller(15, control, 127), afterMs)
      .hear('board-out', controller(15, control, 0), 1);

  it.each([
    [199, 'idle a1'],
    [200, 'idle a2'],
  ])('%i ms after the same one leads to %s', (afterMs, where) => {
    const player = new Player(compileWorld(showOf({ assignments: next, guardMs: 200 })));
    press(player, 5000);
    press(player, afterMs - 1);
    expect(player.where).toBe(where);
  });

  it('says so, and the time goes on from the one that counted', () => {
    const player = new Player(compileWorld(showOf({ assignments: next, guardMs: 200 })));
    press(player, 5000);
    player.hear('board-out', controller(15, 30, 127), 150);
    expect(player.notes).toContain('double-step');
    player.hear('board-out', controller(15, 30, 0), 1);
    press(player, 60);
    expect(player.where).toBe('idle a2');
  });

  it('is free for what leads to the same place, for other switches, and where nothing is guarded', () => {
    const assignments = [
      assign('s0', [{ kind: 'scene', to: { kind: 'at', index: 1 } }]),
      assign('s1', [{ kind: 'scene', to: { kind: 'next' } }]),
      assign('s2', [{ kind: 'scene', to: { kind: 'next' } }]),
    ];
    const player = new Player(compileWorld(showOf({ assignments, guardMs: 200 })));
    press(player, 5000);
    press(player, 10);
    expect(player.where).toBe('idle a2');
    press(player, 10, 31);
    press(player, 10, 32);
    expect(player.where).toBe('idle c1');
    const open = new Player(compileWorld(showOf({ assignments })));
    press(open, 5000, 31);
    press(open, 5, 31);
    expect(open.where).toBe('idle a2');
  });
});

describe('a key of the computer is a control', () => {
  const assignments = [
    assign('s3', [{ kind: 'scene', to: { kind: 'next' } }], [], {
      hold: [{ kind: 'song', to: 'next' }],
      timing: { holdMs: 600 },
    }),
  ];
  const key = (isDown: boolean): Command => ({ kind: 'key', number: 78, isDown });

  it('presses, and holds, as its board says', () => {
    const player = new Player(compileWorld(showOf({ assignments })));
    player.do(key(true)).do(key(false), 80);
    expect(player.where).toBe('idle a1');
    player.do(key(true)).wait(700).do(key(false), 10);
    expect(player.where).toBe('idle b1');
  });

  it('does nothing where no board has it', () => {
    const player = new Player(compileWorld(showOf({ assignments })));
    player.do({ kind: 'key', number: 75, isDown: true });
    expect([player.notes, player.where]).toEqual([[], 'idle A']);
  });

  it('walks a set to the same states as program numbers and switches', () => {
    const walkers: ((player: Player) => void)[] = [
      (p) => p.do(key(true)).do(key(false), 20),
      (p) => p.hear('board-out', controller(15, 30, 127), 5000).hear('board-out', controller(15, 30, 0), 20),
    ];
    const walked = walkers.map((walk) => {
      const same = [
        assign('s3', [{ kind: 'show', to: 'next' }]),
        assign('s0', [{ kind: 'show', to: 'next' }]),
      ];
      const player = new Player(compileWorld(showOf({ assignments: same })));
      return Array.from({ length: 8 }, () => {
        walk(player);
        player.wait(1000);
        return [player.where, valuesOf(player.world, player.state)];
      });
    });
    expect(walked[0]).toEqual(walked[1]);
    const called = new Player(
      compileWorld({ ...showOf(), calls: { portId: 'keys-out', channel: 4, base: 10 } }),
    );
    const firsts = [0, 1, 2].map((k) => {
      called.hear('keys-out', program(4, 10 + k), 5000).wait(1000);
      return valuesOf(called.world, called.state)['program'];
    });
    expect(firsts).toEqual([1, 2, 3]);
  });
});

describe('a port that goes and comes', () => {
  it('what could not be ended while it was away ends when it is back, once', () => {
    const player = new Player(compileWorld(showOf()));
    player.hear('keys-out', noteOn(0, 60, 100));
    expect(player.sent).toEqual(['processor-in 90 3C 64']);
    player.do({ kind: 'port-lost', portId: 'processor-in' });
    player.hear('keys-out', noteOff(0, 60));
    // The end of a note that did not sound there is nothing to be told later.
    player.hear('keys-out', noteOff(0, 61));
    expect(player.state.sounding).toEqual([]);
    player.do({ kind: 'port-found', portId: 'processor-in', isToldAgain: false });
    expect(player.sent).toEqual(['processor-in 80 3C 40']);
    player.do({ kind: 'port-found', portId: 'processor-in', isToldAgain: false });
    expect(player.sent).toEqual([]);
  });

  it('what is still held goes on', () => {
    const player = new Player(compileWorld(showOf()));
    player.hear('keys-out', noteOn(0, 60, 100));
    player.do({ kind: 'port-lost', portId: 'processor-in' });
    player.do({ kind: 'port-found', portId: 'processor-in', isToldAgain: false });
    expect(player.sent).toEqual([]);
    expect(player.hear('keys-out', noteOff(0, 60)).sent).toEqual(['processor-in 80 3C 40']);
  });

  it('hears the scene in play again where that is wanted: what lies behind it, and nothing fires', () => {
    const heard = (isToldAgain: boolean) => {
      const player = new Player(compileWorld(showOf()));
      player.do({ kind: 'go', songIndex: 0, sceneIndex: 1 }).wait(500);
      player.do({ kind: 'port-lost', portId: 'processor-in' });
      player.do({ kind: 'port-found', portId: 'processor-in', isToldAgain });
      return [...player.sent, ...player.wait(500).sent];
    };
    expect(heard(true)).toEqual(['processor-in C2 01', 'processor-in B2 18 14', 'processor-in B2 40 7F']);
    expect(heard(false)).toEqual([]);
  });
});

describe('panic leaves the scene whole', () => {
  it('what it dropped is sent after it, and dampers that the scene holds are down again', () => {
    const player = new Player(compileWorld(showOf()));
    player.do({ kind: 'go', songIndex: 0, sceneIndex: 1 }).wait(500);
    player.do({ kind: 'go', songIndex: 1, sceneIndex: 0 });
    // The level waits for the program to settle.
    expect(player.state.pending.length).toBeGreaterThan(0);
    player.do({ kind: 'panic' }, 5);
    const silenced = player.sent.findLastIndex((s) => s.endsWith('78 00'));
    const all = [...player.sent, ...player.wait(500).sent];
    expect(all.indexOf('processor-in B2 18 1E')).toBeGreaterThan(silenced);
    expect(valuesOf(player.world, player.state)).toMatchObject({ program: 2, level: 30 });
    const held = new Player(compileWorld(showOf()));
    held.do({ kind: 'go', songIndex: 0, sceneIndex: 1 }).wait(500).do({ kind: 'panic' });
    const after = held.sent;
    expect(after.lastIndexOf('processor-in B2 40 7F')).toBeGreaterThan(
      after.lastIndexOf('processor-in B2 40 00'),
    );
    expect(after.filter((s) => s.endsWith('32 7F'))).toEqual([]);
  });
});

describe('an evening comes back after the page was away', () => {
  const commands = fc.array(
    fc.oneof(
      { weight: 6, arbitrary: fc.constantFrom(show('next'), show('previous'), show('begin')) },
      fc.constantFrom<Command>(
        { kind: 'song', to: 'again' },
        { kind: 'view', to: 'next' },
        { kind: 'set', functionId: 'wash', value: 33 },
        { kind: 'scene', to: 'next' },
      ),
    ),
    { minLength: 1, maxLength: 12 },
  );

  it('where it stood, with all that is known, and sends nothing (200 evenings)', () => {
    fc.assert(
      fc.property(commands, fc.integer({ min: 0, max: 4_000_000 }), (walk, awayMs) => {
        const before = new Player(compileWorld(showOf()));
        for (const command of walk) before.do(command);
        before.wait(1000);
        const bookmark = bookmarkOf(before.world, before.state, before.atMs);
        // As plain data, on another clock.
        const after = new Player(compileWorld(showOf()));
        after.atMs = 50;
        after.state = initialState(after.world, 50);
        after.do({ kind: 'resume', bookmark: JSON.parse(JSON.stringify(bookmark)), awayMs }, 10);
        expect(after.sent).toEqual([]);
        expect(after.where).toBe(before.where);
        expect(valuesOf(after.world, after.state)).toEqual(valuesOf(before.world, before.state));
        expect(after.state.view).toBe(before.state.view);
        if (before.state.run)
          expect(after.atMs - after.state.run!.startedAtMs).toBe(
            before.atMs - before.state.run.startedAtMs + awayMs,
          );
        // It goes on as if nothing had been.
        for (const command of [show('next'), { kind: 'scene', to: 'again' } as const]) {
          expect(after.do(command).sent).toEqual(before.do(command).sent);
          expect(after.wait(500).sent).toEqual(before.wait(500).sent);
          expect(after.where).toBe(before.where);
        }
      }),
      { numRuns: 200, seed: 13 },
    );
  });

  it('notes that were left sounding end when their port is there', () => {
    const before = new Player(compileWorld(showOf()));
    before.hear('keys-out', noteOn(0, 60, 100)).hear('keys-out', noteOn(0, 64, 100));
    const bookmark = bookmarkOf(before.world, before.state, before.atMs);
    const after = new Player(compileWorld(showOf()));
    expect(after.do({ kind: 'resume', bookmark, awayMs: 100 }).sent).toEqual([]);
    after.do({ kind: 'port-found', portId: 'processor-in', isToldAgain: false });
    expect(after.sent).toEqual(['processor-in 80 3C 40', 'processor-in 80 40 40']);
  });

  it('so do notes that were struck before it was known where it stood', () => {
    const before = new Player(compileWorld(showOf()));
    before.hear('keys-out', noteOn(0, 60, 100));
    const bookmark = bookmarkOf(before.world, before.state, before.atMs);
    const after = new Player(compileWorld(showOf()));
    after.hear('keys-out', noteOn(0, 67, 100));
    expect(after.do({ kind: 'resume', bookmark, awayMs: 100 }).sent).toEqual([]);
    after.do({ kind: 'port-found', portId: 'processor-in', isToldAgain: false });
    expect(after.sent).toEqual(['processor-in 80 3C 40', 'processor-in 80 43 40']);
    expect(after.state.hung).toEqual([]);
  });

  it('a port that was pulled out before that is still away', () => {
    const before = new Player(compileWorld(showOf()));
    before.hear('keys-out', noteOn(0, 60, 100));
    const bookmark = bookmarkOf(before.world, before.state, before.atMs);
    const after = new Player(compileWorld(showOf()));
    after.do({ kind: 'port-lost', portId: 'mixer-in' }).do({ kind: 'resume', bookmark, awayMs: 100 });
    expect([...after.state.lostPorts].sort()).toEqual(['mixer-in', 'processor-in']);
  });

  it('what still waited for a device is not taken as told', () => {
    const before = new Player(compileWorld(showOf()));
    before.do({ kind: 'go', songIndex: 0, sceneIndex: 0 });
    // The level waits for the program to settle.
    expect(before.state.pending.map((p) => p.functionId)).toEqual(['level']);
    const kept = () => {
      const { registers } = bookmarkOf(before.world, before.state, before.atMs);
      return valuesOf(before.world, { registers, pending: [] });
    };
    expect(kept()).toEqual({ program: 1, wash: 1 });
    before.wait(SETTLE_MS * 2);
    expect(kept()).toEqual(valuesOf(before.world, before.state));
  });

  it('of another rig it is left alone; of another set only the rig is known', () => {
    const before = new Player(compileWorld(showOf()));
    before.do(show('next')).do(show('next'));
    before.wait(SETTLE_MS * 2);
    const bookmark = bookmarkOf(before.world, before.state, before.atMs);
    const other = new Player(compileWorld(showOf()));
    other.do({ kind: 'resume', bookmark: { ...bookmark, rigId: 'other' }, awayMs: 0 });
    expect([valuesOf(other.world, other.state), other.where]).toEqual([{}, 'idle A']);
    other.do({ kind: 'resume', bookmark: { ...bookmark, setId: 'other' }, awayMs: 0 });
    expect([valuesOf(other.world, other.state)['level'], other.where]).toEqual([10, 'idle A']);
  });

  it('what is gone from the rig meanwhile is not known any more', () => {
    const before = new Player(compileWorld(showOf()));
    before.do({ kind: 'go', songIndex: 0, sceneIndex: 0 }).wait(500);
    const bookmark = bookmarkOf(before.world, before.state, before.atMs);
    const nowhere = Object.fromEntries(
      Object.entries(bookmark.registers).map(([key, value]) => [key.replace('cc 24', 'cc 99'), value]),
    );
    const odd = { ...bookmark, registers: nowhere };
    const after = new Player(compileWorld(showOf()));
    after.do({ kind: 'resume', bookmark: odd, awayMs: 0 });
    expect(valuesOf(after.world, after.state)).toEqual({ program: 1, wash: 1 });
  });
});

describe('the time of a set that runs', () => {
  const at = (player: Player) => setClock(player.world, player.state, player.atMs);
  // Hello 30 s, A 200 s, B 200 s, a break of 600 s, thanks of 60 s, C 200 s: 1290 s.
  it('is known before it begins', () => {
    expect(at(new Player(compileWorld(showOf())))).toEqual({ goneS: 0, leftS: 1290, overS: 0 });
  });

  it.each([
    ['in time', [30, 200, 190], { goneS: 420, leftS: 870 + 0, overS: 0 }],
    ['late', [90, 200, 100], { goneS: 390, leftS: 960, overS: 60 }],
    ['early', [30, 150, 100], { goneS: 280, leftS: 960, overS: -50 }],
    ['a song that runs over', [30, 200, 260], { goneS: 490, leftS: 860, overS: 60 }],
  ])('%s', (_what, [hello, songFirst, now], clock) => {
    const player = new Player(compileWorld(showOf()));
    player.do(show('begin'), 0);
    player.do(show('next'), hello! * 1000);
    player.do(show('next'), 50_000).do(show('next'), songFirst! * 1000 - 50_000);
    player.wait(now! * 1000);
    const { goneS, leftS, overS } = at(player);
    expect({ goneS: Math.round(goneS), leftS: Math.round(leftS), overS: Math.round(overS) }).toEqual(clock);
  });

  it('stands in its breaks', () => {
    const player = new Player(compileWorld(showOf()));
    player.do(show('begin'), 0);
    for (const s of [30, 100, 100, 200]) player.do(show('next'), s * 1000);
    expect(player.where).toBe('Break');
    player.wait(100_000);
    expect(at(player)).toEqual({ goneS: 530, leftS: 760, overS: 0 });
  });
});

it('views are turned round, and one is gone to', () => {
  const player = new Player(compileWorld(showOf()));
  const turned = Array.from({ length: 4 }, () => player.do({ kind: 'view', to: 'next' }).state.view);
  expect(turned).toEqual(['labels', 'order', 'song', 'scene']);
  expect(player.do({ kind: 'view', to: 'previous' }).state.view).toBe('song');
  expect(player.do({ kind: 'view', to: 'order' }).state.view).toBe('order');
});

it('a switch asks for what stands now to be kept in the scene in play', () => {
  const assignments = [assign('s0', [{ kind: 'capture' }])];
  const player = new Player(compileWorld(showOf({ assignments })));
  player.hear('board-out', controller(15, 30, 127));
  expect(player.notes).toContain('no-scene');
  player.hear('board-out', controller(15, 30, 0));
  player.do({ kind: 'go', songIndex: 0, sceneIndex: 1 });
  player.hear('board-out', controller(15, 30, 127));
  expect(player.effects).toContainEqual({
    kind: 'capture',
    songId: songA.id,
    sceneId: songA.scenes[1]!.id,
  });
});
