import { describe, expect, it } from 'vitest';
import { gestureDueMs, moveContact, moveSwitch, PLAIN_TIMING, type Assignment } from '../floor';
import { controller, program } from '../midi';
import { planRecall } from '../show';
import { assign, makeBoard, makeDevice, makeFunction, makeSong } from '../testing.test-support';
import { clockDueMs, retimedClocks } from './time/clockTimes';
import { compileWorld, isLampLit, type Command, type LiveEvent, type World } from './index';
import { play, Playing, showWithGear } from './playing.test-support';

/** Small changes of actions, gestures and plans that nobody noticed before: one case for each. */

const track = (id: string, number: number, arms: string) =>
  makeFunction({
    id,
    arms,
    drive: { kind: 'controller', controller: number },
    shape: { kind: 'switch', on: 127, off: 0 },
  });

const gear = makeDevice({
  id: 'gear',
  channel: 0,
  setting: { name: 'Mode', options: ['A', 'B'], inForce: 'A' },
  keptNumbers: [{ from: 40, to: 44 }],
  chart: [
    makeFunction({ id: 'level', drive: { kind: 'controller', controller: 21 } }),
    makeFunction({ id: 'kept', drive: { kind: 'controller', controller: 22 }, reserved: true }),
    makeFunction({ id: 'in-range', drive: { kind: 'controller', controller: 40 } }),
    makeFunction({ id: 'under-b', drive: { kind: 'controller', controller: 23 }, under: 'B' }),
    track('one', 81, 'One'),
    track('one-again', 82, 'One'),
    track('two', 83, 'Two'),
    track('three', 84, 'Three'),
  ],
});

const withBoard = (switches: number, pedals: number, banks: Assignment[][]) =>
  showWithGear(gear, makeBoard(switches, pedals, banks));
const worldOf = (...banks: Assignment[][]): World => compileWorld(withBoard(2, 0, banks));

const hear = (atMs: number, value: number, number = 30): LiveEvent => ({
  kind: 'message',
  atMs,
  portId: 'board-out',
  message: controller(15, number, value),
});
const tick = (atMs: number): LiveEvent => ({ kind: 'tick', atMs });
const bytes = (sent: readonly string[]) => sent.map((s) => s.split(' ').slice(1).join(' '));

describe('what a device does not take', () => {
  it.each([
    ['kept', 'function-reserved'],
    ['in-range', 'function-reserved'],
    ['under-b', 'not-under-setting'],
  ])('%s is said and not sent', (functionId, code) => {
    const { sent, codes } = play(worldOf([assign('s0', [{ kind: 'set', functionId, value: 5 }])]), [
      hear(0, 127),
    ]);
    expect(sent).toEqual([]);
    expect(codes).toContain(code);
  });

  it('a message by its number is told like the row that keeps it; another number is sent', () => {
    const message = (number: number) =>
      ({ kind: 'message', deviceId: 'gear', channel: null, send: 'controller', number, value: 9 }) as const;
    const world = worldOf([assign('s0', [message(22), message(44)]), assign('s1', [message(29)])]);
    const { sent, codes } = play(world, [hear(0, 127), hear(10, 127, 31)]);
    expect(codes).toContain('function-reserved');
    expect(codes).toContain('number-kept');
    expect(sent).toEqual(['10 B0 1D 09']);
  });
});

describe('a plan', () => {
  it('stands when its last byte has come through the slowest link', () => {
    const [fn] = gear.chart;
    const plan = (latencyMs: number) =>
      planRecall(
        [
          {
            reached: { device: gear, fn: fn!, path: { portId: 'out', link: 'usb', latencyMs } as never },
            value: 1,
          },
        ],
        { nowMs: 100, stands: () => false, listensFromMs: () => 0, portFreeFromMs: () => 0 },
        'all',
      );
    expect(plan(0).settledAtMs).toBe(100);
    expect(plan(12).settledAtMs).toBe(112);
  });
});

