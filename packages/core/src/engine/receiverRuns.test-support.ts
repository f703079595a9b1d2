import fc from 'fast-check';
import type { Action } from '../floor';
import type { ChartFunction, Device } from '../gear';
import { controller, encode, noteOff, noteOn, pitchBend, program, type Message } from '../midi';
import { Receiver } from '../receiver.test-support';
import { PLAIN_ROUTE, type Route } from '../routing';
import type { Song } from '../show';
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
  bookmarkOf,
  changeShow,
  compileWorld,
  initialState,
  placeOf,
  step,
  type Effect,
  type LiveEvent,
  type LiveState,
  type Show,
  type World,
} from './index';

/**
 * Random evenings on gear whose rows share registers (several banks, doubled rows, pairs, parameters, one track by two
 * messages), with glides, routes, layers, panic, ports that go and come, edits and reloads; held against receivers that
 * know only bytes.
 */

const outA = makePort({ id: 'out-a', direction: 'out', link: 'din', atComputer: true });
const outB = makePort({ id: 'out-b', direction: 'out', link: 'usb', atComputer: true });
const keysIn = makePort({ id: 'keys', direction: 'in', link: 'usb', atComputer: true });
const box = makeDevice({ id: 'box', role: 'carrier', ports: [outA, outB, keysIn] });
const gearIn = makePort({ id: 'gear-in' });
const hostIn = makePort({ id: 'host-in', link: 'usb' });

const range = { kind: 'range' as const, min: 0, max: 127, shownFrom: 0 };
const wide = { ...range, max: 16383 };
const onOff = { kind: 'switch' as const, off: 0, on: 127 };
const names = { kind: 'program' as const, names: [] };
const cc = (n: number) => ({ kind: 'controller' as const, controller: n });
const nrpn = (bits: 7 | 14) => ({ kind: 'parameter' as const, registered: false, parameter: 273, bits });

const rowsOf = (settleMs: number): ChartFunction[] =>
  (
    [
      { id: 'bank-a', drive: { kind: 'program', bank: 0 }, shape: names, settleMs },
      { id: 'bank-c', drive: { kind: 'program', bank: 2 }, shape: names, settleMs },
      { id: 'plain', drive: { kind: 'program', bank: null }, shape: names, settleMs },
      { id: 'sound', drive: { kind: 'sound' }, shape: { kind: 'sound', names: [] }, settleMs },
      { id: 'r22', drive: cc(22), shape: range },
      {
        id: 'c22',
        drive: cc(22),
        shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['a', 'b', 'c'] },
      },
      { id: 't22', drive: cc(22), shape: { kind: 'trigger', sent: 3 } },
      {
        id: 'c28',
        drive: cc(28),
        shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['a', 'b', 'c'], sent: [0, 64, 127] },
      },
      { id: 'r28', drive: cc(28), shape: range },
      { id: 'wide', drive: { kind: 'controller-14', controller: 7 }, shape: wide },
      { id: 'coarse', drive: cc(7), shape: range },
      { id: 'fine', drive: cc(39), shape: range },
      { id: 'p7', drive: nrpn(7), shape: range },
      { id: 'p14', drive: nrpn(14), shape: wide },
      { id: 'drive', drive: cc(27), shape: onOff },
      { id: 'drive-level', drive: cc(27), shape: range },
      { id: 'bend', drive: { kind: 'pitch-bend' }, shape: wide },
      { id: 'pressure', drive: { kind: 'channel-pressure' }, shape: range },
      { id: 'drone', drive: { kind: 'note', note: 60 }, shape: onOff },
      { id: 'damper', drive: cc(64), shape: onOff },
      { id: 'expression', drive: cc(11), shape: range },
    ] as Partial<ChartFunction>[]
  ).map((part) => makeFunction(part));

const HOST_ROWS = (
  [
    { id: 'arm-1', drive: cc(102), shape: onOff, arms: 'Bow' },
    { id: 'ready-1', drive: { kind: 'record-ready', track: 1 }, shape: onOff, arms: 'Bow' },
    { id: 'arm-2', drive: cc(103), shape: onOff, arms: 'Voice' },
    { id: 'level-2', drive: cc(12), shape: range },
  ] as Partial<ChartFunction>[]
).map((part) => makeFunction(part));

