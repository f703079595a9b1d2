import fc from 'fast-check';
import { PLAIN_HARDWARE, type Action, type Assignment } from '../../floor';
import { controller, encode, hex, noteOff, noteOn, type Message } from '../../midi';
import { PLAIN_MODULATION, PLAIN_ROUTE, type Route } from '../../routing';
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
  stateKey,
  step,
  type Command,
  type Effect,
  type LiveEvent,
  type LiveState,
  type World,
} from '../index';

/** Random worlds in which much falls due by itself, played with time told in few ticks or in many. */

const out = makePort({ id: 'out', direction: 'out', link: 'din', atComputer: true });
const keys = makePort({ id: 'keys', direction: 'in', link: 'usb', atComputer: true });
const box = makeDevice({ role: 'carrier', ports: [out, keys] });
const gearIn = makePort({ id: 'gear-in', direction: 'in', link: 'din' });
const SWITCHED = { kind: 'switch' as const, off: 0, on: 127 };

const FUNCTIONS = ['f0', 'f1', 'f2', 'f3'] as const;
const gear = (settleMs: number) =>
  makeDevice({
    id: 'gear',
    channel: 2,
    ports: [gearIn],
    chart: [
      makeFunction({
        id: 'program',
        drive: { kind: 'program', bank: null },
        shape: { kind: 'program', names: [] },
        settleMs,
      }),
      ...FUNCTIONS.map((id, i) => makeFunction({ id, drive: { kind: 'controller', controller: 20 + i } })),
      makeFunction({ id: 'echo', drive: { kind: 'controller', controller: 30 }, shape: SWITCHED }),
    ],
  });

const SONGS = [
  makeSong('One', [
    ['A', { program: 1, f0: 3 }],
    ['B', { f0: 90, echo: 1 }],
  ]),
  makeSong('Two', [['C', { program: 2, f1: 5, echo: 0 }]], { tempoBpm: 137 }),
];

const value = fc.integer({ min: 0, max: 127 });
/** Fractions too: that is where adding up goes wrong. */
const ms = fc.oneof(
  fc.integer({ min: 1, max: 900 }),
  fc.double({ min: 0.1, max: 900, noNaN: true, noDefaultInfinity: true }),
);
const fn = fc.constantFrom(...FUNCTIONS);
const unit = fc.constantFrom('ms' as const, 'beats' as const);
const curve = fc.constantFrom('linear' as const, 'audio' as const);

type Loose = Action extends infer A ? (A extends { id: string } ? Omit<A, 'id'> : never) : never;

const anyAction = fc
  .tuple(
    fc.oneof(
      fc.record({ kind: fc.constant('set'), functionId: fn, value }),
      fc.constant({ kind: 'toggle', functionId: 'echo' }),
      fc.record({ kind: fc.constant('momentary'), functionId: fn, down: value, up: value }),
      fc.record({
        kind: fc.constant('ramp'),
        functionId: fn,
        from: fc.option(value),
        to: value,
        time: fc.oneof(
          fc.record({ amount: fc.double({ min: 0, max: 2, noNaN: true }), unit: fc.constant('s') }),
          fc.record({ amount: fc.constantFrom(0, 0.25, 1, 4), unit: fc.constant('beats') }),
        ),
        curve,
      }),
      fc.record({
        kind: fc.constant('message'),
        deviceId: fc.constant('gear'),
        channel: fc.constant(null),
        send: fc.constant('note'),
        number: fc.integer({ min: 60, max: 62 }),
        value: fc.constant(90),
      }),
      fc.record({
        kind: fc.constant('clock'),
        portId: fc.constant('out'),
        to: fc.constantFrom('start', 'stop'),
      }),
      fc.constant({ kind: 'tap' }),
      fc.record({ kind: fc.constant('scene'), to: fc.record({ kind: fc.constantFrom('next', 'previous') }) }),
      fc.record({ kind: fc.constant('bank'), to: fc.record({ kind: fc.constantFrom('up', 'down') }) }),
      fc.record({
        kind: fc.constant('route'),
        routeId: fc.constant('swell'),
        part: fc.constant('route'),
        to: fc.constant('toggle'),
      }),
      fc.constant({ kind: 'panic' }),
    ),
    fc.option(
      fc
        .record({ amount: fc.oneof(ms, fc.constantFrom(0.25, 0.5, 1)), unit })
        .map((d) => (d.unit === 'beats' ? { ...d, amount: Math.min(d.amount, 2) } : d)),
    ),
  )
  .map(([action, delay]) => ({ ...action, ...(delay ? { delay } : {}), isOff: false }) as unknown as Loose);

