import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  PLAIN_ASSIGNMENT,
  PLAIN_BANK,
  PLAIN_FEEL,
  PLAIN_HARDWARE,
  PLAIN_RESPONSE,
  relativeByte,
  RELATIVE_ENCODINGS,
  type Action,
  type Assignment,
  type Control,
  type Hardware,
  type MoveResponse,
  type Preset,
  type Sweep,
} from '../../floor';
import {
  channelPressure,
  controller,
  controller14,
  encode,
  endsNote,
  hex,
  noteOff,
  noteOn,
  parameterMessages,
  polyPressure,
  SequenceReader,
  type Message,
} from '../../midi';
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
import { changeShow, initialState, isLampLit, labelOf, lampTold, type Command, type World } from '../index';
import { Playing, worldOf } from '../playing.test-support';

const boardIn = makePort({ id: 'board-in', direction: 'in', link: 'usb' });
const hostOut = makePort({ id: 'host-out', direction: 'out', link: 'usb', atComputer: true });
const switchShape = { kind: 'switch', off: 0, on: 127 } as const;
const gear = makeDevice({
  id: 'gear',
  channel: 0,
  ports: [makePort({ id: 'gear-in', link: 'virtual', atComputer: true })],
  chart: [
    makeFunction({ id: 'level', drive: { kind: 'controller', controller: 21 } }),
    makeFunction({ id: 'swell', drive: { kind: 'controller', controller: 22 } }),
    makeFunction({
      id: 'fine',
      drive: { kind: 'controller-14', controller: 16 },
      shape: { kind: 'range', min: 0, max: 16383, shownFrom: 0 },
    }),
    ...['Bow', 'Voice', 'Hum'].map((arms, i) =>
      makeFunction({
        id: `arm-${i}`,
        arms,
        drive: { kind: 'controller', controller: 40 + i },
        shape: switchShape,
      }),
    ),
    ...[0, 1, 2].map((i) =>
      makeFunction({
        id: `block-${i}`,
        drive: { kind: 'controller', controller: 50 + i },
        shape: switchShape,
      }),
    ),
  ],
});

const sweepOf = (
  functionId: string,
  part: Partial<Pick<Sweep, 'from' | 'to' | 'invert' | 'curve' | 'points'>> = {},
): Sweep => ({
  id: `sweep-${functionId}`,
  functionId,
  from: 0,
  to: 127,
  invert: false,
  curve: 'linear',
  points: [],
  ...part,
});
const moves = (
  sweeps: Sweep[],
  response: Partial<MoveResponse> = {},
  part: Partial<Assignment> = {},
): Assignment => ({
  ...PLAIN_ASSIGNMENT,
  controlId: 'p0',
  sweeps,
  response: { ...PLAIN_RESPONSE, ...response },
  ...part,
});
const action = (part: object): Action => ({ id: 'a', ...part }) as Action;

type Change = {
  controls?: Record<string, Partial<Omit<Control, 'hardware'>> & { hardware?: Partial<Hardware> }>;
  preset?: Partial<Preset>;
  songs?: ReturnType<typeof makeSong>[];
};

/** Four switches (CC 30–33) and a pedal (CC 4) on channel 16, one device on a fast link, and lamps that can be told. */
function makeWorld(
  banks: Assignment[][],
  { controls = {}, preset: presetPart = {}, songs = [] }: Change = {},
): World {
  const { device, board, preset } = makeBoard(4, 1, banks);
  const changed = board.controls.map((c) => ({
    ...c,
    ...controls[c.id],
    hardware: { ...PLAIN_HARDWARE, ...controls[c.id]?.hardware },
  }));
  const host = makeDevice({ id: 'host', role: 'carrier', ports: [hostOut] });
  const rig = makeRig(
    [{ ...device, ports: [...device.ports, boardIn] }, gear, host],
    [cable(hostOut, boardIn)],
    [{ ...board, controls: changed }],
  );
  return worldOf(rig, { presets: [{ ...preset, ...presetPart }], songs });
}

class Play extends Playing {
  says(atMs: number, ...messages: Message[]): this {
    this.wait(atMs);
    for (const message of messages) super.hear(atMs, message);
    return this;
  }
  switch(atMs: number, index: number, value: number): this {
    return this.says(atMs, controller(15, 30 + index, value));
  }
  pedal(atMs: number, value: number): this {
    return this.says(atMs, controller(15, 4, value));
  }
  command(atMs: number, command: Command): this {
    return this.wait(atMs).do(atMs, command);
  }
}
const set = (value: number) => ({ kind: 'set' as const, functionId: 'level', value });

describe('switch hardware', () => {
  const toggle = [assign('s0', [{ kind: 'toggle', functionId: 'block-0' }])];
  const taps = (hardware: Partial<Hardware>, values: readonly (readonly [number, number])[]) => {
    const play = new Play(makeWorld([toggle], { controls: { s0: { hardware } } }));
    for (const [atMs, value] of values) play.switch(atMs, 0, value);
    return play.wait(10_000).sent;
  };
  it.each([1, 2, 4, 6, 8])('chatter of %i ms toggles once a press', (ms) =>
    expect(
      taps({ debounceMs: 10 }, [
        [0, 127],
        [ms / 2, 0],
        [ms, 127],
        [300, 0],
        [300 + ms / 2, 127],
        [300 + ms, 0],
      ]),
    ).toEqual(['0 B0 32 7F']),
  );
  it('without a debounce the same chatter toggles twice', () =>
    expect(
      taps({}, [
        [0, 127],
        [2, 0],
        [4, 127],
        [300, 0],
      ]),
    ).toHaveLength(2));
  it('a latching switch toggles at each press, whichever value it sends', () =>
    expect(
      taps({ switching: 'latching', edge: 'down' }, [
        [0, 127],
        [1000, 0],
        [2000, 127],
      ]),
    ).toEqual(['0 B0 32 7F', '1000 B0 32 00', '2000 B0 32 7F']));
  it('a switch that always sends 0 toggles at each press', () =>
    expect(
      taps({ edge: 'down' }, [
        [0, 0],
        [1000, 0],
      ]),
    ).toEqual(['0 B0 32 7F', '1000 B0 32 00']));
  it('a switch that sends a program presses, and neither holds nor stays down', () => {
    const hold = [assign('s0', [set(1)], [set(2)], { hold: [set(3)] })];
    const play = new Play(makeWorld([hold], { controls: { s0: { sends: { kind: 'program', number: 7 } } } }));
    play.says(0, { kind: 'program', channel: 15, program: 7 } as Message).wait(5000);
    expect(play.sent).toEqual(['0 B0 15 01', '0 B0 15 02']);
    expect(play.state.held).toEqual({});
  });
  it('a control may send on a channel of its own', () => {
    const play = new Play(makeWorld([toggle], { controls: { s0: { channel: 4 } } }));
    expect(play.switch(0, 0, 127).sent).toEqual([]);
    expect(play.says(10, controller(4, 30, 127)).sent).toEqual(['10 B0 32 7F']);
  });
});