const route = (part: Partial<Route> & { id: string }): Route => ({
  ...PLAIN_ROUTE,
  name: part.id,
  to: [{ portId: 'out-a', channel: 2 }],
  ...part,
  from: { ...PLAIN_ROUTE.from, portIds: ['keys'], ...part.from },
});
const ROUTES: Route[] = [
  route({
    id: 'layer',
    isLayer: true,
    from: { ...PLAIN_ROUTE.from, kinds: ['note', 'pitch-bend', 'controller'] },
  }),
  route({
    id: 'moved',
    to: [{ portId: 'out-b', channel: 0 }],
    change: { ...PLAIN_ROUTE.change, numbers: [{ kind: 'controller', from: 1, to: 12 }] },
    from: { ...PLAIN_ROUTE.from, kinds: ['controller'] },
  }),
];

const IDS = [...rowsOf(0), ...HOST_ROWS].map((f) => f.id);
const byId = new Map([...rowsOf(0), ...HOST_ROWS].map((f) => [f.id, f]));

type Chosen = { readonly id: string; readonly raw: number };
const anyValue: fc.Arbitrary<Chosen> = fc.record({ id: fc.constantFrom(...IDS), raw: fc.nat(2 ** 21 - 1) });

function valueFor({ id, raw }: Chosen): number {
  const { shape } = byId.get(id)!;
  switch (shape.kind) {
    case 'trigger':
      return 0;
    case 'switch':
      return raw % 2;
    case 'range':
      return raw % (shape.max + 1);
    case 'choice':
      return raw % shape.labels.length;
    case 'program':
      return raw % 128;
    case 'sound':
      return ((raw % 3) << 7) | ((raw >> 7) % 128);
  }
}

type LooseAction = Action extends infer A ? (A extends { id: string } ? Omit<A, 'id'> : never) : never;

const anyAction: fc.Arbitrary<LooseAction> = fc.oneof(
  anyValue.map((v) => ({ kind: 'set' as const, functionId: v.id, value: valueFor(v), isOff: false })),
  fc
    .constantFrom('drive', 'drone', 'damper', 'arm-2')
    .map((functionId) => ({ kind: 'toggle' as const, functionId, isOff: false })),
  fc
    .constantFrom('arm-1', 'arm-2')
    .map((functionId) => ({ kind: 'arm-only' as const, functionId, isOff: false })),
  fc.tuple(fc.constantFrom('r22', 'wide', 'expression', 'p14'), fc.nat(127)).map(([functionId, to]) => ({
    kind: 'ramp' as const,
    functionId,
    from: null,
    to,
    time: { amount: 0.2, unit: 's' as const },
    curve: 'linear' as const,
    isOff: false,
  })),
  fc
    .tuple(
      fc.constantFrom('controller' as const, 'program' as const, 'note' as const),
      fc.nat(127),
      fc.nat(127),
    )
    .map(([send, number, value]) => ({
      kind: 'message' as const,
      deviceId: 'gear',
      channel: null,
      send,
      number: send === 'controller' ? [0, 6, 7, 22, 38, 39, 64, 96, 99][number % 9]! : number,
      value,
      isOff: false,
    })),
  fc
    .constantFrom<number[]>(
      [0xb2, 0, 2, 0xb2, 32, 0, 0xc2, 9],
      [0xb2, 121, 0],
      [0xb2, 99, 2, 0xb2, 98, 17, 0xb2, 6, 5],
    )
    .map((bytes) => ({ kind: 'raw' as const, portId: 'out-a', bytes, isOff: false })),
  fc.constant({ kind: 'panic' as const, isOff: false }),
) as fc.Arbitrary<LooseAction>;

const anySong: fc.Arbitrary<Song> = fc
  .array(
    fc.record({
      values: fc.uniqueArray(anyValue, { maxLength: 6, selector: (v) => v.id }),
      glideS: fc.constantFrom(0, 0, 0.15),
      armed: fc.constantFrom(null, null, ['arm-1'], ['ready-1'], ['arm-2'], []),
    }),
    { minLength: 2, maxLength: 4 },
  )
  .map((scenes) => {
    const song = makeSong(
      'Song',
      scenes.map((s, i) => [`S${i}`, Object.fromEntries(s.values.map((v) => [v.id, valueFor(v)]))]),
    );
    return {
      ...song,
      scenes: song.scenes.map((scene, i) => ({
        ...scene,
        armedFunctionIds: scenes[i]!.armed,
        transition:
          scenes[i]!.glideS > 0
            ? {
                time: { amount: scenes[i]!.glideS, unit: 's' as const },
                curve: 'linear' as const,
                switchAt: 0.5,
              }
            : null,
      })),
    };
  });