const someActions = fc.array(anyAction, { maxLength: 2 });
const anyAssignment = (controlId: string): fc.Arbitrary<Assignment> =>
  fc
    .tuple(
      someActions,
      someActions,
      someActions,
      someActions,
      fc.record({
        holdMs: fc.integer({ min: 100, max: 700 }),
        doubleMs: fc.integer({ min: 100, max: 400 }),
        holdCancelsPress: fc.boolean(),
      }),
    )
    .map(([press, release, hold, doublePress, timing]) =>
      assign(controlId, press as never, release as never, {
        hold: hold as never,
        doublePress: doublePress as never,
        timing,
      }),
    );

const anyBank = fc.tuple(anyAssignment('s0'), anyAssignment('s1'), anyAssignment('s2')).map((a) => [...a]);

type Deed =
  | { readonly kind: 'switch'; readonly index: number; readonly down: boolean }
  | { readonly kind: 'key'; readonly note: number; readonly down: boolean }
  | { readonly kind: 'coarse'; readonly value: number }
  | { readonly kind: 'command'; readonly command: Command };

const anyDeed: fc.Arbitrary<Deed> = fc.oneof(
  {
    weight: 6,
    arbitrary: fc.record({ kind: fc.constant('switch' as const), index: fc.nat(2), down: fc.boolean() }),
  },
  {
    weight: 3,
    arbitrary: fc.record({
      kind: fc.constant('key' as const),
      note: fc.integer({ min: 60, max: 61 }),
      down: fc.boolean(),
    }),
  },
  fc.record({ kind: fc.constant('coarse' as const), value }),
  fc.record({
    kind: fc.constant('command' as const),
    command: fc.constantFrom<Command>(
      { kind: 'scene', to: 'next' },
      { kind: 'scene', to: 'again' },
      { kind: 'tap' },
      { kind: 'song', to: 'next' },
    ),
  }),
);

/** A world, what happens in it and when, and the other moments at which time is looked at. */
export const anyTimeRun = fc.record({
  banks: fc.array(anyBank, { minLength: 1, maxLength: 2 }),
  settleMs: fc.constantFrom(0, 30, 42.7),
  debounceMs: fc.constantFrom(0, 0, 12),
  aheadMs: fc.constantFrom(0, 0, 7.3, 16),
  modulation: fc.record({
    delayMs: fc.oneof(fc.constant(0), ms),
    attackMs: ms,
    decayMs: ms,
    releaseMs: fc.oneof(fc.constant(0), ms),
    everyMs: fc.oneof(fc.constant(10.1), fc.double({ min: 5, max: 60, noNaN: true })),
    curve,
  }),
  deeds: fc.array(fc.tuple(anyDeed, ms), { minLength: 1, maxLength: 12 }),
  looks: fc.array(fc.double({ min: 0, max: 5000, noNaN: true }), { minLength: 1, maxLength: 25 }),
});
export type TimeRun = typeof anyTimeRun extends fc.Arbitrary<infer T> ? T : never;

function worldOf({ banks, settleMs, debounceMs, aheadMs, modulation }: TimeRun): World {
  const { device, board, preset } = makeBoard(3, 1, banks);
  const swell: Route = {
    ...PLAIN_ROUTE,
    id: 'swell',
    name: 'Swell',
    from: { ...PLAIN_ROUTE.from, portIds: ['keys'] },
    modulation: { ...PLAIN_MODULATION, ...modulation },
    to: [{ portId: 'out', channel: 2 }],
    after: 'pass',
  };
  const through: Route = { ...swell, id: 'through', name: 'Through', modulation: null };
  const controls = board.controls.map((c) =>
    c.kind === 'footswitch'
      ? { ...c, hardware: { ...PLAIN_HARDWARE, debounceMs, lamp: { off: 0, on: 127, blink: null } } }
      : { ...c, sends: { kind: 'controller-14' as const, number: 4 } },
  );
  const rig = makeRig([device, box, gear(settleMs)], [cable(out, gearIn)], [{ ...board, controls }]);
  const routing = { lines: [], routes: [swell, through], othersTo: [] };
  return compileWorld({ rig: { ...rig, routing }, presets: [preset], setName: '', songs: SONGS }, aheadMs);
}

function eventsOf({ deeds }: TimeRun): LiveEvent[] {
  let atMs = 0;
  return deeds.map(([deed, afterMs]): LiveEvent => {
    atMs += afterMs;
    const from = (portId: string, message: Message): LiveEvent => ({
      kind: 'message',
      atMs,
      portId,
      message,
    });
    switch (deed.kind) {
      case 'switch':
        return from('board-out', controller(15, 30 + deed.index, deed.down ? 127 : 0));
      case 'key':
        return from('keys', deed.down ? noteOn(2, deed.note, 100) : noteOff(2, deed.note));
      case 'coarse':
        return from('board-out', controller(15, 4, deed.value));
      case 'command':
        return { kind: 'command', atMs, command: deed.command };
    }
  });
}