describe('pedals', () => {
  it('count from their real ends, without trembling', () => {
    const hardware = { heel: 7, toe: 119, jitter: 3 };
    const play = new Play(makeWorld([[moves([sweepOf('level')])]], { controls: { p0: { hardware } } }));
    expect(play.pedal(0, 7).fresh()).toEqual(['0 B0 15 00']);
    expect(play.pedal(1, 8).pedal(2, 9).fresh()).toEqual([]);
    expect(play.pedal(3, 63).fresh()).toEqual(['3 B0 15 40']);
    expect(play.pedal(4, 119).fresh()).toEqual(['4 B0 15 7F']);
    expect(play.pedal(5, 127).fresh()).toEqual([]);
  });

  it('move several functions, each over its own range', () => {
    const both = moves([sweepOf('level', { from: 20, to: 110 }), sweepOf('swell', { invert: true })]);
    expect(new Play(makeWorld([[both]])).pedal(0, 127).sent).toEqual(['0 B0 15 6E', '0 B0 16 00']);
  });

  const pickedUp = [moves([sweepOf('level')], { takeover: 'pickup' })];
  it.each([
    ['from below', [10, 60, 89, 90, 100], ['B0 15 64']],
    ['from above', [127, 91, 90, 30], ['B0 15 1E']],
    ['over the value from below', [10, 89, 91], ['B0 15 5B']],
    ['over the value from above', [127, 95, 88], ['B0 15 58']],
  ])('with pickup take hold only when they cross the value: %s', (_name, positions, sent) => {
    const play = new Play(makeWorld([pickedUp]));
    play.command(0, { kind: 'set', functionId: 'level', value: 90 }).fresh();
    positions.forEach((p, i) => play.pedal(i + 1, p));
    expect(play.fresh().map((line) => line.replace(/^\S+ /, ''))).toEqual(sent);
  });
  it('with pickup lose hold when a scene moves the value, and find it again', () => {
    const songs = [makeSong('Ferry', [['Verse', { level: 30 }]])];
    const play = new Play(makeWorld([pickedUp], { songs }));
    play.pedal(0, 10).pedal(1, 100).fresh();
    play.command(2, { kind: 'scene', to: 'next' }).fresh();
    expect(play.pedal(3, 101).pedal(4, 60).fresh()).toEqual([]);
    expect(play.pedal(5, 29).fresh()).toEqual(['5 B0 15 1D']);
    expect(play.pedal(6, 50).fresh()).toEqual(['6 B0 15 32']);
  });

  it.each([
    ['a pair of controllers', { kind: 'controller-14', number: 4 }, (v: number) => controller14(15, 4, v)],
    ['an NRPN', { kind: 'nrpn', number: 300 }, (v: number) => parameterMessages('nrpn', 15, 300, v)],
    ['an RPN', { kind: 'rpn', number: 5 }, (v: number) => parameterMessages('rpn', 15, 5, v)],
  ] as const)(
    'sweep in 14 bits by %s without a step back where the coarse half changes',
    (_name, sends, say) => {
      for (const way of [1, -1]) {
        const play = new Play(
          makeWorld([[moves([sweepOf('fine', { to: 16383 })])]], { controls: { p0: { sends } } }),
        );
        const wanted = Array.from({ length: 700 }, (_, i) => 8000 + way * i);
        wanted.forEach((v, i) => play.says(i * 5, ...say(v)));
        const reader = new SequenceReader();
        const got = play.messages.flatMap(({ message }) => {
          const sequence = reader.read(message);
          return sequence?.kind === 'controller-14' ? sequence.value : [];
        });
        expect(got).toEqual(wanted);
      }
    },
  );
  it('take a coarse half by itself for the whole when no fine one follows in time', () => {
    const play = new Play(
      makeWorld([[moves([sweepOf('level')])]], {
        controls: { p0: { sends: { kind: 'controller-14', number: 4 } } },
      }),
    );
    play.says(0, controller(15, 4, 64));
    expect(play.fresh()).toEqual([]);
    play.wait(9.9);
    expect(play.fresh()).toEqual([]);
    play.wait(10);
    expect(play.fresh()).toEqual(['10 B0 15 40']);
  });

  const ends = moves(
    [],
    { toeAt: 96, heelAt: 4, hysteresis: 4 },
    {
      toe: [action({ kind: 'momentary', functionId: 'block-0', down: 1, up: 0 })],
      heel: [{ ...action(set(1)), id: 'b' }],
    },
  );
  it('fire toe and heel once each, and again only after leaving by more than the hysteresis', () => {
    const play = new Play(makeWorld([[ends]]));
    expect(play.pedal(0, 60).pedal(1, 121).fresh()).toEqual([]);
    // 122 of 127 is 96.06 %, 117 is 92.1 %, 116 is 91.3 %.
    expect(play.pedal(2, 122).pedal(3, 127).pedal(4, 117).pedal(5, 127).fresh()).toEqual(['2 B0 32 7F']);
    expect(play.pedal(6, 116).fresh()).toEqual(['6 B0 32 00']);
    expect(play.pedal(7, 122).pedal(8, 5).fresh()).toEqual(['7 B0 32 7F', '8 B0 32 00', '8 B0 15 01']);
  });
  it('lying at an end when first heard fires nothing', () =>
    expect(new Play(makeWorld([[ends]])).pedal(0, 127).sent).toEqual([]));
});

