import { easeCubicInOut } from 'd3-ease';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anyMessage } from '../midi/arbitraries.test-support';
import {
  channelPressure,
  controller,
  encode,
  noteOff,
  noteOn,
  pitchBend,
  polyPressure,
  program,
  realTime,
  sysex,
  type Message,
} from '../midi';
import { makeDevice, makePort, makeRig, cable } from '../testing.test-support';
import {
  compileChange,
  compileRoutes,
  modulationSteps,
  NO_ROUTE_MEMORY,
  numbersText,
  numberTableText,
  parseNumbers,
  parseNumberTable,
  passRoutes,
  PLAIN_CHANGE,
  PLAIN_FROM,
  PLAIN_MODULATION,
  PLAIN_ROUTE,
  routeLoops,
  type Route,
  type RouteChange,
  type RouteMemory,
  type Routing,
} from './index';

let next = 0;
const makeRoute = (part: Partial<Route> = {}): Route => ({
  id: `route-${++next}`,
  name: `Route ${next}`,
  ...PLAIN_ROUTE,
  to: [{ portId: 'out', channel: null }],
  ...part,
});
const changed = (part: Partial<RouteChange>): RouteChange => ({ ...PLAIN_CHANGE, ...part });

/** Routes at work: gates by hand, and everything that left. */
class Bench {
  memory: RouteMemory = NO_ROUTE_MEMORY;
  readonly off = new Set<string>();
  private table;
  private nowMs = 0;

  constructor(routing: Routing) {
    this.table = compileRoutes(routing, ['in', 'in 2']);
  }

  edit(routing: Routing): void {
    this.table = compileRoutes(routing, ['in', 'in 2']);
  }

  send(message: Message, portId = 'in', afterMs = 100): string[] {
    this.nowMs += afterMs;
    const isOpen = (r: Route) => this.memory.gates[r.id] ?? r.gate?.startsOpen ?? true;
    const isOn = (r: Route) => r.isOn && !this.off.has(r.id);
    const done = passRoutes(this.table, this.memory, { isOn, isOpen }, portId, message, this.nowMs);
    this.memory = done.memory;
    this.passages = done.passages.map((p) => p.outcome);
    return done.sends.map((s) => `${s.portId}: ${hex(s.message)}`);
  }

  passages: readonly string[] = [];
}

const hex = (message: Message): string =>
  encode(message)
    .map((b) => b.toString(16).padStart(2, '0').toUpperCase())
    .join(' ');

const routing = (
  routes: readonly Route[],
  othersTo: readonly string[] = [],
  lines: string[] = [],
): Routing => ({
  routes,
  othersTo,
  lines: lines.map((id) => ({ id, name: id })),
});

const table = (text: string) => {
  const read = parseNumberTable(text, 3);
  if (!read.ok) throw new Error(read.error);
  return read.value;
};