/** What left, lamps and words, in order, and the state at the end. @param isCopied the state is copied before each step. */
function played(
  world: World,
  events: readonly LiveEvent[],
  isCopied = false,
): { effects: readonly string[]; state: LiveState; lateWakes: number } {
  let state = initialState(world, 0);
  let lateWakes = 0;
  const effects: string[] = [];
  for (const event of events) {
    const done = step(world, isCopied ? structuredClone(state) : state, event);
    state = done.state;
    for (const effect of done.effects) {
      if (effect.kind !== 'wake') effects.push(wordsOf(effect));
      else if (effect.atMs <= event.atMs) lateWakes++;
    }
  }
  return { effects, state, lateWakes };
}

const wordsOf = (effect: Exclude<Effect, { kind: 'wake' }>): string =>
  effect.kind === 'send'
    ? `${effect.atMs} ${effect.portId} ${hex(encode(effect.message))} ${effect.functionId} ${effect.routeId}`
    : JSON.stringify(effect);

/**
 * Plays a run with time told only by what happens, and with many ticks in between and a copied state before each step.
 * @returns what differs.
 */
export function ticksMatter(run: TimeRun): string | null {
  const world = worldOf(run);
  const events = eventsOf(run);
  const endMs = (events.at(-1)?.atMs ?? 0) + 3000;
  const end: LiveEvent = { kind: 'tick', atMs: endMs };
  const looks = run.looks.filter((atMs) => atMs < endMs).map((atMs): LiveEvent => ({ kind: 'tick', atMs }));
  const few = played(world, [...events, end]);
  const many = played(
    world,
    [...events, ...looks, end].sort((a, b) => a.atMs - b.atMs),
    true,
  );
  if (few.lateWakes + many.lateWakes > 0) return 'a wake is asked for that is not later than now';
  const at = few.effects.findIndex((e, i) => e !== many.effects[i]);
  if (at >= 0 || few.effects.length !== many.effects.length)
    return `effect ${at} of ${few.effects.length}: ${few.effects[at]} and not ${many.effects[at]} (${many.effects.length})`;
  const [a, b] = [JSON.stringify(few.state), JSON.stringify(many.state)];
  return a === b ? null : `states differ: ${a} and ${b}`;
}

/** Short histories of one random world, whole ms apart, that all come to rest. */
export const anyHistories = fc.record({
  run: anyTimeRun,
  histories: fc.array(
    fc.record({
      deeds: fc.array(fc.tuple(anyDeed, fc.integer({ min: 1, max: 900 })), { maxLength: 3 }),
      restMs: fc.integer({ min: 3000, max: 8000 }),
    }),
    { minLength: 60, maxLength: 60 },
  ),
  after: fc.array(fc.tuple(anyDeed, fc.integer({ min: 1, max: 900 })), { minLength: 20, maxLength: 20 }),
});
export type Histories = typeof anyHistories extends fc.Arbitrary<infer T> ? T : never;

/** @returns how many pairs of states had one key, and what one of them did otherwise than the other. */
export function keysMatter({ run, histories, after }: Histories): { pairs: number; wrong: string | null } {
  const world = worldOf({ ...run, debounceMs: run.debounceMs });
  const found = new Map<string, () => readonly string[]>();
  let pairs = 0;
  for (const { deeds, restMs } of histories) {
    const events = eventsOf({ ...run, deeds });
    const endMs = (events.at(-1)?.atMs ?? 0) + restMs;
    const { state } = played(world, [...events, { kind: 'tick', atMs: endMs }]);
    const key = stateKey(world, state);
    const next = eventsOf({ ...run, deeds: after }).map((e) => ({ ...e, atMs: e.atMs + endMs }));
    const tail: LiveEvent = { kind: 'tick', atMs: (next.at(-1)?.atMs ?? endMs) + 3000 };
    const go = () => sentSince(world, state, [...next, tail], endMs);
    const other = found.get(key);
    if (!other) found.set(key, once(go));
    else {
      pairs++;
      const [effects, others] = [go(), other()];
      const at = effects.findIndex((e, i) => e !== others[i]);
      if (at >= 0 || effects.length !== others.length)
        return {
          pairs,
          wrong: `${effects[at]} and not ${others[at]}, message ${at} of ${effects.length}`,
        };
    }
  }
  return { pairs, wrong: null };
}

function once<T>(find: () => T): () => T {
  let found: { value: T } | null = null;
  return () => (found ??= { value: find() }).value;
}

/** What is sent, with times from a moment on, in thousandths of a ms. */
function sentSince(world: World, from: LiveState, events: readonly LiveEvent[], sinceMs: number): string[] {
  let state = from;
  const sent: string[] = [];
  for (const event of events) {
    const done = step(world, structuredClone(state), event);
    state = done.state;
    for (const e of done.effects)
      if (e.kind === 'send')
        sent.push(`${Math.round((e.atMs - sinceMs) * 1000)} ${e.portId} ${hex(encode(e.message))}`);
  }
  return sent;
}
