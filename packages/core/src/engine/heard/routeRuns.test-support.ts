import fc from 'fast-check';
import {
  channelPressure,
  controller,
  endsNote,
  noteOff,
  noteOn,
  pitchBend,
  program,
  type Message,
} from '../../midi';
import { PLAIN_CHANGE, PLAIN_MODULATION, PLAIN_ROUTE, type Route, type Routing } from '../../routing';
import { PLAIN_SCENE, PLAIN_SONG, type Song } from '../../show';
import { makeDevice, makePort, makeRig } from '../../testing.test-support';
import {
  changeShow,
  compileWorld,
  initialState,
  step,
  type Effect,
  type LiveEvent,
  type LiveState,
  type World,
} from '../index';

/** Random routes at random work, and what still sounds at the end. For tests and for the long run. */

const INPUTS = ['in a', 'in b'] as const;
const OUTPUTS = ['out a', 'out b'] as const;
const LINE = 'line';
const GATE_CONTROLLER = 20;

const rig = makeRig([
  makeDevice({
    role: 'carrier',
    id: 'box',
    ports: [
      ...INPUTS.map((id) => makePort({ id, direction: 'in', link: 'usb', atComputer: true })),
      ...OUTPUTS.map((id) => makePort({ id, direction: 'out', link: 'usb', atComputer: true })),
    ],
  }),
]);

const scene = (id: string) => ({ ...PLAIN_SCENE, id, name: id, values: [] });
const song: Song = {
  id: 'song',
  rigId: 'rig',
  name: 'Song',
  tempoBpm: 120,
  beatsPerBar: 4,
  lengthS: 60,
  ...PLAIN_SONG,
  scenes: [scene('verse'), scene('chorus')],
};

export const worldOf = (routing: Routing): World =>
  compileWorld({ rig: { ...rig, routing }, presets: [], setName: '', songs: [song] });

const note = fc.integer({ min: 58, max: 63 });
const channel = fc.integer({ min: 0, max: 1 });

const anyRoute: fc.Arbitrary<Omit<Route, 'id' | 'name'>> = fc.record({
  isOn: fc.boolean(),
  isLayer: fc.boolean(),
  from: fc.record({
    portIds: fc.subarray([...INPUTS, LINE]),
    channels: fc.subarray([0, 1]),
    kinds: fc.subarray(['note', 'controller', 'pitch-bend'] as const),
    numbers: fc.constantFrom([], [{ from: 58, to: 61 }], [{ from: 60, to: 64 }]),
    values: fc.constantFrom(null, { from: 20, to: 127 }),
  }),
  change: fc.record({
    numbers: fc.constantFrom([], [{ kind: 'note' as const, from: 60, to: 61 }]),
    transpose: fc.constantFrom(0, 0, 1, -60, 60),
    programShift: fc.constantFrom(0, 1, -100),
    channel: fc.constantFrom(
      { kind: 'keep' as const },
      { kind: 'force' as const, channel: 1 },
      { kind: 'shift' as const, by: 1 },
    ),
    as: fc.constantFrom(
      null,
      null,
      { kind: 'controller' as const, number: 30 },
      { kind: 'note' as const, number: null },
    ),
    value: fc.constantFrom(
      PLAIN_CHANGE.value,
      { curve: 'audio' as const, from: 0, to: 90, fixed: null },
      { curve: 'linear' as const, from: 0, to: 127, fixed: 64 },
    ),
  }),
  gate: fc.option(
    fc.record({
      by: fc.constantFrom(
        {
          kind: 'controller' as const,
          portId: null,
          channel: null,
          controller: GATE_CONTROLLER,
          from: 64,
          to: 127,
        },
        { kind: 'scenes' as const, sceneIds: ['chorus'] },
        { kind: 'switch' as const },
      ),
      startsOpen: fc.boolean(),
      holds: fc.subarray(['note', 'controller'] as const),
      others: fc.constantFrom('pass' as const, 'stop' as const),
    }),
  ),
  modulation: fc.option(fc.constant({ ...PLAIN_MODULATION, attackMs: 50, decayMs: 20, releaseMs: 40 }), {
    freq: 6,
  }),
  to: fc.array(fc.record({ portId: fc.constantFrom(...OUTPUTS, LINE), channel: fc.option(channel) }), {
    maxLength: 2,
  }),
  after: fc.constantFrom('stop' as const, 'pass' as const),
});

const anyRouting: fc.Arbitrary<Routing> = fc.record({
  lines: fc.constant([{ id: LINE, name: 'Line' }]),
  routes: fc
    .array(anyRoute, { maxLength: 4 })
    .map((list) => list.map((r, i): Route => ({ ...PLAIN_ROUTE, ...r, id: `r${i}`, name: `r${i}` }))),
  othersTo: fc.subarray([...OUTPUTS]),
});

type Deed =
  | { readonly kind: 'message'; readonly portId: string; readonly message: Message }
  | { readonly kind: 'edit'; readonly routing: Routing }
  | { readonly kind: 'scene'; readonly index: number }
  | { readonly kind: 'switch'; readonly routeId: string; readonly part: 'route' | 'gate' };