describe('a table of numbers', () => {
  const route = makeRoute({
    change: changed({
      numbers: table('CC 30 to 7, 31 to 10; note 40 to 52, 45 to 54'),
      channel: { kind: 'force', channel: 2 },
    }),
  });

  it.each<[string, Message, string]>([
    ['controller 30 becomes 7', controller(0, 30, 99), 'out: B2 07 63'],
    ['controller 31 becomes 10', controller(5, 31, 0), 'out: B2 0A 00'],
    ['note 40 becomes 52', noteOn(0, 40, 80), 'out: 92 34 50'],
    ['note 45 becomes 54', noteOn(15, 45, 1), 'out: 92 36 01'],
    ['controller 40 is no note', controller(0, 40, 1), 'out: B2 28 01'],
    ['note 30 is no controller', noteOn(0, 30, 1), 'out: 92 1E 01'],
    ['controller 32 is untouched', controller(0, 32, 5), 'out: B2 20 05'],
    ['a program is untouched', program(0, 30), 'out: C2 1E'],
    ['pressure is untouched', channelPressure(0, 30), 'out: D2 1E'],
    ['pressure on a key goes with the key', polyPressure(0, 40, 9), 'out: A2 34 09'],
    ['a bend keeps its fine half', pitchBend(0, 8193), 'out: E2 01 40'],
    ['the clock has no channel', realTime('clock'), 'out: F8'],
    ['SysEx has no channel', sysex([0x7d, 30, 31]), 'out: F0 7D 1E 1F F7'],
  ])('%s', (_, message, expected) => {
    expect(new Bench(routing([route])).send(message)).toEqual([expected]);
  });

  it.each<[string, string]>([
    ['30 to 7', '30 to 7'],
    ['cc 30 -> 7; 31 → 10', 'CC 30 to 7, 31 to 10'],
    ['note C3 to E3', 'note 60 C3 to 64 E3'],
    ['60  C3 to  61 C♯3 ', '60 to 61'],
    ['program 0 = 5, note 60 C3 to 61', 'program 0 to 5, note 60 C3 to 61 C♯3'],
  ])('%s is read and written as %s', (text, written) => {
    expect(numberTableText(table(text), 3)).toBe(written);
    expect(table(written)).toEqual(table(text));
  });

  it.each<[string, string]>([
    ['CC 30', 'Part 1, “CC 30”, needs one number on each side of “to”; CC 30 to 7 would be right.'],
    [
      'CC 1 to 2, fader 3 to 4',
      'Part 2, “fader 3 to 4”, begins with “fader”; CC, note or program would be right.',
    ],
    ['CC 128 to 4', 'Part 1, “CC 128 to 4”, has “128” where a number from 0 to 127 has to stand.'],
    ['CC 1 to -1', 'Part 1, “CC 1 to -1”, has “-1” where a number from 0 to 127 has to stand.'],
    ['CC 1 to 2 loud', 'Part 1, “CC 1 to 2 loud”, has “2 loud” where a number from 0 to 127 has to stand.'],
    ['CC 1 to 2, 1 to 3', 'Part 2, “1 to 3”, gives 1 a second time; each number goes to one other.'],
  ])('%s is refused in a sentence', (text, sentence) => {
    expect(parseNumberTable(text, 3)).toEqual({ ok: false, error: sentence });
  });

  it.each<[string, string | null]>([
    ['', ''],
    ['7', '7'],
    ['7, 20 to 27', '7, 20 to 27'],
    ['20-27', '20 to 27'],
    ['C3', '60'],
    ['0–127', '0 to 127'],
    ['128', null],
    ['27 to 20', null],
    ['seven', null],
  ])('numbers “%s” are read as %s', (text, expected) => {
    const read = parseNumbers(text, 3);
    expect(read.ok ? numbersText(read.value) : null).toBe(expected);
  });
});

