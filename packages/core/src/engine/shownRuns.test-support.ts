import fc from 'fast-check';
import { PLAIN_CURVES, PLAIN_FEEL, type Action, type ControlKind, type Touch } from '../floor';
import { controller, encode, hex, noteOn, type Message } from '../midi';
import { scenePlan } from './song/sceneCost';
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
  type Command,
  type LiveEvent,
  type LiveState,
  type World,
} from './index';

/** Random actions at random controls that feel in random ways: what is shown of them, and what leaves when they are pressed. */

const out = makePort({ id: 'out', direction: 'out', link: 'din', atComputer: true });
const usb = makePort({ id: 'usb', direction: 'out', link: 'usb', atComputer: true });
const back = makePort({ id: 'back', atComputer: true });
const box = makeDevice({ role: 'carrier', ports: [out, usb, back] });
const gearIn = makePort({ id: 'gear-in' });
const hostIn = makePort({ id: 'host-in', link: 'usb' });
const onOff = { kind: 'switch' as const, off: 0, on: 127 };
const wide = { kind: 'range' as const, min: 0, max: 16383, shownFrom: 0 };
const gearOut = makePort({ id: 'gear-out', direction: 'out' });
const gear = makeDevice({
  id: 'gear',
  channel: 4,
  ports: [gearIn, gearOut],
  chart: [
    makeFunction({ id: 'level', drive: { kind: 'controller', controller: 20 } }),
    makeFunction({ id: 'level-too', drive: { kind: 'controller', controller: 20 } }),
    makeFunction({ id: 'wide', drive: { kind: 'controller-14', controller: 7 }, shape: wide }),
    makeFunction({
      id: 'program',
      drive: { kind: 'program', bank: 3 },
      shape: { kind: 'program', names: [] },
      settleMs: 2,
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
  fc.constantFrom('next', 'previous').map((to) => ({ kind: 'arm-step', deviceId: 'host', to })),
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

/** What happened before: commands, presses of the switch itself, and what the gear says of itself. */
const anyPast: fc.Arbitrary<Past> = fc.oneof(
  fc.record({
    set: fc.constantFrom('level', 'program', 'sound', 'drive', 'arm-0', 'arm-1'),
    value: fc.nat(1),
  }),
  fc.record({ scene: fc.nat(2) }),
  fc.constant({ press: true as const }),
  fc.record({ report: fc.constantFrom(0, 127) }),
  fc.constant({ unplugged: true as const }),
);
type Past =
  | { readonly set: string; readonly value: number }
  | { readonly scene: number }
  | { readonly press: true }
  | { readonly report: number }
  | { readonly unplugged: true };

export const anyShown = fc.record({
  past: fc.array(anyPast, { maxLength: 6 }),
  actions: fc.uniqueArray(anyAction, { minLength: 1, maxLength: 3, selector: registerOf }),
  asked: fc.boolean(),
  kind: fc.constantFrom<ControlKind>('footswitch', 'pad', 'button', 'key'),
  touch: fc.option(anyTouch),
  feel: fc.option(anyTouch),
  gesture: fc.constantFrom('press' as const, 'release' as const, 'hold' as const, 'doublePress' as const),
});
export type Shown = typeof anyShown extends fc.Arbitrary<infer T> ? T : never;

/** What overtakes another one on its way, of which only the last leaves: functions of one register, programs of one device. One message tells how hard it is struck. */
function registerOf(action: object): string {
  const { functionId, kind } = action as { functionId?: string; kind: string };
  if (functionId?.startsWith('level')) return 'level';
  if (functionId?.startsWith('arm') || kind === 'arm-step') return 'arm';
  return functionId ?? kind;
}

const LOADS = ['program', 'sound'];
/**
 * What loads a program comes first, alone: it takes the place of what was still on its way. What ends when the switch has
 * gone up is alone too: it ends after all others.
 */
function inPlainOrder(actions: readonly object[], gesture: Shown['gesture']): readonly object[] {
  if (gesture === 'release') return actions.slice(0, 1);
  const idOf = (a: object): string => (a as { functionId?: string }).functionId ?? '';
  const loading = actions.filter((a) => LOADS.includes(idOf(a))).slice(0, 1);
  return [...loading, ...actions.filter((a) => !LOADS.includes(idOf(a)))];
}

/** @returns what leaves otherwise than it is shown, or `null`. */
export function shownOtherwise({ past, actions, asked, kind, touch, feel, gesture }: Shown): string | null {
  const loose = inPlainOrder(actions, gesture) as never[];
  const lists = gesture === 'press' || gesture === 'release' ? {} : { [gesture]: loose };
  const assignment = {
    ...assign('s0', gesture === 'press' ? loose : [], gesture === 'release' ? loose : [], lists),
    touch,
  };
  const { device, board, preset } = makeBoard(1, 0, [[assignment]]);
  const isNote = kind === 'pad' || kind === 'key';
  const controls = board.controls.map((c) =>
    isNote ? { ...c, kind, sends: { kind: 'note' as const, number: 36 } } : { ...c, kind },
  );
  const asking = {
    ...gear,
    chart: gear.chart.map((f) => (f.id === 'drive' && asked ? { ...f, request: 'F0 7D 05 F7' } : f)),
  };
  const song = makeSong('Song', [
    ['Sound', { sound: 3, level: 20 }],
    ['Program', { program: 5, drive: 1 }],
    ['Both', { program: 6, 'arm-0': 1, level: 9 }],
  ]);
  const world = compileWorld({
    rig: makeRig(
      [box, asking, host, device],
      [cable(out, gearIn), cable(usb, hostIn), cable(gearOut, back)],
      [{ ...board, controls }],
    ),
    presets: [{ ...preset, feel: feel ? [{ kind, ...PLAIN_FEEL, ...feel }] : [] }],
    setName: '',
    songs: [song],
  });
  const placed = assignment[gesture] as readonly Action[];
  const player = new Player(world, isNote);
  for (const event of past) player.lives(event, gesture);
  player.rests();
  const shown = placed.flatMap((action) =>
    actionWires(world, action, player.state).flatMap((w) => w.messages.map((m) => `${w.portId} ${hex(m)}`)),
  );
  // It is struck as hard as its message says.
  const note = placed.find((a) => a.kind === 'message');
  const strength = note ? Math.max(1, note.value) : 127;
  player.sent = [];
  player.plays(gesture, strength);
  const { sent } = player;
  // Ports send side by side, and what a device that loads has to wait for lets others go first.
  if (placed.length > 1) {
    shown.sort();
    sent.sort();
  }
  return shown.join() === sent.join() ? null : `shown ${shown.join(', ')} and sent ${sent.join(', ')}`;
}

/** Plays a world by one switch, and keeps what was sent. */
class Player {
  state: LiveState;
  sent: string[] = [];
  private wakeMs = Infinity;
  private nowMs = 1;

  constructor(
    private readonly world: World,
    private readonly isNote: boolean,
  ) {
    this.state = initialState(world, 0);
  }

  lives(past: Past, gesture: Shown['gesture']): void {
    if ('set' in past) this.commands({ kind: 'set', functionId: past.set, value: past.value });
    else if ('scene' in past) this.commands({ kind: 'go', songIndex: 0, sceneIndex: past.scene });
    else if ('press' in past) this.plays(gesture, 100);
    else if ('report' in past) this.hears('back', controller(4, 27, past.report));
    else {
      this.commands({ kind: 'port-lost', portId: 'out' });
      this.commands({ kind: 'port-found', portId: 'out', isToldAgain: false });
    }
    if ('press' in past) this.rests();
    else this.waits(10);
  }

  /** Until nothing is on its way any more. */
  rests(): void {
    this.waits(20_000);
  }

  /** Makes a gesture, with what comes of it in the second after that. */
  plays(gesture: Shown['gesture'], strength: number): void {
    const { isNote } = this;
    const down = isNote ? noteOn(15, 36, strength) : controller(15, 30, strength);
    const up = isNote ? noteOn(15, 36, 0) : controller(15, 30, 0);
    this.hears('board-out', down);
    if (gesture === 'hold') this.waits(600);
    if (gesture === 'release') this.hears('board-out', up);
    if (gesture === 'doublePress') {
      this.waits(50);
      this.hears('board-out', up);
      this.waits(50);
      this.hears('board-out', down);
    }
    // All of the press has left by then, and no glide has gone a step.
    this.waits(9.5);
    const { sent } = this;
    this.waits(1000);
    this.hears('board-out', up);
    this.sent = sent;
  }

  private commands(command: Command): void {
    this.run({ kind: 'command', atMs: this.nowMs, command });
  }

  private hears(portId: string, message: Message): void {
    this.run({ kind: 'message', atMs: this.nowMs, portId, message });
  }

  private waits(ms: number): void {
    this.nowMs += ms;
    this.run({ kind: 'tick', atMs: this.nowMs });
  }

  private run(event: LiveEvent): void {
    while (this.wakeMs < event.atMs)
      this.take(step(this.world, this.state, { kind: 'tick', atMs: this.wakeMs }));
    this.take(step(this.world, structuredClone(this.state), event));
  }

  private take({ state, effects }: ReturnType<typeof step>): void {
    this.state = state;
    this.wakeMs = Infinity;
    for (const e of effects) {
      if (e.kind === 'wake') this.wakeMs = e.atMs;
      if (e.kind === 'send') this.sent = [...this.sent, `${e.portId} ${hex(encode(e.message))}`];
    }
  }
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
      const done = step(world, structuredClone(state), event);
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