describe('a pedal that sends a controller by its number', () => {
  const plain = (part: object = {}): Sweep =>
    ({
      ...sweepOf('level'),
      id: 'by-number',
      functionId: null,
      deviceId: 'gear',
      channel: null,
      controller: 99,
      ...part,
    }) as Sweep;
  it('needs no row of a chart, follows its curve, and is known like one that has', () => {
    const play = new Play(makeWorld([[moves([plain({ from: 10, to: 110 })])]]));
    play.pedal(0, 0).pedal(10, 127).pedal(20, 64);
    expect(play.sent).toEqual(['0 B0 63 0A', '10 B0 63 6E', '20 B0 63 3C']);
    expect(valuesOf(play.world, play.state)['by-number']).toBe(60);
    // It is looked up like a row, and offered to nobody: no document could point at it.
    expect(play.world.functions.has('by-number')).toBe(true);
    expect(play.world.rows.map((r) => r.fn.id)).not.toContain('by-number');
  });
  it('goes on the channel that it is told, and is called after its number', () => {
    const world = makeWorld([[moves([plain({ channel: 6 })])]]);
    expect(new Play(world).pedal(0, 100).sent).toEqual(['0 B6 63 64']);
    expect(labelOf(world, world.boards[0]!.banks[0]!.assignments.get('p0'), 0)).toBe('CC 99');
  });
  it('to gear that is gone says so and sends nothing', () => {
    const play = new Play(makeWorld([[moves([plain({ deviceId: 'nobody' })])]])).pedal(0, 100);
    expect(play.sent).toEqual([]);
    expect(play.codes).toContain('function-gone');
  });
});

describe('one press that alternates', () => {
  const on = { kind: 'set', functionId: 'level', value: 100, every: 'odd' } as const;
  const off = { kind: 'set', functionId: 'level', value: 0, every: 'even' } as const;
  const always = { kind: 'toggle', functionId: 'block-0' } as const;
  const pressed = (actions: readonly object[], times: number) => {
    const world = makeWorld([[assign('s0', actions as never)]]);
    const play = new Play(world);
    const lit: boolean[] = [];
    for (let i = 0; i < times; i++) {
      play.switch(i * 1000, 0, 127);
      play.switch(i * 1000 + 50, 0, 0);
      lit.push(isLampLit(play.state, 's0'));
    }
    return { play, lit, bytes: play.fresh().map((l) => l.split(' ').slice(1).join(' ')) };
  };

  it('does one thing and then the other, and its lamp is lit in between', () => {
    const { bytes, lit } = pressed([on, off], 4);
    expect(bytes).toEqual(['B0 15 64', 'B0 15 00', 'B0 15 64', 'B0 15 00']);
    expect(lit).toEqual([true, false, true, false]);
  });

  it('what belongs to no turn is done every time', () => {
    const { bytes } = pressed([always, on, off], 2);
    expect(bytes).toHaveLength(4);
    expect(bytes.filter((b) => b.startsWith('B0 15'))).toEqual(['B0 15 64', 'B0 15 00']);
  });

  it('what one turn holds down ends with its own release', () => {
    const hold = { kind: 'momentary', functionId: 'level', down: 90, up: 10, every: 'odd' } as const;
    expect(pressed([hold, { ...off, value: 5 }], 3).bytes).toEqual([
      'B0 15 5A',
      'B0 15 0A',
      'B0 15 05',
      'B0 15 5A',
      'B0 15 0A',
    ]);
  });

  it('goes on in its turn after an edit', () => {
    const actions = assign('s0', [on, off] as never);
    const play = new Play(makeWorld([[actions]])).switch(0, 0, 127).switch(50, 0, 0);
    const edited = new Play(makeWorld([[{ ...actions, label: 'New name' }]]));
    edited.state = play.state;
    expect(edited.switch(5000, 0, 127).sent).toEqual(['5000 B0 15 00']);
  });

  it('is called after both', () => {
    const world = makeWorld([[assign('s0', [on, { ...always, every: 'even' }] as never)]]);
    const assignment = world.boards[0]!.banks[0]!.assignments.get('s0');
    expect(labelOf(world, assignment, 0)).toMatch(/ \/ /);
  });
});