describe('a gesture', () => {
  const wants = { ...PLAIN_TIMING, hold: false, doublePress: false };
  it('lets go of nothing where nothing had fired', () => {
    const down = {
      isDown: true,
      downAtMs: 0,
      isPending: false,
      isSecond: false,
      holdDone: false,
      hasFired: false,
    };
    expect(moveSwitch(down, false, 50, wants).fired).toEqual([]);
    expect(moveSwitch({ ...down, hasFired: true }, false, 50, wants).fired).toEqual([
      { gesture: 'release', atMs: 50 },
    ]);
    expect(gestureDueMs(down, wants)).toBe(null);
  });

  it.each([
    [9, false],
    [10, true],
  ])('of a contact %i ms after it bounced counts: %s', (atMs, changed) => {
    const contact = { isDown: true, sinceMs: 0, raw: true };
    expect(moveContact(contact, false, atMs, 10).changed).toBe(changed);
  });

  it('that goes down twice ends the note that it played', () => {
    const note = { kind: 'message', deviceId: 'gear', channel: null, send: 'note', number: 60, value: 90 };
    const world = worldOf([assign('s0', [note as never])]);
    expect(bytes(play(world, [hear(0, 127), hear(50, 127)]).sent)).toEqual([
      '90 3C 5A',
      '80 3C 40',
      '90 3C 5A',
    ]);
  });

  it('that ends before its delayed momentary action never sends it', () => {
    const momentary = {
      kind: 'momentary',
      functionId: 'level',
      down: 100,
      up: 0,
      delay: { amount: 200, unit: 'ms' },
    };
    const world = worldOf([assign('s0', [momentary as never])]);
    expect(play(world, [hear(0, 127), hear(50, 0), tick(500)]).sent).toEqual(['50 B0 15 00']);
    expect(play(world, [hear(0, 127), hear(300, 0), tick(500)]).sent).toEqual([
      '200 B0 15 64',
      '300 B0 15 00',
    ]);
  });
});

describe('banks and tracks', () => {
  it.each([
    ['up', 'bank-1'],
    ['down', 'bank-2'],
  ])('a bank %s from the first of three is %s', (kind, bankId) => {
    const turn = assign('s0', [{ kind: 'bank', to: { kind } } as never]);
    expect(play(worldOf([turn], [], []), [hear(0, 127)]).state.banks).toEqual({ board: bankId });
  });

  it('arming a track lets go the others, but not another way to arm the same one, which is armed by either', () => {
    const set = (functionId: string) => ({ kind: 'set', functionId, value: 1 });
    const arm = { kind: 'arm-only', functionId: 'one' };
    const world = worldOf([
      assign('s0', [set('one-again'), set('two')] as never),
      assign('s1', [arm as never]),
    ]);
    expect(bytes(play(world, [hear(0, 127), hear(10, 127, 31)]).sent)).toEqual([
      'B0 52 7F',
      'B0 53 7F',
      // What the other message told holds for this one too: the track is armed.
      'B0 53 00',
      'B0 54 00',
    ]);
  });

  it.each([
    ['previous', 'B0 54 7F'],
    ['next', 'B0 51 7F'],
  ])('with no track armed the %s one is %s', (to, armed) => {
    const step = assign('s0', [{ kind: 'arm-step', deviceId: 'gear', to } as never]);
    expect(bytes(play(worldOf([step]), [hear(0, 127)]).sent)[0]).toBe(armed);
  });
});

describe('within a song', () => {
  const song = makeSong('Song', [
    ['One', { level: 1 }],
    ['Two', { level: 2 }],
  ]);
  const world = compileWorld({
    ...withBoard(1, 0, [[]]),
    songs: [song, makeSong('Next', [['One', {}]])],
  });
  const go = (atMs: number, songIndex: number, sceneIndex: number): LiveEvent => ({
    kind: 'command',
    atMs,
    command: { kind: 'go', songIndex, sceneIndex },
  });

  it('the clock of the song and the beat go on over its scenes, and begin anew with the next song', () => {
    const { state } = play(world, [go(100, 0, 0), go(5000, 0, 1)]);
    expect([state.songStartedAtMs, state.tempo.originMs]).toEqual([100, 100]);
    expect(play(world, [go(100, 0, 0), go(5000, 1, 0)]).state.songStartedAtMs).toBe(5000);
  });

  it('a tempo that was tapped stays over its scenes', () => {
    const taps = [0, 400, 800].map((ms): LiveEvent => ({
      kind: 'command',
      atMs: 200 + ms,
      command: { kind: 'tap' },
    }));
    expect(play(world, [go(100, 0, 0), ...taps, go(5000, 0, 1)]).state.tempo.bpm).toBe(150);
  });
});