describe('a change', () => {
  const of = (part: Partial<RouteChange>, message: Message, values: [number, number] | null = null) => {
    const span = values && { from: values[0], to: values[1] };
    const out = compileChange(changed(part), span)(message);
    return out && hex(out);
  };
  const value = (from: number, to: number, fixed: number | null = null) => ({
    value: { curve: 'linear' as const, from, to, fixed },
  });

  it.each<[string, Partial<RouteChange>, Message, string | null]>([
    ['transposes', { transpose: 12 }, noteOn(0, 60, 1), '90 48 01'],
    ['transposes to the top', { transpose: 12 }, noteOn(0, 115, 1), '90 7F 01'],
    ['loses what is above the top', { transpose: 12 }, noteOn(0, 116, 1), null],
    ['loses what is below the bottom', { transpose: -1 }, noteOff(0, 0), null],
    ['moves a program on', { programShift: 10 }, program(0, 5), 'C0 0F'],
    ['moves a program to the last', { programShift: 10 }, program(0, 117), 'C0 7F'],
    ['loses a program beyond the last', { programShift: 10 }, program(0, 118), null],
    ['loses a program before the first', { programShift: -1 }, program(0, 0), null],
    ['moves programs only', { programShift: 10 }, controller(0, 60, 1), 'B0 3C 01'],
    ['transposes notes only', { transpose: 12 }, controller(0, 60, 1), 'B0 3C 01'],
    ['shifts the channel round', { channel: { kind: 'shift', by: 1 } }, noteOn(15, 1, 1), '90 01 01'],
    ['shifts the channel down round', { channel: { kind: 'shift', by: -15 } }, noteOn(0, 1, 1), '91 01 01'],
    ['inverts', value(127, 0), controller(0, 7, 127), 'B0 07 00'],
    ['inverts the bottom', value(127, 0), controller(0, 7, 0), 'B0 07 7F'],
    ['narrows', value(20, 100), controller(0, 7, 127), 'B0 07 64'],
    ['leaves velocity 0 an end', value(20, 100), noteOn(0, 7, 0), '90 07 00'],
    ['never makes velocity 0 of a start', value(0, 10), noteOn(0, 7, 1), '90 07 01'],
    ['fixes', value(0, 127, 64), noteOn(0, 7, 3), '90 07 40'],
    ['makes a controller of a note', { as: { kind: 'controller', number: 11 } }, noteOn(0, 7, 3), 'B0 0B 03'],
    [
      'makes 0 of a note that ends',
      { as: { kind: 'controller', number: 11 } },
      noteOff(0, 7, 90),
      'B0 0B 00',
    ],
    [
      'makes a note of a controller',
      { as: { kind: 'note', number: null } },
      controller(0, 40, 3),
      '90 28 03',
    ],
    ['ends that note at 0', { as: { kind: 'note', number: null } }, controller(0, 40, 0), '80 28 40'],
    [
      'makes a program of a controller',
      { as: { kind: 'program', number: 5 } },
      controller(0, 40, 127),
      'C0 05',
    ],
    ['makes none at 0', { as: { kind: 'program', number: 5 } }, controller(0, 40, 0), null],
    ['makes a program of a note', { as: { kind: 'program', number: null } }, noteOn(0, 9, 1), 'C0 09'],
    [
      'makes a controller of a program',
      { as: { kind: 'controller', number: 80 } },
      program(0, 9),
      'B0 50 7F',
    ],
    [
      'makes a bend of a controller',
      { as: { kind: 'pitch-bend', number: null } },
      controller(0, 9, 127),
      'E0 7F 7F',
    ],
    ['keeps the centre of a bend', value(127, 0), pitchBend(0, 8192), 'E0 00 40'],
    ['turns a bend round', value(127, 0), pitchBend(0, 16383), 'E0 00 00'],
  ])('%s', (_, part, message, expected) => {
    expect(of(part, message)).toBe(expected);
  });

  it('scales what is taken in, and not what is not', () => {
    expect([40, 70, 100].map((v) => of(value(0, 100), controller(0, 1, v), [40, 100]))).toEqual([
      'B0 01 00',
      'B0 01 32',
      'B0 01 64',
    ]);
  });

  it('curves a velocity as a general-purpose library would, within its polynomial', () => {
    // d3-ease 3: cubic in and out runs steeper than the smoothstep, so both lie on the same side of the straight line.
    for (let v = 1; v < 127; v++) {
      const out = compileChange(
        changed({ value: { curve: 's', from: 0, to: 127, fixed: null } }),
        null,
      )(noteOn(0, 60, v));
      const smooth = (out as Message & { kind: 'note-on' }).velocity;
      const cubic = Math.round(127 * easeCubicInOut(v / 127));
      expect(Math.sign(smooth - v) * Math.sign(cubic - v)).toBeGreaterThanOrEqual(0);
      expect(smooth).toBe(Math.max(1, Math.round(127 * (v / 127) ** 2 * (3 - (2 * v) / 127))));
    }
  });
});

describe('what a route takes in', () => {
  const from = (part: Partial<Route['from']>) => ({ from: { ...PLAIN_FROM, ...part } });
  it.each<[string, Partial<Route>, Message, boolean]>([
    ['its channel', from({ channels: [2] }), noteOn(2, 1, 1), true],
    ['no other channel', from({ channels: [2] }), noteOn(3, 1, 1), false],
    ['nothing without channel', from({ channels: [2] }), realTime('clock'), false],
    ['its kind', from({ kinds: ['time'] }), realTime('start'), true],
    ['no other kind', from({ kinds: ['controller'] }), noteOn(3, 1, 1), false],
    ['the first of a range', from({ numbers: [{ from: 40, to: 52 }] }), noteOn(0, 40, 1), true],
    ['the last of a range', from({ numbers: [{ from: 40, to: 52 }] }), noteOn(0, 52, 1), true],
    ['not below it', from({ numbers: [{ from: 40, to: 52 }] }), noteOn(0, 39, 1), false],
    ['not above it', from({ numbers: [{ from: 40, to: 52 }] }), noteOn(0, 53, 1), false],
    ['the lowest value', from({ values: { from: 64, to: 100 } }), controller(0, 1, 64), true],
    ['not below it', from({ values: { from: 64, to: 100 } }), controller(0, 1, 63), false],
    ['not above the highest', from({ values: { from: 64, to: 100 } }), controller(0, 1, 101), false],
    ['its port', from({ portIds: ['in'] }), noteOn(0, 1, 1), true],
    ['no other port', from({ portIds: ['in 2'] }), noteOn(0, 1, 1), false],
    ['nothing while it is off', { isOn: false }, noteOn(0, 1, 1), false],
  ])('%s', (_, part, message, isTaken) => {
    expect(new Bench(routing([makeRoute(part)])).send(message)).toHaveLength(isTaken ? 1 : 0);
  });

  it('goes through the routes in order, as far as each lets it', () => {
    const first = makeRoute({ to: [{ portId: 'a', channel: null }], after: 'pass' });
    const second = makeRoute({
      to: [
        { portId: 'b', channel: 3 },
        { portId: 'c', channel: null },
      ],
    });
    const third = makeRoute({ to: [{ portId: 'd', channel: null }] });
    expect(new Bench(routing([first, second, third], ['rest'])).send(noteOn(0, 1, 1))).toEqual([
      'a: 90 01 01',
      'b: 93 01 01',
      'c: 90 01 01',
    ]);
  });
});