describe('encoders, from bytes to bytes', () => {
  it.each(RELATIVE_ENCODINGS)('%s turns both ways', (encoding) => {
    const play = new Play(
      makeWorld([[moves([sweepOf('level')])]], { controls: { p0: { hardware: { encoding } } } }),
    );
    play.command(0, { kind: 'set', functionId: 'level', value: 64 }).fresh();
    play.pedal(1000, relativeByte(encoding, 1)).pedal(3000, relativeByte(encoding, -3));
    expect(play.fresh()).toEqual(['1000 B0 15 41', '3000 B0 15 3E']);
  });
  it.each([
    [
      'begins at its power-on value where nothing else is known',
      { powerOn: 90 },
      'pickup',
      ['1000 B0 15 5B'],
      0,
    ],
    ['waits where nothing is known, and says so', {}, 'pickup', [], 1],
    ['begins where its range does where that was chosen, and says so', {}, 'jump', ['1000 B0 15 01'], 1],
  ] as const)('whose value is not known: %s', (_name, part, takeover, sent, said) => {
    const hardware = { encoding: 'twos-complement' } as const;
    const world = makeWorld([[moves([sweepOf('level')], { takeover })]], { controls: { p0: { hardware } } });
    const level = world.functions.get('level')!;
    const functions = new Map([...world.functions, ['level', { ...level, fn: { ...level.fn, ...part } }]]);
    const play = new Play({ ...world, functions });
    expect(play.pedal(1000, 1).fresh()).toEqual(sent);
    expect(play.codes.filter((c) => c === 'value-unknown')).toHaveLength(said);
    // Turned on at once it is not said again; once the value is known it goes on from there.
    play.pedal(1050, 1);
    expect(play.codes.filter((c) => c === 'value-unknown')).toHaveLength(said);
    play.command(2000, { kind: 'set', functionId: 'level', value: 64 }).fresh();
    expect(play.pedal(4000, 1).fresh()).toEqual(['4000 B0 15 41']);
  });
  it('asks the device where its chart says how, goes on from the answer, and does without one that does not come', () => {
    const hardware = { encoding: 'twos-complement' } as const;
    const world = makeWorld([[moves([sweepOf('level')], { takeover: 'jump' })]], {
      controls: { p0: { hardware } },
    });
    const level = world.functions.get('level')!;
    const asked = { ...level, fn: { ...level.fn, request: 'F0 7D 01 15 F7' } };
    const functions = new Map([...world.functions, ['level', asked]]);
    const reports = new Map([['in', [asked]]]);
    const request = '1000 F0 7D 01 15 F7';
    const answered = new Play({ ...world, functions, reports });
    expect(answered.pedal(1000, 1).pedal(1050, 1).fresh()).toEqual([request]);
    expect(answered.codes.filter((c) => c === 'value-asked')).toHaveLength(1);
    answered.run({ kind: 'message', atMs: 1100, portId: 'in', message: controller(0, 21, 64) });
    expect(answered.pedal(1200, 1).fresh()).toEqual(['1200 B0 15 41']);
    const silent = new Play({ ...world, functions, reports });
    expect(silent.pedal(1000, 1).pedal(1100, 1).pedal(1300, 1).fresh()).toEqual([request, '1300 B0 15 01']);
  });
  it('turn faster when turned faster, stop at the end and wrap only where asked', () => {
    const hardware = { encoding: 'twos-complement' } as const;
    const fast = (wrap: boolean) => {
      const play = new Play(
        makeWorld([[moves([sweepOf('level')], { fastStep: 10, fastPerS: 20, wrap })]], {
          controls: { p0: { hardware } },
        }),
      );
      play.command(0, { kind: 'set', functionId: 'level', value: 115 }).fresh();
      return play
        .pedal(1000, 1)
        .pedal(1010, 1)
        .pedal(1020, 1)
        .fresh()
        .map((l) => l.slice(-2));
    };
    expect(fast(false)).toEqual(['74', '7E', '7F']);
    expect(fast(true)).toEqual(['74', '7E', '08']);
  });
  it('a step of none moves nothing', () => {
    const hardware = { encoding: 'offset-64' } as const;
    const play = new Play(makeWorld([[moves([sweepOf('level')])]], { controls: { p0: { hardware } } }));
    expect(play.pedal(0, 64).sent).toEqual([]);
  });
});

describe('glides', () => {
  const ramp = (to: number, part: object = {}) =>
    ({
      kind: 'ramp',
      functionId: 'level',
      from: null,
      to,
      time: { amount: 4, unit: 'beats' },
      curve: 'linear',
      ...part,
    }) as const;
  const songs = [makeSong('Ferry', [['Verse', {}]])];
  const start = (press: readonly object[]) => {
    const play = new Play(makeWorld([press.map((p, i) => assign(`s${i}`, [p as never]))], { songs }));
    return play.command(0, { kind: 'set', functionId: 'level', value: 0 });
  };
  const valuesOf = (play: Play) =>
    play.fresh().map((l) => ({ atMs: Number(l.split(' ')[0]), value: parseInt(l.slice(-2), 16) }));

  it('take four beats at 100 bpm 2.40 s, with the middle at half way and the last value exact', () => {
    const play = start([ramp(120)]);
    play.fresh();
    play.switch(100, 0, 127).switch(150, 0, 0).wait(2499.9);
    expect(play.state.ramps).toHaveLength(1);
    const sent = valuesOf(play.wait(2500));
    expect(sent.at(-1)?.value).toBe(120);
    expect(sent.filter((s) => s.atMs <= 1300).at(-1)?.value).toBe(60);
    expect(sent.map((s) => s.value)).toEqual([...sent.map((s) => s.value)].sort((a, b) => a - b));
    expect(play.state.ramps).toEqual([]);
  });
  it('follow the tempo when it changes half-way', () => {
    const taps = [{ kind: 'tap' }];
    const play = start([ramp(120), ...taps]);
    play.switch(0, 0, 127);
    // Two taps 300 ms apart are 200 bpm: from half way the rest takes half the time.
    play.switch(900, 1, 127).switch(910, 1, 0).switch(1200, 1, 127).switch(1210, 1, 0);
    const sent = valuesOf(play.wait(10_000));
    expect(play.state.tempo.bpm).toBeCloseTo(200, 6);
    expect(sent.at(-1)).toEqual({ atMs: 1800, value: 120 });
  });
  it('taken over on the way begin where they are, never where they were meant to be', () => {
    const play = start([ramp(120, { from: 0 }), ramp(0, { from: 120 })]);
    play.fresh();
    play.switch(0, 0, 127);
    const before = valuesOf(play.wait(1200)).at(-1)!;
    expect(before.value).toBe(60);
    const after = valuesOf(play.switch(1200, 1, 127).wait(10_000));
    expect(Math.max(...after.map((s) => s.value))).toBeLessThanOrEqual(60);
    expect(after.at(-1)?.value).toBe(0);
  });
  it('end when something else sets the value, and at once when they take no time', () => {
    const play = start([ramp(120), set(7), ramp(99, { time: { amount: 0, unit: 's' } })]);
    play.switch(0, 0, 127).wait(500);
    play.fresh();
    expect(valuesOf(play.switch(600, 1, 127).wait(9000)).at(-1)).toEqual({ atMs: 600, value: 7 });
    expect(valuesOf(play.switch(9100, 2, 127).wait(12_000))).toEqual([{ atMs: 9100, value: 99 }]);
  });
});

describe('clock', () => {
  it('is started, sent 24 times a beat, stopped and continued', () => {
    const clock = (to: 'start' | 'stop' | 'continue') => [{ kind: 'clock', portId: 'gear-in', to } as const];
    const play = new Play(
      makeWorld([
        [assign('s0', clock('start')), assign('s1', clock('stop')), assign('s2', clock('continue'))],
      ]),
    );
    // 120 bpm: a tick each 20.833 ms. Source: MIDI 1.0 Detailed Specification, "Timing Clock" (from memory).
    play.switch(0, 0, 127).wait(500.5);
    const sent = play.fresh();
    expect(sent[0]).toBe('0 FA');
    expect(sent.filter((l) => l.endsWith('F8'))).toHaveLength(24);
    expect(sent.slice(1, 3)).toEqual(['1 F8', '21.833 F8']);
    expect(play.switch(510, 1, 127).wait(2000).fresh()).toEqual(['501 F8', '510 FC']);
    expect(play.switch(2000, 2, 127).fresh()).toEqual(['2000 FB']);
  });
});