describe('an edit while a song is played', () => {
  const base = makeSong('Song', [
    ['A', { level: 1 }],
    ['B', { level: 2 }],
    ['C', { level: 3 }],
  ]);
  const part = (id: string, scene: number) => ({
    id,
    sceneId: base.scenes[scene]!.id,
    name: '',
    length: null,
    remark: '',
  });
  const song = { ...base, parts: [part('1', 0), part('2', 1), part('3', 0), part('4', 2)] };
  const show = { ...withBoard(1, 0, [[]]), songs: [song] };
  const next: Command = { kind: 'scene', to: 'next' };

  it('leaves the part in play, of a scene that comes twice', () => {
    const playing = new Playing(show).do(0, next).do(1000, next).do(2000, next);
    playing.edit(3000, { ...show, songs: [{ ...song, remark: 'slower' }] });
    expect(playing.state.position.partId).toBe('3');
    expect(playing.do(4000, next).lastSent()).toEqual(['out B0 15 03']);
  });

  it('leaves a tempo that was tapped, unless it changes the tempo', () => {
    const playing = new Playing(show).do(0, next);
    for (const atMs of [1000, 1400, 1800]) playing.do(atMs, { kind: 'tap' });
    playing.edit(3000, { ...show, songs: [{ ...song, remark: 'slower' }] });
    expect(playing.state.tempo.bpm).toBe(150);
    expect(playing.edit(4000, { ...show, songs: [{ ...song, tempoBpm: 90 }] }).state.tempo.bpm).toBe(90);
  });
});

describe('an edit of the rig', () => {
  const raw = { kind: 'raw', portId: 'out', bytes: [0x90, 60, 100] } as const;
  const down = controller(15, 30, 127);
  it('ends a note at a port that goes, and leaves one that stays', () => {
    const show = withBoard(1, 0, [[assign('s0', [raw])]]);
    const playing = new Playing(show).hear(0, down);
    expect(playing.edit(10, { ...show, setName: 'Other' }).lastSent()).toEqual([]);
    const devices = show.rig.devices.filter((d) => d.id !== 'box');
    expect(playing.edit(20, { ...show, rig: { ...show.rig, devices } }).lastSent()).toEqual(['out 80 3C 40']);
  });

  it('leaves the bank in force, or takes the one at its place where it is gone', () => {
    const banks = [1, 2, 3, 4].map((value) => [
      assign('s0', [{ kind: 'set' as const, functionId: 'level', value }]),
    ]);
    const show = withBoard(1, 0, banks);
    const up: Command = { kind: 'bank', boardId: 'board', to: 'up' };
    const playing = new Playing(show).do(0, up).do(10, up);
    expect(playing.edit(20, { ...show, setName: 'Other' }).state.banks).toEqual({ board: 'bank-2' });
    const without = (...gone: string[]) => ({
      ...show,
      presets: show.presets.map((p) => ({ ...p, banks: p.banks.filter((b) => !gone.includes(b.id)) })),
    });
    expect(playing.edit(30, without('bank-2')).hear(40, down).lastSent()).toEqual(['out B0 15 04']);
    expect(playing.edit(50, without('bank-2', 'bank-3')).hear(60, down).lastSent()).toEqual(['out B0 15 02']);
  });
});

describe('a program that calls a song', () => {
  const songs = ['One', 'Two'].map((name) => makeSong(name, [['A', { level: name.length }]]));
  const show = { ...withBoard(1, 0, [[]]), songs, entryIds: ['one', 'two'] };
  const calls = { portId: 'board-out', channel: 4, base: 10 };
  it.each([
    ['by its port and channel', 4, 11, 'board-out', 'two'],
    ['not by another channel', 5, 11, 'board-out', null],
    ['not by another port', 4, 11, 'other', null],
    ['not beyond the last song', 4, 12, 'board-out', null],
    ['not before the first song', 4, 9, 'board-out', null],
  ])('%s', (_, channel, number, portId, entryId) => {
    const playing = new Playing({ ...show, calls }).hear(0, program(channel, number), portId);
    expect(playing.state.songStartedAtMs === null ? null : playing.state.position.entryId).toBe(entryId);
  });
});