describe('what no route takes in', () => {
  const notChannel4 = fc
    .tuple(anyMessage, fc.constant(null))
    .map(([m]) => m)
    .filter((m) => !('channel' in m && m.channel === 4));
  const touching = makeRoute({
    from: { ...PLAIN_FROM, channels: [4] },
    change: changed({ transpose: 7, value: { curve: 'audio', from: 100, to: 3, fixed: null } }),
  });

  it('comes out as it went in, in its order', () => {
    fc.assert(
      fc.property(fc.array(notChannel4, { maxLength: 40 }), (messages) => {
        const bench = new Bench(routing([touching], ['out']));
        const out = messages.flatMap((m) => bench.send(m));
        expect(out).toEqual(messages.map((m) => `out: ${hex(m)}`));
      }),
      { seed: 51, numRuns: 500 },
    );
  });

  it('ends there where nothing else was chosen', () => {
    expect(new Bench(routing([touching])).send(noteOn(0, 1, 1))).toEqual([]);
  });

  it('of what this application says itself goes on by its own port', () => {
    const own = makeRoute({ from: { ...PLAIN_FROM, portIds: ['out'], kinds: ['program'] }, to: [] });
    const bench = new Bench(routing([own], ['elsewhere']));
    expect(bench.send(noteOn(0, 1, 1), 'out')).toEqual(['out: 90 01 01']);
    expect(bench.send(program(0, 1), 'out')).toEqual([]);
  });
});

describe('one channel split by two gates', () => {
  const gated = (portId: string, number: number): Route =>
    makeRoute({
      name: portId,
      gate: {
        by: { kind: 'controller', portId: null, channel: null, controller: number, from: 64, to: 127 },
        startsOpen: false,
        holds: ['note'],
        others: 'stop',
      },
      to: [{ portId, channel: null }],
      after: 'pass',
    });
  const make = () => new Bench(routing([gated('left', 20), gated('right', 21)]));

  it.each<[number, number, string[]]>([
    [0, 0, []],
    [127, 0, ['left']],
    [0, 127, ['right']],
    [127, 127, ['left', 'right']],
    [63, 64, ['right']],
  ])('with %i and %i notes reach %j', (left, right, ports) => {
    const bench = make();
    bench.send(controller(0, 20, left));
    bench.send(controller(0, 21, right));
    expect(bench.send(noteOn(0, 60, 90))).toEqual(ports.map((p) => `${p}: 90 3C 5A`));
    expect(bench.send(noteOff(0, 60, 12))).toEqual(ports.map((p) => `${p}: 80 3C 0C`));
    expect(bench.send(controller(0, 1, 5))).toEqual([]);
  });

  it('is closed while a note is held, and opened again', () => {
    const bench = make();
    bench.send(controller(0, 20, 127));
    expect(bench.send(noteOn(0, 60, 90))).toEqual(['left: 90 3C 5A']);
    expect(bench.send(controller(0, 20, 0))).toEqual([]);
    expect(bench.send(noteOn(0, 62, 90))).toEqual([]);
    expect(bench.passages).toEqual(['gate-closed', 'gate-closed']);
    // Opened before the second note ends: its end goes nowhere, as its start did.
    bench.send(controller(0, 20, 127));
    expect(bench.send(noteOff(0, 62))).toEqual([]);
    expect(bench.send(noteOn(0, 60, 0))).toEqual(['left: 90 3C 00']);
  });
});

