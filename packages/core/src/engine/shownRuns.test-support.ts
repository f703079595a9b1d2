import fc from 'fast-check';
import { PLAIN_CURVES, PLAIN_FEEL, type Action, type ControlKind, type Touch } from '../floor';
import { controller, encode, hex, noteOn } from '../midi';
import { scenePlan } from './sceneCost';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
  makeSong,
} from '../testing.test-support';
import {
  actionWires,
  compileWorld,
  initialState,
  step,
  type LiveEvent,
  type LiveState,
  type World,
} from './index';

/** Random actions at random controls that feel in random ways: what is shown of them, and what leaves when they are pressed. */

const out = makePort({ id: 'out', direction: 'out', link: 'din', atComputer: true });
const usb = makePort({ id: 'usb', direction: 'out', link: 'usb', atComputer: true });
const box = makeDevice({ role: 'carrier', ports: [out, usb] });
const gearIn = makePort({ id: 'gear-in' });
const hostIn = makePort({ id: 'host-in', link: 'usb' });
const onOff = { kind: 'switch' as const, off: 0, on: 127 };
const wide = { kind: 'range' as const, min: 0, max: 16383, shownFrom: 0 };
const gear = makeDevice({
  id: 'gear',
  channel: 4,
  ports: [gearIn],
  chart: [
    makeFunction({ id: 'level', drive: { kind: 'controller', controller: 20 } }),
    makeFunction({ id: 'level-too', drive: { kind: 'controller', controller: 20 } }),
    makeFunction({ id: 'wide', drive: { kind: 'controller-14', controller: 7 }, shape: wide }),
    makeFunction({
      id: 'program',
      drive: { kind: 'program', bank: 3 },
      shape: { kind: 'program', names: [] },
      settleMs: 20,
    }),
    makeFunction({ id: 'sound', drive: { kind: 'sound' }, shape: { kind: 'sound', names: [] } }),
    makeFunction({ id: 'drive', drive: { kind: 'controller', controller: 27 }, shape: onOff }),
    makeFunction({ id: 'hit', drive: { kind: 'note', note: 50 }, shape: { kind: 'trigger', sent: 90 } }),
  ],
});
const host = makeDevice({
  id: 'host',
  ports: [hostIn],
  chart: ['Bow', 'Voice'].map((arms, i) =>
    makeFunction({ id: `arm-${i}`, arms, drive: { kind: 'controller', controller: 102 + i }, shape: onOff }),
  ),
});

const ranged = fc.constantFrom('level', 'wide', 'program', 'sound');
const value = fc.nat(127);
const anyAction: fc.Arbitrary<object> = fc.oneof(
  fc.record({ kind: fc.constant('set'), functionId: ranged, value }),
  fc.constantFrom({ kind: 'set', functionId: 'hit', value: 0 }, { kind: 'toggle', functionId: 'drive' }),
  fc.record({ kind: fc.constant('arm-only'), functionId: fc.constantFrom('arm-0', 'arm-1') }),
  fc.constant({ kind: 'one-of', functionId: 'drive', circle: 'c' }),
  fc.record({ kind: fc.constant('momentary'), functionId: ranged, down: value, up: value }),
  fc.record({
    kind: fc.constant('step'),
    functionId: ranged,
    values: fc.array(value, { minLength: 1, maxLength: 4 }),
    direction: fc.constantFrom('forward', 'back', 'reset'),
    atEnd: fc.constantFrom('wrap', 'stop'),
  }),
  fc.record({
    kind: fc.constant('ramp'),
    functionId: fc.constantFrom('level', 'wide'),
    from: fc.option(value),
    to: value,
    time: fc.record({ amount: fc.constantFrom(0, 1), unit: fc.constant('s') }),
    curve: fc.constant('linear'),
  }),
  fc.record({
    kind: fc.constant('message'),
    deviceId: fc.constantFrom('gear', 'host'),
    channel: fc.option(fc.nat(15)),
    send: fc.constantFrom('note', 'controller', 'program'),
    number: fc.nat(119),
    value,
  }),
  fc.record({
    kind: fc.constant('raw'),
    portId: fc.constantFrom('out', 'usb'),
    bytes: fc.constantFrom([0xb0, 1, 2], [0xf0, 0x7d, 1, 0xf7], [0x90, 60, 4, 0x80, 60, 0]),
  }),
);

const anyTouch: fc.Arbitrary<Touch> = fc.record({
  velocity: fc.constantFrom('played' as const, 'fixed' as const),
  fixed: fc.integer({ min: 1, max: 127 }),
  curve: fc.constantFrom(...PLAIN_CURVES),
  pressure: fc.constant('off' as const),
  controller: fc.constant(1),
}) as unknown as fc.Arbitrary<Touch>;

export const anyShown = fc.record({
  action: anyAction,
  kind: fc.constantFrom<ControlKind>('footswitch', 'pad', 'button', 'key'),
  touch: fc.option(anyTouch),
  feel: fc.option(anyTouch),
  gesture: fc.constantFrom('press' as const, 'hold' as const, 'doublePress' as const),
});
export type Shown = typeof anyShown extends fc.Arbitrary<infer T> ? T : never;