describe('a switch whose contacts bounce', () => {
  const showOf = (switching: 'momentary' | 'latching') => {
    const hold = { kind: 'momentary', functionId: 'level', down: 100, up: 3 } as const;
    const count = {
      kind: 'step',
      functionId: 'level',
      values: [1, 2, 3, 4],
      direction: 'forward',
      atEnd: 'stay',
    };
    const press = switching === 'momentary' ? hold : count;
    const { device, board, preset } = makeBoard(1, 0, [[assign('s0', [press as never])]]);
    const controls = board.controls.map((c) => ({
      ...c,
      hardware: { ...c.hardware, switching, debounceMs: 10 },
    }));
    return showWithGear(gear, { device, board: { ...board, controls }, preset });
  };
  it('is let go once they rest, also by a tap that is shorter than the bouncing', () => {
    const playing = new Playing(showOf('momentary')).run(hear(0, 127)).run(hear(4, 0));
    expect(playing.wait(1000).sent).toEqual(['0 B0 15 64', '10 B0 15 03']);
  });
  it('is pressed once where it latches, wherever its contacts come to rest', () => {
    const playing = new Playing(showOf('latching')).run(hear(0, 127)).run(hear(4, 0));
    expect(playing.wait(1000).sent).toEqual(['0 B0 15 01']);
    expect(playing.run(hear(2000, 127)).wait(3000).fresh().at(-1)).toBe('2000 B0 15 02');
  });
});

describe('a toggle of which nothing tells whether it is on', () => {
  const playing = (request: string, plays = true) => {
    const effect = makeFunction({
      id: 'effect',
      drive: { kind: 'controller', controller: 25 },
      shape: { kind: 'switch', off: 0, on: 127 },
      powerOn: null,
      request,
    });
    const toggle = assign('s0', [{ kind: 'toggle', functionId: 'effect' }]);
    const show = showWithGear({ chart: [effect] }, makeBoard(1, 0, [[toggle]]));
    const devices = show.rig.devices.map((d) => ({
      ...d,
      ports: d.ports.map((p) => (p.id === 'out' ? { ...p, plays } : p)),
    }));
    return new Playing({ ...show, rig: { ...show.rig, devices } })
      .run(hear(0, 127))
      .run(hear(50, 0))
      .wait(5000);
  };
  it('asks the device, and is off where it does not answer', () => {
    const { sent, codes } = playing('F0 7D 01 F7');
    expect(sent).toEqual(['0 F0 7D 01 F7', '300 B0 19 00']);
    expect(codes).toContain('value-asked');
  });
  it('asks no more often than every five seconds', () => {
    const chart = [
      makeFunction({
        id: 'effect',
        drive: { kind: 'controller', controller: 25 },
        shape: { kind: 'switch', off: 0, on: 127 },
        powerOn: null,
        request: 'F0 7D 01 F7',
      }),
      makeFunction({
        id: 'sound',
        drive: { kind: 'program', bank: null },
        shape: { kind: 'program', names: [] },
      }),
    ];
    const assignments = [
      assign('s0', [{ kind: 'toggle', functionId: 'effect' }]),
      assign('s1', [{ kind: 'set', functionId: 'sound', value: 4 }]),
    ];
    const playing = new Playing(showWithGear({ chart }, makeBoard(2, 0, [assignments])));
    // Another sound: nobody knows any more whether the effect is on.
    const press = (atMs: number, number: number) =>
      playing
        .wait(atMs)
        .run(hear(atMs, 127, number))
        .run(hear(atMs + 20, 0, number));
    for (const atMs of [1000, 2000, 7000]) {
      press(atMs, 30);
      press(atMs + 100, 30);
      press(atMs + 500, 31);
    }
    expect(playing.wait(9000).sent).toEqual([
      // Both presses wait for one answer, and are done without it.
      '1000 F0 7D 01 F7',
      '1300 B0 19 00',
      '1300 B0 19 7F',
      '1500 C0 04',
      '2000 B0 19 00',
      '2100 B0 19 7F',
      '2500 C0 04',
      '7000 F0 7D 01 F7',
      '7300 B0 19 00',
      '7300 B0 19 7F',
      '7500 C0 04',
    ]);
  });
  it('is off at once where the device cannot be asked', () => {
    const { sent, codes } = playing('');
    expect(sent).toEqual(['0 B0 19 00']);
    expect(codes).toContain('switched-off-unknown');
  });
  it('sends nothing by a port that is not enabled for playing', () => {
    const { sent, codes } = playing('F0 7D 01 F7', false);
    expect(sent).toEqual([]);
    expect(codes).toContain('port-off');
  });
});

describe('a port that is pulled out and comes back', () => {
  it('is told of every note that ended meanwhile, each once', () => {
    const note = (number: number) =>
      ({ kind: 'message', deviceId: 'gear', channel: null, send: 'note', number, value: 90 }) as const;
    const play = [assign('s0', [note(60)]), assign('s1', [note(64)])];
    const playing = new Playing(withBoard(2, 0, [play]));
    playing
      .run(hear(0, 127))
      .run(hear(1, 127, 31))
      .do(10, { kind: 'port-lost', portId: 'out' });
    playing
      .run(hear(20, 0))
      .run(hear(21, 0, 31))
      .fresh();
    const found = { kind: 'port-found', portId: 'out', isToldAgain: false } as const;
    expect(playing.do(30, found).lastSent().sort()).toEqual(['out 80 3C 40', 'out 80 40 40']);
    expect(playing.do(40, found).lastSent()).toEqual([]);
  });
});