describe('arming and circles', () => {
  it('arms the next and the previous track, round at the ends, exactly one at a time', () => {
    const go = (to: 'next' | 'previous') => [{ kind: 'arm-step', deviceId: 'gear', to } as const];
    const play = new Play(makeWorld([[assign('s0', go('next')), assign('s1', go('previous'))]]));
    const armed = () => [0, 1, 2].filter((i) => valuesOf(play.world, play.state)[`arm-${i}`] === 1);
    for (const [index, track] of [
      [0, 0],
      [0, 1],
      [0, 2],
      [0, 0],
      [1, 2],
      [1, 1],
    ] as const) {
      play.switch(0, index, 127).switch(0, index, 0);
      expect(armed()).toEqual([track]);
    }
  });
  it('says so when the device arms no track', () => {
    const none = [{ kind: 'arm-step', deviceId: 'host', to: 'next' } as const];
    expect(new Play(makeWorld([[assign('s0', none)]])).switch(0, 0, 127).codes).toContain('no-tracks');
  });
  it('one of several goes on, then the others go off', () => {
    const one = (i: number) =>
      assign(`s${i}`, [{ kind: 'one-of', functionId: `block-${i}`, circle: 'amps' } as const]);
    const play = new Play(makeWorld([[one(0), one(1), one(2)]]));
    play.switch(0, 0, 127).switch(1, 0, 0).fresh();
    expect(play.switch(2, 1, 127).fresh()).toEqual(['2 B0 33 7F', '2 B0 32 00']);
    expect([0, 1, 2].map((i) => isLampLit(play.state, `s${i}`))).toEqual([false, true, false]);
  });
});

describe('messages by number', () => {
  const note = (number: number, part: object = {}) =>
    ({
      kind: 'message',
      deviceId: 'gear',
      channel: null,
      send: 'note',
      number,
      value: 100,
      ...part,
    }) as const;
  it('a note sounds while the switch is down, on the channel told, and ends where it began', () => {
    const banks = [
      [assign('s0', [note(36, { channel: 4 })]), assign('s1', [{ kind: 'bank', to: { kind: 'up' } }])],
      [assign('s0', [note(50)])],
    ];
    const play = new Play(makeWorld(banks));
    expect(play.switch(0, 0, 127).switch(10, 1, 127).switch(20, 0, 0).fresh()).toEqual([
      '0 94 24 64',
      '20 84 24 40',
    ]);
    expect(play.switch(30, 0, 127).switch(40, 0, 0).fresh()).toEqual(['30 90 32 64', '40 80 32 40']);
  });
  it('a controller that a chart names is known to switches and lamps', () => {
    const press = [
      {
        kind: 'message',
        deviceId: 'gear',
        channel: null,
        send: 'controller',
        number: 50,
        value: 127,
      } as const,
    ];
    const play = new Play(
      makeWorld([[assign('s0', press), assign('s1', [{ kind: 'toggle', functionId: 'block-0' }])]]),
    );
    expect(play.switch(0, 0, 127).switch(1, 1, 127).fresh()).toEqual(['0 B0 32 7F', '1 B0 32 00']);
  });
  it('a note on release, after a delay or on a tap ends at once', () => {
    const late = assign('s0', [{ ...note(40), delay: { amount: 200, unit: 'ms' } } as never], [note(41)]);
    const play = new Play(makeWorld([[late]]));
    play.switch(0, 0, 127).switch(50, 0, 0).wait(1000);
    expect(play.sent).toEqual(['50 90 29 64', '50 80 29 40', '200 90 28 64', '200 80 28 40']);
  });
  it('pads play as hard as they are struck, or as they feel in the preset, and send their pressure', () => {
    const controls = { s0: { kind: 'pad', sends: { kind: 'note', number: 60 } } } as const;
    const feel = (part: object): Change => ({
      controls,
      preset: { feel: [{ kind: 'pad', ...PLAIN_FEEL, ...part }] },
    });
    const strike = (change: Change) =>
      new Play(makeWorld([[assign('s0', [note(36)])]], change)).says(0, noteOn(15, 60, 40));
    expect(strike({ controls }).sent).toEqual(['0 90 24 28']);
    expect(strike(feel({ velocity: 'fixed', fixed: 99 })).sent).toEqual(['0 90 24 63']);
    expect(strike(feel({ curve: 'reverse-audio' })).sent.at(0)).toBe('0 90 24 60');
    const pressed = (pressure: string, message: Message) =>
      strike(feel({ pressure, controller: 74 }))
        .says(5, message)
        .sent.slice(1);
    expect(pressed('channel', channelPressure(15, 50))).toEqual(['5 D0 32']);
    expect(pressed('poly', polyPressure(15, 60, 50))).toEqual(['5 A0 24 32']);
    expect(pressed('controller', channelPressure(15, 50))).toEqual(['5 B0 4A 32']);
    expect(pressed('off', channelPressure(15, 50))).toEqual([]);
    expect(pressed('poly', polyPressure(15, 61, 50))).toEqual([]);
  });
});