const anyDeed: fc.Arbitrary<Deed> = fc.oneof(
  {
    weight: 8,
    arbitrary: fc.record({
      kind: fc.constant('message' as const),
      portId: fc.constantFrom(...INPUTS),
      message: fc.oneof(
        {
          weight: 5,
          arbitrary: fc
            .tuple(channel, note, fc.integer({ min: 0, max: 127 }))
            .map(([c, n, v]) => noteOn(c, n, v)),
        },
        { weight: 3, arbitrary: fc.tuple(channel, note).map(([c, n]) => noteOff(c, n)) },
        fc.tuple(channel, fc.constantFrom(0, 63, 64, 127)).map(([c, v]) => controller(c, 64, v)),
        fc.tuple(channel, fc.constantFrom(0, 8192, 16383)).map(([c, v]) => pitchBend(c, v)),
        fc.tuple(channel, fc.constantFrom(0, 127)).map(([c, v]) => controller(c, GATE_CONTROLLER, v)),
        fc.tuple(channel, note).map(([c, n]) => program(c, n)),
        fc.tuple(channel, note).map(([c, n]) => channelPressure(c, n)),
      ),
    }),
  },
  fc.record({ kind: fc.constant('edit' as const), routing: anyRouting }),
  fc.record({ kind: fc.constant('scene' as const), index: fc.integer({ min: 0, max: 1 }) }),
  fc.record({
    kind: fc.constant('switch' as const),
    routeId: fc.constantFrom('r0', 'r1', 'r2'),
    part: fc.constantFrom('route' as const, 'gate' as const),
  }),
);

export const anyRun = fc.record({ routing: anyRouting, deeds: fc.array(anyDeed, { maxLength: 30 }) });

/** What a receiver would still hold: notes, dampers that are down, bends off their centre. */
export class Sounding {
  private readonly held = new Set<string>();

  take(portId: string, message: Message): void {
    switch (message.kind) {
      case 'note-on':
      case 'note-off':
        this.set(`${portId} ${message.channel} note ${message.note}`, !endsNote(message));
        return;
      case 'controller':
        if (message.controller === 64) this.set(`${portId} ${message.channel} damper`, message.value >= 64);
        return;
      case 'pitch-bend':
        this.set(`${portId} ${message.channel} bend`, message.value !== 8192);
        return;
      default:
    }
  }

  private set(key: string, isHeld: boolean): void {
    if (isHeld) this.held.add(key);
    else this.held.delete(key);
  }

  get list(): readonly string[] {
    return [...this.held];
  }
}

/** Plays a run, lets everything go at its end, and gives what sounds still. */
export function playRun({ routing, deeds }: { routing: Routing; deeds: readonly Deed[] }): readonly string[] {
  let world = worldOf(routing);
  let state: LiveState = initialState(world, 0);
  const sounding = new Sounding();
  let nowMs = 0;
  const take = (effects: readonly Effect[]): void => {
    for (const e of effects) if (e.kind === 'send') sounding.take(e.portId, e.message);
  };
  const run = (event: LiveEvent): void => {
    const done = step(world, structuredClone(state), event);
    state = done.state;
    take(done.effects);
  };
  // What the player holds down, and so what has to be let go.
  const down = new Map<string, { portId: string; end: Message }>();
  for (const deed of deeds) {
    nowMs += 70;
    switch (deed.kind) {
      case 'message':
        hold(down, deed.portId, deed.message);
        run({ kind: 'message', atMs: nowMs, portId: deed.portId, message: deed.message });
        break;
      case 'edit': {
        const next = changeShow(world, state, worldOf(deed.routing).show, nowMs);
        ({ world, state } = next);
        take(next.effects);
        break;
      }
      case 'scene':
        run({ kind: 'command', atMs: nowMs, command: { kind: 'go', songIndex: 0, sceneIndex: deed.index } });
        break;
      case 'switch':
        run({
          kind: 'command',
          atMs: nowMs,
          command: { kind: 'route', routeId: deed.routeId, part: deed.part, to: 'toggle' },
        });
        break;
    }
  }
  for (const { portId, end } of down.values()) run({ kind: 'message', atMs: ++nowMs, portId, message: end });
  run({ kind: 'tick', atMs: nowMs + 5000 });
  const leftInMemory = state.routes.begun.map((h) => `${h.portId} ${h.key}`);
  return [...sounding.list, ...leftInMemory];
}

function hold(down: Map<string, { portId: string; end: Message }>, portId: string, message: Message): void {
  const keep = (key: string, end: Message | null): void => {
    if (end) down.set(key, { portId, end });
    else down.delete(key);
  };
  switch (message.kind) {
    case 'note-on':
    case 'note-off': {
      const key = `${portId} ${message.channel} ${message.note}`;
      keep(key, endsNote(message) ? null : noteOff(message.channel, message.note));
      return;
    }
    case 'controller': {
      const { controller: number, value } = message;
      const isUp = value < (number === 64 ? 64 : 1);
      keep(`${portId} ${message.channel} cc ${number}`, isUp ? null : controller(message.channel, number, 0));
      return;
    }
    case 'channel-pressure':
      keep(
        `${portId} ${message.channel} pressure`,
        message.pressure === 0 ? null : channelPressure(message.channel, 0),
      );
      return;
    case 'pitch-bend':
      keep(
        `${portId} ${message.channel} bend`,
        message.value === 8192 ? null : pitchBend(message.channel, 8192),
      );
      return;
    default:
  }
}