describe('a pedal of 14 bits', () => {
  it('waits with its coarse half for the fine one, 10 ms and no longer', () => {
    const soon = {
      kind: 'message',
      deviceId: 'gear',
      channel: null,
      send: 'controller',
      number: 90,
      value: 1,
      delay: { amount: 5, unit: 'ms' },
    };
    const { device, board, preset } = makeBoard(1, 1, [
      [
        assign('s0', [soon as never]),
        {
          ...assign('p0', []),
          sweeps: [
            { id: 'x', functionId: 'level', from: 0, to: 127, invert: false, curve: 'linear', points: [] },
          ],
        },
      ],
    ]);
    const [button, pedal] = board.controls;
    const fine = { ...pedal!, sends: { kind: 'controller-14' as const, number: 4 } };
    const controls = [button!, fine];
    const world = compileWorld(showWithGear(gear, { device, board: { ...board, controls }, preset }));
    expect(play(world, [hear(0, 64, 4), tick(9)]).sent).toEqual([]);
    expect(play(world, [hear(0, 64, 4), tick(10)]).sent).toEqual(['10 B0 15 40']);
    expect(play(world, [hear(0, 64, 4), hear(3, 0, 36)]).sent).toEqual(['3 B0 15 40']);
    // What falls due meanwhile does not make it give up waiting.
    expect(play(world, [hear(0, 64, 4), hear(0, 127), tick(9)]).sent).toEqual(['5 B0 5A 01']);
  });
});

describe('a clock whose tempo changes', () => {
  it('sends the tick on its way as it would have, and counts the new tempo from there', () => {
    // 120 bpm is a tick each 20.83 ms: after ten of them the next one is due at 208.33 ms.
    const running = { out: { sinceMs: 0, bpm: 120, sent: 10 } };
    const { out: retimed } = retimedClocks(running, 60);
    expect(clockDueMs(retimed!)).toBeCloseTo(clockDueMs(running.out), 9);
    expect(clockDueMs({ ...retimed!, sent: 1 }) - clockDueMs(retimed!)).toBeCloseTo(60_000 / 60 / 24, 9);
    expect(retimedClocks(running, 120)).toBe(running);
  });
});

describe('the lamp of a switch whose first action is left out', () => {
  it('follows the first one that is done', () => {
    const world = worldOf([
      assign('s0', [
        { kind: 'set', functionId: 'level', value: 1, isOff: true },
        { kind: 'set', functionId: 'level', value: 5 },
      ]),
    ]);
    expect(isLampLit(play(world, [hear(0, 127), hear(40, 0)]).state, 's0')).toBe(true);
  });
});

describe('panic', () => {
  it('forgets what still waits for its delay', () => {
    const late = { kind: 'set', functionId: 'level', value: 9, delay: { amount: 300, unit: 'ms' } };
    const world = worldOf([assign('s0', [late as never])]);
    const panic: LiveEvent = { kind: 'command', atMs: 100, command: { kind: 'panic' } };
    const levels = (events: readonly LiveEvent[]) =>
      play(world, events).sent.filter((s) => s.endsWith('B0 15 09'));
    expect(levels([hear(0, 127), hear(50, 0), tick(500)])).toHaveLength(1);
    expect(levels([hear(0, 127), hear(50, 0), panic, tick(500)])).toEqual([]);
  });
});

describe('the lamp of a switch that starts a clock', () => {
  it('is lit as long as the clock runs, and not only while the switch is down', () => {
    const clock = (to: 'start' | 'stop') => ({ kind: 'clock', portId: 'out', to }) as const;
    const world = worldOf([assign('s0', [clock('start')]), assign('s1', [clock('stop')])]);
    const started = [hear(0, 127), hear(50, 0)];
    expect(isLampLit(play(world, started).state, 's0')).toBe(true);
    const stopped = play(world, [...started, hear(100, 127, 31), hear(150, 0, 31)]).state;
    expect(isLampLit(stopped, 's0')).toBe(false);
    expect(isLampLit(stopped, 's1')).toBe(false);
  });
});