describe('a control with a touch of its own', () => {
  const touch = {
    velocity: 'fixed',
    fixed: 99,
    curve: 'linear',
    pressure: 'channel',
    controller: 1,
  } as const;
  const played = {
    kind: 'message',
    deviceId: 'gear',
    channel: null,
    send: 'note',
    number: 36,
    value: 100,
  } as const;
  const strike = (kind: 'pad' | 'button', own: typeof touch | null) =>
    new Play(
      makeWorld([[{ ...assign('s0', [played]), touch: own }]], {
        controls: { s0: { kind, sends: { kind: 'note', number: 60 } } },
      }),
    )
      .says(0, noteOn(15, 60, 40))
      .says(5, channelPressure(15, 50)).sent;
  it.each([
    ['pad', null, ['0 90 24 28']],
    ['pad', touch, ['0 90 24 63', '5 D0 32']],
    // A button counts as pressed and not as struck, until it is told how.
    ['button', null, ['0 90 24 64']],
    ['button', { ...touch, velocity: 'played', pressure: 'off' }, ['0 90 24 28']],
  ] as const)('a %s with %j', (kind, own, sent) =>
    expect(strike(kind, own as typeof touch | null)).toEqual(sent),
  );
  it.each([
    // Every button of the preset feels how hard it is pressed; every pad of it does not.
    ['button', true, ['0 90 24 28', '5 D0 32']],
    ['pad', false, ['0 90 24 64']],
    ['footswitch', true, ['0 90 24 28', '5 D0 32']],
  ] as const)('all of a kind: %s, felt %s', (kind, isFelt, sent) => {
    const controls = { s0: { kind, sends: { kind: 'note', number: 60 } } } as const;
    const feel = [{ kind, ...PLAIN_FEEL, pressure: 'channel' as const, isFelt }];
    const play = new Play(makeWorld([[assign('s0', [played])]], { controls, preset: { feel } }));
    expect(play.says(0, noteOn(15, 60, 40)).says(5, channelPressure(15, 50)).sent).toEqual(sent);
  });
});

describe('groups with pages', () => {
  const page = (id: string, assignments: Assignment[]) => ({ ...PLAIN_BANK, id, name: id, assignments });
  const preset: Partial<Preset> = {
    groups: [
      {
        id: 'knobs',
        name: 'Knobs',
        controlIds: ['p0'],
        pages: [page('one', [moves([sweepOf('level')])]), page('two', [moves([sweepOf('swell')])])],
      },
    ],
  };
  const turn = (to: object) => [{ kind: 'page', groupId: 'knobs', to } as never];
  it('have pages of their own, whatever the bank', () => {
    const banks = [
      [
        assign('s0', turn({ kind: 'up' })),
        assign('s1', turn({ kind: 'bank', bankId: 'two' })),
        assign('s2', [{ kind: 'bank', to: { kind: 'up' } }]),
      ],
      [],
    ];
    const play = new Play(makeWorld(banks, { preset }));
    expect(play.pedal(0, 10).fresh()).toEqual(['0 B0 15 0A']);
    play.switch(1, 0, 127).switch(2, 0, 0);
    expect(play.pedal(3, 20).fresh()).toEqual(['3 B0 16 14']);
    expect(isLampLit(play.state, 's1')).toBe(true);
    play.switch(4, 2, 127);
    expect(play.pedal(5, 30).fresh()).toEqual(['5 B0 16 1E']);
    play.command(6, { kind: 'page', boardId: 'board', groupId: 'knobs', to: 'up' });
    expect(play.pedal(7, 40).fresh()).toEqual(['7 B0 15 28']);
  });
  it('and banks stay in force when an edit puts them elsewhere, and fall back when they go', () => {
    const [first, second] = [[assign('s0', [set(1)])], [assign('s0', [set(2)])]];
    const world = makeWorld([first, second], { preset });
    const state = { ...initialState(world, 0), banks: { board: 'bank-1' }, pages: { knobs: 'two' } };
    const edited = (change: (p: Preset) => Preset) =>
      changeShow(world, state, { ...world.show, presets: world.show.presets.map(change) }, 0).state;
    const turned = edited((p) => ({
      ...p,
      banks: [...p.banks].reverse(),
      groups: p.groups.map((g) => ({ ...g, pages: [...g.pages].reverse() })),
    }));
    expect([turned.banks, turned.pages]).toEqual([{ board: 'bank-1' }, { knobs: 'two' }]);
    expect(edited((p) => ({ ...p, banks: p.banks.slice(0, 1) })).banks).toEqual({ board: 'bank-0' });
  });
  it('that are gone are said, and nothing is sent', () => {
    const play = new Play(
      makeWorld([[assign('s0', [{ kind: 'page', groupId: 'gone', to: { kind: 'up' } } as never])]]),
    );
    expect(play.switch(0, 0, 127).codes).toContain('page-gone');
  });
});