/** @returns what leaves otherwise than it is shown, or `null`. */
export function shownOtherwise({ action, kind, touch, feel, gesture }: Shown): string | null {
  const loose = [action as never];
  const assignment = {
    ...assign('s0', gesture === 'press' ? loose : [], [], gesture === 'press' ? {} : { [gesture]: loose }),
    touch,
  };
  const { device, board, preset } = makeBoard(1, 0, [[assignment]]);
  const controls = board.controls.map((c) =>
    kind === 'pad' || kind === 'key'
      ? { ...c, kind, sends: { kind: 'note' as const, number: 36 } }
      : { ...c, kind },
  );
  const world = compileWorld({
    rig: makeRig(
      [box, gear, host, device],
      [cable(out, gearIn), cable(usb, hostIn)],
      [{ ...board, controls }],
    ),
    presets: [{ ...preset, feel: feel ? [{ kind, ...PLAIN_FEEL, ...feel }] : [] }],
    setName: '',
    songs: [],
  });
  const placed = assignment[gesture][0]! as Action;
  const shown = actionWires(world, placed).flatMap((w) => w.messages.map((m) => `${w.portId} ${hex(m)}`));
  const sent = pressedOnce(world, placed, kind === 'pad' || kind === 'key', gesture);
  return shown.join() === sent.join() ? null : `shown ${shown.join(', ')} and sent ${sent.join(', ')}`;
}

function pressedOnce(world: World, action: Action, isNote: boolean, gesture: Shown['gesture']): string[] {
  let state: LiveState = initialState(world, 0);
  let wakeMs = Infinity;
  let sent: string[] = [];
  const run = (event: LiveEvent): void => {
    while (wakeMs < event.atMs) take(step(world, state, { kind: 'tick', atMs: wakeMs }));
    take(step(world, state, event));
  };
  const take = (done: ReturnType<typeof step>): void => {
    state = done.state;
    wakeMs = Infinity;
    for (const e of done.effects) {
      if (e.kind === 'wake') wakeMs = e.atMs;
      if (e.kind === 'send') sent.push(`${e.portId} ${hex(encode(e.message))}`);
    }
  };
  // Everything that can be switched is off, as it is shown.
  for (const functionId of ['drive', 'arm-0', 'arm-1'])
    run({ kind: 'command', atMs: 1, command: { kind: 'set', functionId, value: 0 } });
  run({ kind: 'tick', atMs: 500 });
  sent = [];
  const struck = Math.max(1, 'value' in action ? Math.min(127, action.value) : 127);
  const down = isNote ? noteOn(15, 36, struck) : controller(15, 30, struck);
  const up = isNote ? noteOn(15, 36, 0) : controller(15, 30, 0);
  run({ kind: 'message', atMs: 1000, portId: 'board-out', message: down });
  if (gesture === 'hold') run({ kind: 'tick', atMs: 1600 });
  if (gesture === 'doublePress') {
    run({ kind: 'message', atMs: 1050, portId: 'board-out', message: up });
    run({ kind: 'message', atMs: 1100, portId: 'board-out', message: down });
  }
  return sent;
}

export const anyPlanned = fc.array(
  fc.dictionary(
    fc.constantFrom('level', 'wide', 'program', 'sound', 'drive', 'arm-0', 'arm-1', 'hit'),
    value,
    {
      maxKeys: 5,
    },
  ),
  { minLength: 2, maxLength: 4 },
);

/** Whether the plan from one scene to the next lists what is sent, and says when the rig stands. */
export function planOtherwise(scenes: readonly Record<string, number>[]): string | null {
  const song = makeSong(
    'Song',
    scenes.map((values, i) => [
      `S${i}`,
      Object.fromEntries(
        Object.entries(values).map(([id, v]) => [id, id === 'hit' ? 0 : /drive|arm/.test(id) ? v % 2 : v]),
      ),
    ]),
  );
  const world = compileWorld({
    rig: makeRig([box, gear, host], [cable(out, gearIn), cable(usb, hostIn)]),
    presets: [],
    setName: '',
    songs: [song],
  });
  let state = initialState(world, 0);
  for (let to = 0; to < scenes.length; to++) {
    const plan = scenePlan(world, song, to === 0 ? null : to - 1, to);
    const planned = plan.lines.flatMap((l) => l.messages.map((m) => `${l.portId} ${hex(encode(m))}`));
    const sent: string[] = [];
    let settles = -1;
    let lastMs = 0;
    const startMs = (to + 1) * 10_000;
    let wakeMs: number | null = startMs;
    for (
      let event: LiveEvent = {
        kind: 'command',
        atMs: startMs,
        command: { kind: 'go', songIndex: 0, sceneIndex: to },
      };
      wakeMs !== null;
      event = { kind: 'tick', atMs: wakeMs ?? 0 }
    ) {
      wakeMs = null;
      const done = step(world, state, event);
      state = done.state;
      for (const e of done.effects) {
        if (e.kind === 'wake') wakeMs = e.atMs;
        if (e.kind === 'send') {
          sent.push(`${e.portId} ${hex(encode(e.message))}`);
          lastMs = e.atMs - startMs;
        }
        if (e.kind === 'note' && e.note.code === 'recalled') settles = e.note.settlesInMs;
      }
    }
    if (planned.join() !== sent.join())
      return `into ${to}: planned ${planned.join(', ')} and sent ${sent.join(', ')}`;
    if (Math.abs(plan.standsAtMs - settles) > 1e-6)
      return `into ${to}: stands after ${plan.standsAtMs} and ${settles}`;
    if (settles < lastMs)
      return `into ${to}: settled in ${settles}, and the last message leaves after ${lastMs}`;
  }
  return null;
}