describe('what began ends where it began', () => {
  const cello = makeRoute({ to: [{ portId: 'cello', channel: 2 }] });
  const organ = makeRoute({ to: [{ portId: 'organ', channel: null }], change: changed({ transpose: 12 }) });

  it('with a chord, a pedal and a bend over a change of instrument', () => {
    const bench = new Bench(routing([cello, organ]));
    bench.off.add(organ.id);
    const starts = [noteOn(0, 60, 1), noteOn(0, 64, 1), controller(0, 64, 127), pitchBend(0, 9000)];
    expect(starts.flatMap((m) => bench.send(m))).toEqual([
      'cello: 92 3C 01',
      'cello: 92 40 01',
      'cello: B2 40 7F',
      'cello: E2 28 46',
    ]);
    bench.off.delete(organ.id);
    bench.off.add(cello.id);
    expect(bench.send(noteOn(0, 67, 1))).toEqual(['organ: 90 4F 01']);
    expect(bench.send(noteOff(0, 60))).toEqual(['cello: 82 3C 40']);
    expect(bench.send(pitchBend(0, 8192))).toEqual(['organ: E0 00 40', 'cello: E2 00 40']);
    expect(bench.send(controller(0, 64, 0))).toEqual(['organ: B0 40 00', 'cello: B2 40 00']);
    bench.edit(routing([]));
    expect(bench.send(noteOff(0, 67, 3))).toEqual(['organ: 80 4F 03']);
    expect(bench.send(noteOff(0, 64))).toEqual(['cello: 82 40 40']);
    expect(bench.memory.begun).toEqual([]);
  });

  it('and the last of two that hold the same note ends it', () => {
    const both = makeRoute({ change: changed({ numbers: table('note 40 to 60, 41 to 60') }) });
    const bench = new Bench(routing([both]));
    bench.send(noteOn(0, 40, 1));
    bench.send(noteOn(0, 41, 1));
    expect(bench.send(noteOff(0, 40))).toEqual([]);
    expect(bench.send(noteOff(0, 41))).toEqual(['out: 80 3C 40']);
  });

  it('as does a pedal that two keyboards hold', () => {
    const bench = new Bench(routing([makeRoute()]));
    bench.send(controller(0, 64, 127), 'in');
    bench.send(controller(0, 64, 127), 'in 2');
    expect(bench.send(controller(0, 64, 0), 'in')).toEqual([]);
    expect(bench.send(controller(0, 64, 0), 'in 2')).toEqual(['out: B0 40 00']);
  });
});

describe('lines', () => {
  const into = (portId: string, from: string[], part: Partial<Route> = {}) =>
    makeRoute({ from: { ...PLAIN_FROM, portIds: from }, to: [{ portId, channel: null }], ...part });
  const rig = makeRig([]);

  it('lead from one route to the next, and notes end through them', () => {
    const bench = new Bench(
      routing(
        [
          into('keys', ['in'], { change: changed({ transpose: 12 }) }),
          into('out', ['keys'], { change: changed({ transpose: 1 }) }),
        ],
        [],
        ['keys'],
      ),
    );
    expect(bench.send(noteOn(0, 60, 5))).toEqual(['out: 90 49 05']);
    bench.edit(routing([], [], []));
    expect(bench.send(noteOff(0, 60))).toEqual(['out: 80 49 40']);
  });

  it('every ring is told, also where two share a way', () => {
    const all = routing(
      [
        into('b', ['a'], { id: 'a-b' }),
        into('c', ['a'], { id: 'a-c' }),
        into('d', ['b'], { id: 'b-d' }),
        into('d', ['c'], { id: 'c-d' }),
        into('a', ['d'], { id: 'd-a' }),
      ],
      [],
      ['a', 'b', 'c', 'd'],
    );
    expect(routeLoops(all, rig).map((l) => l.place.routeIds)).toEqual([
      ['a-b', 'b-d', 'd-a'],
      ['a-c', 'c-d', 'd-a'],
    ]);
  });

  it('that feed each other are found before they run, and bounded while they run', () => {
    const ring = routing([into('b', ['a']), into('a', ['b']), into('a', ['in'])], [], ['a', 'b']);
    expect(routeLoops(ring, rig).map((l) => l.place.routeIds)).toEqual([
      ring.routes.slice(0, 2).map((r) => r.id),
    ]);
    const bench = new Bench(ring);
    expect(bench.send(noteOn(0, 60, 1))).toEqual([]);
    expect(bench.passages.at(-1)).toBe('loop');
  });

  it('that multiply at each turn stay bounded', () => {
    const twice = { to: ['a', 'a', 'out'].map((portId) => ({ portId, channel: null })) };
    const bench = new Bench(
      routing([makeRoute({ from: { ...PLAIN_FROM, portIds: ['in', 'a'] }, ...twice })], [], ['a']),
    );
    expect(bench.send(controller(0, 60, 1)).length).toBeLessThan(2000);
  });

  it.each<[string, Partial<Route>]>([
    ['is off', { isOn: false }],
    [
      'takes another kind',
      { from: { ...PLAIN_FROM, portIds: ['b'], kinds: ['program'] }, change: PLAIN_CHANGE },
    ],
    ['takes another channel', { from: { ...PLAIN_FROM, portIds: ['b'], channels: [5] } }],
  ])('are no ring where one of them %s', (_, part) => {
    const first = into('b', ['a'], {
      from: { ...PLAIN_FROM, portIds: ['a'], kinds: ['note'], channels: [0] },
    });
    expect(routeLoops(routing([first, into('a', ['b'], part)], [], ['a', 'b']), rig)).toEqual([]);
  });

  it('are a ring also over a cable that leads back', () => {
    const out = makePort({ id: 'out', direction: 'out', link: 'usb', atComputer: true });
    const back = makePort({ id: 'in', direction: 'in', link: 'usb', atComputer: true });
    const box = makeDevice({ role: 'carrier', ports: [out] });
    const other = makeDevice({ role: 'carrier', ports: [back] });
    const looped = makeRig([box, other], [cable(out, back)]);
    const [loop] = routeLoops(routing([makeRoute({ name: 'Thru' })]), looped);
    expect(loop?.sentence).toBe(
      '“Thru” feeds itself: what it sends comes back to it and goes round for ever. Take from another port, or send to another one.',
    );
    expect(routeLoops(routing([makeRoute()]), makeRig([box, other]))).toEqual([]);
  });
});