type Deed =
  | { readonly kind: 'go'; readonly song: number; readonly scene: number; readonly settles: boolean }
  | { readonly kind: 'next' | 'again' | 'panic' | 'reload' }
  | { readonly kind: 'press'; readonly index: number }
  | { readonly kind: 'play'; readonly message: Message }
  | { readonly kind: 'wait'; readonly ms: number }
  | { readonly kind: 'port'; readonly isLost: boolean; readonly isToldAgain: boolean }
  | { readonly kind: 'edit'; readonly song: number };

const anyDeed: fc.Arbitrary<Deed> = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.record({
      kind: fc.constant('go' as const),
      song: fc.nat(1),
      scene: fc.nat(3),
      settles: fc.boolean(),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.constantFrom('next', 'again', 'panic', 'reload').map((kind) => ({ kind }) as Deed),
  },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('press' as const), index: fc.nat(3) }) },
  {
    weight: 3,
    arbitrary: fc
      .oneof(
        fc
          .tuple(fc.constantFrom(60, 62), fc.nat(127))
          .map(([n, v]) => (v === 0 ? noteOff(0, n) : noteOn(0, n, v))),
        fc.tuple(fc.constantFrom(1, 7, 11, 22, 64), fc.nat(127)).map(([n, v]) => controller(0, n, v)),
        fc.nat(16383).map((v) => pitchBend(0, v)),
        fc.nat(127).map((n) => program(0, n)),
      )
      .map((message) => ({ kind: 'play' as const, message })),
  },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('wait' as const), ms: fc.nat(120) }) },
  {
    weight: 1,
    arbitrary: fc.record({
      kind: fc.constant('port' as const),
      isLost: fc.boolean(),
      isToldAgain: fc.boolean(),
    }),
  },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('edit' as const), song: fc.nat(1) }) },
);

export const anyEvening = fc.record({
  bankSelect: fc.constantFrom('both' as const, 'lsb' as const, 'msb' as const, 'none' as const),
  settleMs: fc.constantFrom(0, 40),
  songs: fc.tuple(anySong, anySong, anySong),
  switches: fc.tuple(anyAction, anyAction, anyAction, anyAction),
  aheadMs: fc.constantFrom(0, 24),
  deeds: fc.array(anyDeed, { minLength: 3, maxLength: 25 }),
});
export type RandomEvening = typeof anyEvening extends fc.Arbitrary<infer E> ? E : never;

function showOf(evening: {
  bankSelect: Device['bankSelect'];
  settleMs: number;
  songs: Song[];
  switches: LooseAction[];
}): Show {
  const gear = makeDevice({
    id: 'gear',
    channel: 2,
    ports: [gearIn],
    bankSelect: evening.bankSelect,
    chart: rowsOf(evening.settleMs),
  });
  const host = makeDevice({ id: 'host', channel: 0, ports: [hostIn], chart: HOST_ROWS });
  const { device, board, preset } = makeBoard(4, 0, [
    evening.switches.map((action, i) => assign(`s${i}`, [action as never])),
  ]);
  return {
    rig: {
      ...makeRig([box, gear, host, device], [cable(outA, gearIn), cable(outB, hostIn)], [board]),
      routing: { lines: [], routes: ROUTES, othersTo: [] },
    },
    presets: [preset],
    setName: '',
    songs: evening.songs,
    entryIds: evening.songs.map((_, i) => `entry-${i}`),
  };
}

/** Plays an evening. @returns what a receiver holds otherwise than the screen says, or `null`. */
export function whatReceiversMiss(evening: RandomEvening): string | null {
  const [first, second, third] = evening.songs;
  const show = showOf({ ...evening, songs: [first, second], switches: [...evening.switches] });
  const edited = showOf({ ...evening, songs: [first, third], switches: [...evening.switches] });
  const run = new Run(compileWorld(show, evening.aheadMs));
  for (const deed of evening.deeds) {
    const wrong = run.do(deed, show, edited);
    if (wrong) return wrong;
  }
  run.plugIn();
  run.releaseAll();
  const wrong = run.settle('at the end');
  if (wrong) return wrong;
  run.command({ kind: 'panic' });
  return run.settle('after panic') ?? run.hanging();
}

class Run {
  private state: LiveState;
  private atMs = 1000;
  private wakeMs = Infinity;
  private readonly gear = { 'out-a': new Receiver(), 'out-b': new Receiver() };
  private isRecalled = false;
  private readonly lost = new Set<string>();
  private readonly down = new Set<number>();
  private readonly armed = new Map<string, boolean>();

  constructor(private world: World) {
    this.state = initialState(world, this.atMs);
  }