describe('lamps', () => {
  const lamp = { off: 0, on: 127, blink: 64 };
  const stops = [
    { from: 0, light: 'off', colour: null, sends: null },
    { from: 1, light: 'blink', colour: 'sun', sends: null },
    { from: 100, light: 'steady', colour: 'coral', sends: 5 },
  ] as const;
  const followed: Assignment = {
    ...assign('s0', [{ kind: 'toggle', functionId: 'block-0' }]),
    lamp: { kind: 'function', functionId: 'level', stops },
  };
  const lampsOf = (play: Play) =>
    play.messages.filter((m) => m.portId === 'host-out').map((m) => hex(encode(m.message)));

  it.each([
    [0, 'off', null],
    [1, 'blink', 'sun'],
    [99, 'blink', 'sun'],
    [100, 'steady', 'coral'],
  ])('follow a function: at %i it is %s %s', (value, light, colour) => {
    const play = new Play(makeWorld([[followed]]));
    play.command(0, { kind: 'set', functionId: 'level', value });
    expect(lampTold(play.state, 's0')).toEqual({ light, colour });
  });
  it('are told to the hardware when they change, and again after a recall, a bank and a new plug', () => {
    const songs = [makeSong('Ferry', [['Verse', { swell: 1 }]])];
    const banks = [[followed, assign('s1', [{ kind: 'bank', to: { kind: 'up' } }])], [followed]];
    const play = new Play(makeWorld(banks, { controls: { s0: { hardware: { lamp } } }, songs }));
    play.command(0, { kind: 'set', functionId: 'level', value: 50 });
    play.command(1, { kind: 'set', functionId: 'level', value: 101 });
    expect(lampsOf(play)).toEqual(['BF 1E 40', 'BF 1E 05']);
    play.command(2, { kind: 'scene', to: 'next' });
    play.switch(3, 1, 127);
    play.command(4, { kind: 'lamps' });
    expect(lampsOf(play).slice(2)).toEqual(['BF 1E 05', 'BF 1E 05', 'BF 1E 05']);
  });
  it('send the number of their colour where the hardware has several', () => {
    const colours = { coral: 5, sun: 9 };
    const by = (hardware: object) =>
      new Play(makeWorld([[followed]], { controls: { s0: { hardware: { lamp: hardware } } as never } }));
    const steady = {
      ...followed.lamp,
      stops: stops.map((s) => ({ ...s, light: 'steady' as const, sends: null })),
    };
    const many = new Play(
      makeWorld([[{ ...followed, lamp: steady as never }]], {
        controls: { s0: { hardware: { lamp: { ...lamp, colours } } as never } },
      }),
    );
    many.command(0, { kind: 'set', functionId: 'level', value: 50 });
    many.command(1, { kind: 'set', functionId: 'level', value: 101 });
    expect(lampsOf(many)).toEqual(['BF 1E 09', 'BF 1E 05']);
    // A number of the stop's own counts before that of its colour; a colour that the lamp has not is its usual one.
    const own = by({ ...lamp, colours });
    own.command(0, { kind: 'set', functionId: 'level', value: 101 });
    expect(lampsOf(own)).toEqual(['BF 1E 05']);
    const other = new Play(
      makeWorld([[{ ...followed, lamp: steady as never }]], {
        controls: { s0: { hardware: { lamp: { ...lamp, colours: { leaf: 3 } } } as never } },
      }),
    );
    other.command(0, { kind: 'set', functionId: 'level', value: 101 });
    expect(lampsOf(other)).toEqual(['BF 1E 7F']);
  });
  it('of a kind follow what their kind is told, and the switch itself where that is said', () => {
    const preset = { feel: [{ kind: 'footswitch', ...PLAIN_FEEL, lamp: { kind: 'switch' } }] } as never;
    const play = new Play(
      makeWorld([[assign('s0', [{ kind: 'toggle', functionId: 'block-0' }])]], { preset }),
    );
    play.switch(0, 0, 127);
    expect(isLampLit(play.state, 's0')).toBe(true);
    play.switch(1, 0, 0);
    expect(isLampLit(play.state, 's0')).toBe(false);
    const latching = new Play(
      makeWorld([[assign('s0', [])]], {
        preset,
        controls: { s0: { hardware: { switching: 'latching', edge: 'down' } } },
      }),
    );
    expect(isLampLit(latching.switch(0, 0, 127).state, 's0')).toBe(true);
    expect(isLampLit(latching.switch(9, 0, 0).state, 's0')).toBe(false);
  });
});

describe('whatever the feet do', () => {
  const note = (number: number) =>
    ({ kind: 'message', deviceId: 'gear', channel: null, send: 'note', number, value: 100 }) as const;
  const banks = [
    [
      assign('s0', [note(40)], [note(41)], { hold: [note(42)], doublePress: [note(43)] }),
      assign('s1', [{ kind: 'bank', to: { kind: 'up' } }]),
      assign('s2', [{ ...note(44), delay: { amount: 120, unit: 'ms' } } as never]),
      {
        ...moves(
          [sweepOf('level')],
          {},
          { toe: [action(note(45))], heel: [{ ...action(note(46)), id: 'h' }] },
        ),
      },
    ],
    [assign('s0', [note(50), note(51)]), assign('s1', [{ kind: 'bank', to: { kind: 'down' } }])],
  ];
  const feet = fc.array(
    fc.record({ gapMs: fc.nat(400), index: fc.nat(4), down: fc.boolean(), at: fc.nat(127) }),
    { maxLength: 60 },
  );
  /** Notes left on, as `port/channel/note`. */
  const left = (play: Play): string[] => {
    const on = new Set<string>();
    for (const { portId, message } of play.messages)
      if (message.kind === 'note-on' || message.kind === 'note-off') {
        const key = `${portId}/${message.channel}/${message.note}`;
        if (endsNote(message)) on.delete(key);
        else on.add(key);
      }
    return [...on];
  };
  const playAll = (
    moved: { gapMs: number; index: number; down: boolean; at: number }[],
    debounceMs: number,
  ) => {
    const play = new Play(makeWorld(banks, { controls: { s0: { hardware: { debounceMs } } } }));
    let atMs = 0;
    for (const { gapMs, index, down, at } of moved) {
      atMs += gapMs;
      if (index === 4) play.pedal(atMs, at);
      else play.switch(atMs, index, down ? 127 : 0);
    }
    return { play, atMs };
  };
  it('no note sounds once every control is up, nor after panic', () => {
    fc.assert(
      fc.property(feet, fc.constantFrom(0, 10), fc.boolean(), (moved, debounceMs, isPanic) => {
        const { play, atMs } = playAll(moved, debounceMs);
        if (isPanic) play.command(atMs + 1, { kind: 'panic' });
        else {
          for (let i = 0; i < 4; i++) play.switch(atMs + 100 + i, i, 0);
          play.pedal(atMs + 110, 63).wait(atMs + 5000);
        }
        expect(left(play)).toEqual([]);
      }),
      { seed: 74, numRuns: 300 },
    );
  });
  it('an edit that takes a control away while it is down ends its notes', () => {
    const play = new Play(makeWorld(banks));
    play.switch(0, 0, 127).wait(700);
    const { board } = play.world.boards[0]!;
    const gone = {
      ...play.world.show,
      rig: { ...play.world.show.rig, boards: [{ ...board, controls: [] }] },
    };
    const { effects } = changeShow(play.world, play.state, gone, 800);
    const ends = effects.flatMap((e) => (e.kind === 'send' ? [hex(encode(e.message))] : []));
    expect(ends).toEqual([hex(encode(noteOff(0, 40))), hex(encode(noteOff(0, 42)))]);
  });
  it('the same, told in few ticks or in many', () => {
    fc.assert(
      fc.property(feet, (moved) => {
        const few = playAll(moved, 10).play.wait(60_000);
        const many = new Play(few.world);
        let atMs = 0;
        for (const { gapMs, index, down, at } of moved) {
          for (let t = atMs; t < atMs + gapMs; t += 37) many.wait(t).tick(t);
          atMs += gapMs;
          if (index === 4) many.pedal(atMs, at);
          else many.switch(atMs, index, down ? 127 : 0);
        }
        expect(many.wait(60_000).sent).toEqual(few.sent);
      }),
      { seed: 75, numRuns: 60 },
    );
  });
});