describe('the same message again and again', () => {
  it('is none when it is slow, when it differs, and never with the clock', () => {
    const bench = new Bench(routing([makeRoute()]));
    const many = (of: (i: number) => Message, everyMs: number) =>
      Array.from({ length: 200 }, (_, i) => bench.send(of(i), 'in', everyMs)).flat().length;
    expect(many(() => controller(0, 1, 1), 51)).toBe(200);
    expect(many((i) => controller(0, 1, i % 2), 1)).toBe(200);
    expect(many(() => realTime('clock'), 1)).toBe(200);
  });
});

describe('a modulation', () => {
  const m = {
    ...PLAIN_MODULATION,
    delayMs: 100,
    attackMs: 200,
    decayMs: 100,
    sustain: 0.5,
    releaseMs: 200,
    peak: 100,
  };

  it('waits, rises, falls to where it stays, and goes back', () => {
    const steps = modulationSteps(m, 1000);
    const at = (ms: number) => steps.findLast((s) => s.atMs <= ms)!.value;
    expect([0, 99, 200, 300, 350, 400, 999, 1100, 1200].map(at)).toEqual([0, 0, 50, 100, 75, 50, 50, 25, 0]);
    expect(steps.at(-1)).toEqual({ atMs: 1200, value: 0 });
  });

  it('falls to where it stays, high or low', () => {
    const at = (sustain: number) =>
      [300, 350, 400, 999].map(
        (ms) => modulationSteps({ ...m, sustain }, 1000).findLast((s) => s.atMs <= ms)!.value,
      );
    expect(at(0.2)).toEqual([100, 60, 20, 20]);
    expect(at(0.8)).toEqual([100, 90, 80, 80]);
  });

  it('released on its way goes back from where it is', () => {
    const steps = modulationSteps(m, 200);
    expect(Math.max(...steps.map((s) => s.value))).toBe(50);
    expect(steps.at(-1)).toEqual({ atMs: 400, value: 0 });
  });

  it.each([5, 10, 50])('is sent every %i ms at the most', (everyMs) => {
    const times = modulationSteps({ ...m, everyMs }, 1000).map((s) => s.atMs);
    const gaps = times.slice(1).map((t, i) => t - times[i]!);
    // The ends of its parts are exact, so only the very last gap of a part may be shorter.
    expect(gaps.filter((g) => g < everyMs).length).toBeLessThanOrEqual(2);
  });

  it('with no times at all goes straight there and back', () => {
    const steep = { ...m, delayMs: 0, attackMs: 0, decayMs: 0, sustain: 1, releaseMs: 0 };
    expect(modulationSteps(steep, 500)).toEqual([
      { atMs: 0, value: 100 },
      { atMs: 500, value: 0 },
    ]);
  });
});