  do(deed: Deed, show: Show, edited: Show): string | null {
    this.isRecalled = false;
    switch (deed.kind) {
      case 'go':
        this.command({ kind: 'go', songIndex: deed.song, sceneIndex: deed.scene });
        return deed.settles ? this.settle('after a recall') : null;
      case 'next':
      case 'again':
        this.command({ kind: 'scene', to: deed.kind });
        return this.settle(`after ${deed.kind}`);
      case 'panic':
        this.command({ kind: 'panic' });
        return this.settle('after panic');
      case 'press':
        this.hear('board-out', controller(15, 30 + deed.index, 127));
        this.hear('board-out', controller(15, 30 + deed.index, 0));
        return null;
      case 'play': {
        const { message } = deed;
        if (message.kind === 'note-on') this.down.add(message.note);
        if (message.kind === 'note-off') this.down.delete(message.note);
        this.hear('keys', message);
        return null;
      }
      case 'wait':
        this.pass(this.atMs + deed.ms);
        return null;
      case 'port':
        if (deed.isLost === this.lost.has('out-a')) return null;
        if (deed.isLost) {
          this.command({ kind: 'port-lost', portId: 'out-a' });
          this.lost.add('out-a');
        } else {
          this.lost.delete('out-a');
          this.command({ kind: 'port-found', portId: 'out-a', isToldAgain: deed.isToldAgain });
        }
        return null;
      case 'edit':
        this.took(changeShow(this.world, this.state, deed.song === 0 ? show : edited, this.atMs));
        return null;
      case 'reload': {
        if (this.lost.size > 0) return null;
        const bookmark = JSON.parse(JSON.stringify(bookmarkOf(this.world, this.state, this.atMs))) as never;
        const portIds = ['out-a', 'out-b'];
        this.state = initialState(this.world, this.atMs);
        this.wakeMs = Infinity;
        this.command({ kind: 'resume', bookmark, awayMs: 50 });
        for (const portId of portIds) this.command({ kind: 'port-found', portId, isToldAgain: false });
        return null;
      }
    }
  }

  command(command: Extract<LiveEvent, { kind: 'command' }>['command']): void {
    this.event({ kind: 'command', atMs: this.atMs, command });
  }

  private hear(portId: string, message: Message): void {
    this.event({ kind: 'message', atMs: this.atMs, portId, message });
  }

  plugIn(): void {
    this.isRecalled = false;
    this.lost.clear();
    this.command({ kind: 'port-found', portId: 'out-a', isToldAgain: true });
  }

  releaseAll(): void {
    for (const note of this.down) this.hear('keys', noteOff(0, note));
    this.hear('keys', controller(0, 64, 0));
  }

  private pass(toMs: number): void {
    while (this.wakeMs <= toMs) {
      this.atMs = Math.max(this.atMs, this.wakeMs);
      this.took(step(this.world, this.state, { kind: 'tick', atMs: this.atMs }));
    }
    this.atMs = toMs;
  }

  private event(event: LiveEvent): void {
    this.pass(event.atMs);
    this.took(step(this.world, structuredClone(this.state), event));
  }

  private took(done: { world?: World; state: LiveState; effects: readonly Effect[] }): void {
    if (done.world) this.world = done.world;
    this.state = done.state;
    this.wakeMs = Infinity;
    for (const effect of done.effects) {
      if (effect.kind === 'wake') this.wakeMs = effect.atMs;
      if (effect.kind === 'note') this.isRecalled ||= ['recalled', 'panic'].includes(effect.note.code);
      if (effect.kind !== 'send' || this.lost.has(effect.portId)) continue;
      const bytes = encode(effect.message);
      this.gear[effect.portId as 'out-a'].take(bytes);
      if (effect.portId === 'out-b') this.hearArming(bytes);
    }
  }

  /**
   * The host arms a track by either of two messages. Source: MIDI Machine Control, RP-013, masked write of track 1 by
   * `00 20 20` (from memory).
   */
  private hearArming(bytes: ArrayLike<number>): void {
    const [status, number, value] = [bytes[0]!, bytes[1]!, bytes[2]!];
    if (status === 0xb0 && number === 102) this.armed.set('Bow', value >= 64);
    if (status === 0xb0 && number === 103) this.armed.set('Voice', value >= 64);
    const at = 7;
    if (status === 0xf0 && bytes[4] === 0x41 && bytes[at] === 0 && bytes[at + 1] === 0x20)
      this.armed.set('Bow', bytes[at + 2] === 0x20);
  }

  /** Waits until everything stands, and compares. */
  settle(when: string): string | null {
    for (let i = 0; i < 400 && this.wakeMs < Infinity; i++) this.pass(Math.max(this.atMs, this.wakeMs));
    return this.unlikeKnown(when) ?? this.unlikeScene(when);
  }