describe('takeover by scale', () => {
  const scaled = [moves([sweepOf('level')], { takeover: 'scale' })];
  it('goes on towards the end from where it brought the value, and never jumps to its own place', () => {
    const play = new Play(makeWorld([scaled]));
    play.pedal(0, 20).command(1, { kind: 'set', functionId: 'level', value: 100 }).fresh();
    // Of the 107 that are left to the pedal each takes 27/107 of a step: 100.5, then 101.01.
    expect(play.pedal(2, 22).fresh()).toEqual(['2 B0 15 65']);
    expect(play.pedal(3, 24).fresh()).toEqual([]);
    expect(play.pedal(4, 30).fresh()).toEqual(['4 B0 15 67']);
    expect(play.pedal(5, 127).fresh()).toEqual(['5 B0 15 7F']);
    // Both are at the end now, and go together.
    expect(play.pedal(6, 64).fresh()).toEqual(['6 B0 15 40']);
  });
  it('whatever scenes, banks and other hands do between, no move of the foot makes more than its share', () => {
    const songs = [
      makeSong('Ferry', [
        ['A', { level: 30 }],
        ['B', { level: 110 }],
      ]),
    ];
    const deed = fc.oneof(
      { weight: 5, arbitrary: fc.record({ pedal: fc.nat(127) }) },
      { weight: 1, arbitrary: fc.record({ scene: fc.nat(1) }) },
      { weight: 1, arbitrary: fc.record({ bank: fc.constantFrom('up' as const, 'down' as const) }) },
      { weight: 1, arbitrary: fc.record({ set: fc.nat(127) }) },
    );
    fc.assert(
      fc.property(fc.array(deed, { maxLength: 40 }), (deeds) => {
        const play = new Play(makeWorld([scaled, scaled], { songs }));
        const valueNow = () => valuesOf(play.world, play.state)['level'];
        let place: number | null = null;
        deeds.forEach((d, i) => {
          const before = valueNow();
          if ('pedal' in d) {
            play.pedal(i * 10, d.pedal);
            const after = valueNow();
            if (before !== undefined && after !== undefined && place !== null && d.pedal !== place) {
              const room = d.pedal > place ? 127 - place : place;
              const left = d.pedal > place ? 127 - before : before;
              const share = Math.abs(d.pedal - place) / Math.max(1, room);
              expect(Math.abs(after - before)).toBeLessThanOrEqual(share * left + 1.5);
            }
            place = d.pedal;
          } else if ('scene' in d) play.command(i * 10, { kind: 'go', songIndex: 0, sceneIndex: d.scene });
          else if ('bank' in d) play.command(i * 10, { kind: 'bank', boardId: 'board', to: d.bank });
          else play.command(i * 10, { kind: 'set', functionId: 'level', value: d.set });
        });
      }),
      { seed: 61, numRuns: 300 },
    );
  });
});

describe('hardware and lists', () => {
  it('a control that is turned round is so too where it sends its place', () => {
    const turned = moves([sweepOf('level')], { reverse: true });
    const play = new Play(makeWorld([[turned]]));
    expect(play.pedal(0, 27).sent).toEqual(['0 B0 15 64']);
  });
  it('a latching switch whose contacts bounce stands where they ended', () => {
    const hardware = { switching: 'latching' as const, debounceMs: 10, edge: 'down' as const };
    const play = new Play(makeWorld([[]], { controls: { s0: { hardware } } }));
    play.switch(0, 0, 127).switch(2, 0, 0).switch(4, 0, 127).wait(100);
    expect(play.state.latched).toEqual({ s0: true });
    // Down, and the last bounce says up: the first movement alone would leave it at on.
    play.switch(1000, 0, 0).switch(1002, 0, 127).switch(1004, 0, 0).wait(1100);
    expect(play.state.latched).toEqual({ s0: false });
    play.switch(2000, 0, 127).switch(2002, 0, 0).wait(2100);
    expect(play.state.latched).toEqual({ s0: false });
  });
  it('a list of steps in which a value stands twice reaches its end', () => {
    const step = {
      kind: 'step',
      functionId: 'level',
      values: [10, 20, 10, 30],
      direction: 'forward',
      atEnd: 'wrap',
    };
    const play = new Play(makeWorld([[assign('s0', [step as never])]]));
    for (let i = 0; i < 5; i++) play.switch(i * 100, 0, 127).switch(i * 100 + 50, 0, 0);
    expect(play.sent.map((line) => line.slice(-2))).toEqual(['0A', '14', '0A', '1E', '0A']);
  });
});

describe('a switch that starts and stops', () => {
  const clock = (to: string, every: string) => ({ kind: 'clock', portId: 'host-out', to, every });
  it('follows what runs, whoever started it', () => {
    const both = assign('s0', [clock('start', 'odd'), clock('stop', 'even')] as never);
    const other = assign('s1', [{ kind: 'clock', portId: 'host-out', to: 'stop' }] as never);
    const play = new Play(makeWorld([[both, other]]));
    const running = () => 'host-out' in play.state.clocks;
    play.switch(0, 0, 127).switch(10, 0, 0);
    expect([running(), isLampLit(play.state, 's0')]).toEqual([true, true]);
    play.switch(100, 1, 127).switch(110, 1, 0);
    expect([running(), isLampLit(play.state, 's0')]).toEqual([false, false]);
    play.switch(200, 0, 127).switch(210, 0, 0);
    expect(running()).toBe(true);
  });
  it('of one function follows its value, and of two triggers the one that was sent last', () => {
    const values = assign('s0', [
      { kind: 'set', functionId: 'level', value: 5, every: 'odd' },
      { kind: 'set', functionId: 'level', value: 9, every: 'even' },
    ] as never);
    const play = new Play(makeWorld([[values]]));
    play.command(0, { kind: 'set', functionId: 'level', value: 5 }).fresh();
    expect(play.switch(10, 0, 127).fresh()).toEqual(['10 B0 15 09']);
  });
});