  /** What is known has to be what the receiver holds, for every register. */
  private unlikeKnown(when: string): string | null {
    for (const [key, value] of Object.entries(this.state.registers)) {
      if (value === null) continue;
      const [deviceId, channel, name] = key.split('/') as [string, string, string];
      const held =
        channel === 'track'
          ? Number(this.armed.get(name) ?? null)
          : heldAt(this.receiverOf(deviceId), Number(channel), name);
      if (held !== undefined && held !== value)
        return `${when}: ${key} is told as ${value} and holds ${held}`;
    }
    return null;
  }

  /** What the scene in play says has to be what the receiver holds. */
  private unlikeScene(when: string): string | null {
    const { songIndex, sceneIndex } = placeOf(this.world, this.state);
    if (sceneIndex === null || !this.isRecalled) return null;
    for (const [id, { value }] of this.world.songs[songIndex]!.cells[sceneIndex]!) {
      const reached = this.world.functions.get(id)!;
      const { fn, device } = reached;
      if (fn.shape.kind === 'trigger' || this.lost.has(reached.path!.portId)) continue;
      if (fn.arms !== null) {
        if (this.armed.get(fn.arms) !== (value === 1)) return `${when}: ${fn.arms} is to be armed: ${value}`;
        continue;
      }
      for (const [channel, name, wanted] of wantedOf(device, fn, value)) {
        const held = heldAt(this.receiverOf(device.id), channel, name);
        if (held !== wanted)
          return `${when}: ${id} is to be ${value}, so ${name} ${wanted}, and holds ${String(held)}`;
      }
    }
    return null;
  }

  private receiverOf(deviceId: string): Receiver {
    return deviceId === 'gear' ? this.gear['out-a'] : this.gear['out-b'];
  }

  /** Notes that sound after panic, but for those that the scene in play holds by a row of its own. */
  hanging(): string | null {
    for (const { channels } of Object.values(this.gear))
      for (const { notes } of channels)
        for (const note of notes.keys()) if (note !== 60) return `note ${note} hangs`;
    return null;
  }
}

/** What a receiver holds in a place; `undefined` where it cannot say. */
function heldAt(receiver: Receiver, channel: number, name: string): number | null | undefined {
  const at = receiver.channels[channel]!;
  const [kind, number] = name.split(' ') as [string, string];
  switch (kind) {
    case 'cc':
      return at.controllers[Number(number)];
    case 'bank':
      return number === 'msb' ? at.bankMsb : at.bankLsb;
    case 'program':
      return at.program;
    case 'rpn':
    case 'nrpn':
      return at.parameters.get(name) ?? null;
    case 'bend':
      return at.bend;
    case 'pressure':
      return at.pressure;
    case 'note':
      return at.notes.get(Number(number)) ?? 0;
    default:
      return undefined;
  }
}

/** What a row set to a value has to leave in its device, by the standard: channel, place and number. */
function wantedOf(device: Device, fn: ChartFunction, value: number): (readonly [number, string, number])[] {
  const { drive, shape } = fn;
  const ch = device.channel;
  const bank = (number: number): (readonly [number, string, number])[] => [
    ...(device.bankSelect === 'both' || device.bankSelect === 'msb'
      ? [[ch, 'bank msb', number >> 7] as const]
      : []),
    ...(device.bankSelect === 'both' || device.bankSelect === 'lsb'
      ? [[ch, 'bank lsb', number & 127] as const]
      : []),
  ];
  const sent =
    shape.kind === 'switch'
      ? value === 1
        ? shape.on
        : shape.off
      : shape.kind === 'choice' && shape.sent
        ? shape.sent[value]!
        : value;
  switch (drive.kind) {
    case 'program':
      return [...(drive.bank === null ? [] : bank(drive.bank)), [ch, 'program', value]];
    case 'sound':
      return [...bank(value >> 7), [ch, 'program', value & 127]];
    case 'controller':
      return [[ch, `cc ${drive.controller}`, sent]];
    case 'controller-14':
      return [
        [ch, `cc ${drive.controller}`, value >> 7],
        [ch, `cc ${drive.controller + 32}`, value & 127],
      ];
    case 'parameter':
      return [[ch, `nrpn ${drive.parameter}`, drive.bits === 14 ? value : value << 7]];
    case 'pitch-bend':
      return [[ch, 'bend', value]];
    case 'channel-pressure':
      return [[ch, 'pressure', value]];
    case 'note':
      return [[ch, `note ${drive.note}`, sent]];
    default:
      return [];
  }
}
