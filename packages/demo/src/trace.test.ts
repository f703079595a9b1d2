import type { FullRig, Route } from '@idle-step/core/routing';
import { type Preset, type Assignment, type Action, ACTION_LISTS } from '@idle-step/core/floor';
import type { Song } from '@idle-step/core/show';
import { type Device, writesOf, type Registers } from '@idle-step/core/gear';
import { compileWorld, initialState, step, type LiveState, type World } from '@idle-step/core/engine';
import {
  controller,
  noteOff,
  noteOn,
  pitchBend,
  program,
  realTime,
  type Message,
} from '@idle-step/core/midi';
import {
  lossesOf,
  moversOf,
  trace,
  type HopStage,
  type LossReason,
  type PortNow,
  type TraceStart,
} from '@idle-step/core/proof';
import { describe, expect, it } from 'vitest';
import { demoControl, demoFunction, DEMO_PORT as PORT, demoPresets, demoRig, demoSongs } from './index';

/** Slow Ferry alone: five scenes, so that every switch of the board has somewhere to go. */
const ferry = demoSongs.find((s) => s.name === 'Slow Ferry')!;
const INTRO = 0;
const CHORUS = 2;

/** Registers as they are after a function was told a value. */
function told(deviceName: string, name: string, value: number): Registers {
  const device = demoRig.devices.find((d) => d.name === deviceName)!;
  const fn = device.chart.find((f) => f.id === demoFunction(deviceName, name))!;
  return Object.fromEntries(writesOf(device, fn, value).map((w) => [w.key, w.value]));
}

/** The demo rig, to be spoiled in one place. */
type Draft = {
  rig: Editable<FullRig>;
  presets: Editable<Preset>[];
  songs: Editable<Song>[];
  device(name: string): Editable<Device>;
  assignment(control: string, bank?: number): Editable<Assignment>;
  route(name: string): Editable<Route>;
};
type Editable<T> = { -readonly [K in keyof T]: Editable<T[K]> };
const editable = <T>(doc: T): Editable<T> => structuredClone(doc) as Editable<T>;

function draftOf(): Draft {
  const rig = editable(demoRig);
  const presets = demoPresets.map((p) => editable(p));
  return {
    rig,
    presets,
    songs: [editable(ferry)],
    device: (name) => rig.devices.find((d) => d.name === name)!,
    assignment: (control, bank = 0) =>
      presets
        .find((p) => p.banks.some((b) => b.assignments.some((a) => a.controlId === demoControl(control))))!
        .banks[bank]!.assignments.find((a) => a.controlId === demoControl(control))!,
    route: (name) => rig.routing.routes.find((r) => r.name === name)!,
  };
}

/** In the middle of the song, long after the last program change. */
const NOW_MS = 3000;

function playing({ rig, presets, songs }: Draft, sceneIndex = INTRO): { world: World; state: LiveState } {
  const world = compileWorld({ rig, presets, setName: '', songs });
  const go = { kind: 'go', songIndex: 0, sceneIndex } as const;
  const first = step(world, initialState(world, 0), { kind: 'command', atMs: 0, command: go }).state;
  return { world, state: step(world, first, { kind: 'tick', atMs: NOW_MS }).state };
}

const press = (control: string): TraceStart => ({
  kind: 'gesture',
  controlId: demoControl(control),
  gesture: 'press',
});
const sweep = (control: string, travel = 90): TraceStart => ({
  kind: 'sweep',
  controlId: demoControl(control),
  travel,
});
const arrives = (message: Message, portId: string = PORT.crossbarIn2): TraceStart => ({
  kind: 'message',
  portId,
  message,
});
/** A note of the little keys, by the spare input. */
const key = (note = 60): TraceStart => arrives(noteOn(13, note, 90));

const row = (draft: Draft, device: string, name: string) =>
  draft.device(device).chart.find((f) => f.name === name)!;

const added = (action: Record<string, unknown>): Editable<Action> =>
  ({ id: '00000000-0000-4000-8000-0000000000aa', ...action }) as Editable<Action>;

type Fault = {
  name: string;
  plant(draft: Draft): void;
  start: TraceStart;
  expected: [HopStage, LossReason];
  state?(state: LiveState): Partial<LiveState>;
  ports?: Record<string, PortNow>;
  scene?: number;
  /** A way beside the lost one is allowed to arrive. */
  mend?: string;
};
const nothing = (): void => undefined;
const cut = (draft: Draft, to: string): void => {
  draft.rig.cables = draft.rig.cables.filter((c) => c.toPortId !== to);
};

const FAULTS: Fault[] = [
  // Ports
  {
    name: 'the input of the board is not enabled',
    plant: (d) => void (d.device('Crossbar').ports[0]!.plays = false),
    start: press('far 1'),
    expected: ['port', 'port-off'],
    mend: 'enable-port',
  },
  {
    name: 'the output is not enabled',
    plant: (d) => void (d.device('Crossbar').ports[2]!.plays = false),
    start: press('far 1'),
    expected: ['port', 'port-off'],
    mend: 'enable-port',
  },
  {
    name: 'the output is not enabled, for a pedal',
    plant: (d) => void (d.device('Crossbar').ports[2]!.plays = false),
    start: sweep('pedal 1'),
    expected: ['port', 'port-off'],
    mend: 'enable-port',
  },
  {
    name: 'the output is not enabled, for a route',
    plant: (d) => void (d.device('Crossbar').ports[3]!.plays = false),
    start: arrives(controller(0, 30, 9)),
    expected: ['port', 'port-off'],
  },
  {
    name: 'the spare input is not enabled',
    plant: (d) => void (d.device('Crossbar').ports[1]!.plays = false),
    start: key(),
    expected: ['port', 'port-off'],
  },
  {
    name: 'the hardware of the input was pulled out',
    plant: nothing,
    ports: { [PORT.crossbarIn1]: 'absent' },
    start: press('far 1'),
    expected: ['port', 'port-absent'],
    mend: 'look',
  },
  {
    name: 'no hardware is bound to the input',
    plant: nothing,
    ports: { [PORT.crossbarIn1]: 'unfed' },
    start: press('far 1'),
    expected: ['port', 'unfed'],
    mend: 'look',
  },
  {
    name: 'the hardware of the output was pulled out',
    plant: nothing,
    ports: { [PORT.crossbarOutA]: 'absent' },
    start: press('far 1'),
    expected: ['port', 'port-absent'],
  },
  {
    name: 'the host of the tracks is gone',
    plant: nothing,
    ports: { [PORT.deckhouseIn]: 'absent' },
    start: press('far 2'),
    expected: ['port', 'port-absent'],
  },
  // Cables and hosts
  {
    name: 'no cable from the board',
    plant: (d) => cut(d, PORT.crossbarIn1),
    start: press('far 1'),
    expected: ['cable', 'no-cable'],
    mend: 'look',
  },
  {
    name: 'no cable to the processor',
    plant: (d) => cut(d, PORT.kelplineIn),
    start: press('far 1'),
    expected: ['cable', 'no-cable'],
  },
  {
    name: 'no cable to the processor, for a pedal',
    plant: (d) => cut(d, PORT.kelplineIn),
    start: sweep('pedal 2'),
    expected: ['cable', 'no-cable'],
  },
  {
    name: 'nothing behind the second output',
    plant: (d) => cut(d, PORT.sluiceIn),
    start: arrives(controller(0, 30, 9)),
    expected: ['cable', 'no-cable'],
  },
  {
    name: 'the small board hangs on no host',
    plant: (d) => void (d.device('Twig 4').ports[0]!.atComputer = false),
    start: press('switch 3'),
    expected: ['cable', 'no-host'],
  },
  {
    name: 'the host of the tracks is a USB device without a host',
    plant: (d) => void Object.assign(d.device('Deckhouse').ports[0]!, { atComputer: false, link: 'usb' }),
    start: press('far 2'),
    expected: ['cable', 'no-host'],
  },
  {
    name: 'the board is packed away',
    plant: (d) => void (d.device('Plank 10').away = true),
    start: press('far 1'),
    expected: ['device', 'away'],
    mend: 'unpack',
  },
  {
    name: 'the processor is packed away',
    plant: (d) => void (d.device('Kelpline').away = true),
    start: press('far 1'),
    expected: ['device', 'away'],
  },
  // Banks, gestures and actions
  {
    name: 'the wrong bank',
    plant: (d) => void (d.assignment('near 4').press = []),
    start: press('near 4'),
    expected: ['action', 'other-bank'],
    mend: 'bank',
  },
  {
    name: 'the wrong bank, for a pedal',
    plant: (d) => void (d.assignment('pedal 1').sweeps = []),
    start: sweep('pedal 1'),
    expected: ['action', 'other-bank'],
    mend: 'bank',
  },
  {
    name: 'nothing assigned in any bank',
    plant: (d) => void d.presets[0]!.banks.forEach((_, i) => (d.assignment('far 1', i).press = [])),
    start: press('far 1'),
    expected: ['action', 'nothing-assigned'],
  },
  {
    name: 'another gesture',
    plant: (d) =>
      void Object.assign(d.assignment('switch 3'), { hold: d.assignment('switch 3').press, press: [] }),
    start: press('switch 3'),
    expected: ['action', 'no-such-gesture'],
  },
  {
    name: 'a hold on a latching switch',
    plant: (d) => {
      d.rig.boards[0]!.controls.find((c) => c.name === 'far 1')!.hardware.switching = 'latching';
    },
    start: { ...press('far 1'), gesture: 'hold' } as TraceStart,
    expected: ['gesture', 'latching'],
  },
  {
    name: 'an action that is switched off',
    plant: (d) => void (d.assignment('far 1').press[0]!.isOff = true),
    start: press('far 1'),
    expected: ['action', 'action-off'],
  },
  {
    name: 'a function that is gone',
    plant: (d) =>
      void (d.device('Kelpline').chart = d.device('Kelpline').chart.filter((f) => f.name !== 'Drive')),
    start: press('far 1'),
    expected: ['function', 'gone'],
  },
  {
    name: 'a bank that is gone',
    plant: (d) =>
      void (d.assignment('far 5').press = [added({ kind: 'bank', to: { kind: 'bank', bankId: 'none' } })]),
    start: press('far 5'),
    expected: ['action', 'gone'],
  },
  {
    name: 'a route that is gone',
    plant: (d) =>
      void (d.assignment('far 5').press = [
        added({ kind: 'route', routeId: 'none', part: 'gate', to: 'toggle' }),
      ]),
    start: press('far 5'),
    expected: ['route', 'gone'],
  },
  {
    name: 'a device that is gone',
    plant: (d) =>
      void (d.assignment('far 5').press = [
        added({ kind: 'message', deviceId: 'none', send: 'controller', channel: null, number: 1, value: 1 }),
      ]),
    start: press('far 5'),
    expected: ['device', 'gone'],
  },
  {
    name: 'a scene that the song does not have',
    plant: (d) => void d.songs[0]!.scenes.splice(3),
    start: press('near 4'),
    expected: ['action', 'nowhere-to-go'],
  },
  {
    name: 'no song at all',
    plant: (d) => void (d.songs = []),
    start: press('near 1'),
    expected: ['action', 'nowhere-to-go'],
  },
  {
    name: 'a pedal that waits for pickup',
    plant: (d) => void (d.assignment('pedal 1').response.takeover = 'pickup'),
    start: sweep('pedal 1', 40),
    state: (s) => ({
      registers: { ...s.registers, ...told('Kelpline', 'Volume', 100) },
      pedals: { ...s.pedals, [demoControl('pedal 1')]: 0 },
    }),
    expected: ['action', 'waits-for-pickup'],
  },
  // Devices
  {
    name: 'a number that the device keeps',
    plant: (d) => void (row(d, 'Kelpline', 'Drive').reserved = true),
    start: press('far 1'),
    expected: ['function', 'reserved'],
  },
  {
    name: 'a number that the device keeps, from the bench',
    plant: (d) =>
      void Object.assign(d.route('Knobs of the old desk'), {
        to: [{ portId: PORT.crossbarOutA, channel: 2 }],
        change: { ...d.route('Knobs of the old desk').change, numbers: [{ kind: null, from: 30, to: 102 }] },
      }),
    start: arrives(controller(0, 30, 1)),
    expected: ['function', 'reserved'],
  },
  {
    name: 'a function of the other mode',
    plant: (d) => void (row(d, 'Kelpline', 'Drive').under = 'free'),
    start: press('far 1'),
    expected: ['function', 'other-mode'],
    mend: 'setting',
  },
  {
    name: 'a knob of the other mode',
    plant: (d) => void (row(d, 'Kelpline', 'Volume').under = 'free'),
    start: sweep('pedal 1'),
    expected: ['function', 'other-mode'],
    mend: 'setting',
  },
  {
    name: 'a value outside the choice',
    plant: (d) =>
      void (d.assignment('far 1').press = [
        added({ kind: 'set', functionId: demoFunction('Kelpline', 'Snapshot'), value: 8 }),
      ]),
    start: press('far 1'),
    expected: ['function', 'value-refused'],
  },
  {
    name: 'a value outside the choice, by a route',
    plant: (d) =>
      void Object.assign(d.route('Knobs of the old desk'), {
        to: [{ portId: PORT.crossbarOutA, channel: 2 }],
        change: { ...d.route('Knobs of the old desk').change, numbers: [{ kind: null, from: 30, to: 22 }] },
      }),
    start: arrives(controller(0, 30, 9)),
    expected: ['function', 'value-refused'],
  },
  {
    name: 'a plain message on the wrong channel',
    plant: (d) =>
      void (d.assignment('far 1').press = [
        added({
          kind: 'message',
          deviceId: d.device('Kelpline').id,
          send: 'controller',
          channel: 9,
          number: 24,
          value: 127,
        }),
      ]),
    start: press('far 1'),
    expected: ['device', 'wrong-channel'],
  },
  {
    name: 'a route to the wrong channel',
    plant: (d) => void (d.route('Knobs of the old desk').change.channel = { kind: 'force', channel: 5 }),
    start: arrives(controller(0, 30, 9)),
    expected: ['device', 'wrong-channel'],
  },
  {
    name: 'the board on another channel than written',
    plant: nothing,
    start: arrives(controller(3, 36, 127), PORT.crossbarIn1),
    expected: ['message', 'wrong-channel'],
  },
  {
    name: 'a controller that the device has no function for',
    plant: (d) =>
      void (d.assignment('far 1').press = [
        added({
          kind: 'message',
          deviceId: d.device('Kelpline').id,
          send: 'controller',
          channel: null,
          number: 99,
          value: 127,
        }),
      ]),
    start: press('far 1'),
    expected: ['function', 'no-function'],
  },
  {
    name: 'a device that is deaf',
    plant: nothing,
    state: () => ({ listensFromMs: { [demoRig.devices.find((d) => d.name === 'Sluice')!.id]: NOW_MS + 30 } }),
    start: arrives(controller(0, 30, 9)),
    expected: ['device', 'deaf'],
  },
  {
    name: 'no track armed for a note',
    plant: nothing,
    state: (s) => ({
      registers: { ...s.registers, ...told('Deckhouse', 'Arm Bow', 0) },
    }),
    start: key(),
    expected: ['effect', 'not-armed'],
    mend: 'set',
  },
  {
    name: 'an inverted switch',
    plant: (d) => void (row(d, 'Kelpline', 'Drive').shape = { kind: 'switch', off: 127, on: 0 }),
    start: press('far 1'),
    expected: ['effect', 'inverted'],
  },
  {
    name: 'an inverted mute',
    plant: (d) => void (row(d, 'Deckhouse', 'Mute Bow').shape = { kind: 'switch', off: 127, on: 0 }),
    start: press('near 3'),
    state: () => ({
      banks: {
        [demoRig.boards[0]!.id]: demoPresets.find((p) => p.id === demoRig.boards[0]!.presetId)!.banks[2]!.id,
      },
    }),
    expected: ['effect', 'inverted'],
  },
  // Routes and gates
  {
    name: 'a gate closed by its scene',
    plant: (d) => void (d.route('Keys play the hum').after = 'stop'),
    scene: CHORUS,
    start: key(),
    expected: ['route', 'gate-closed'],
    mend: 'look',
  },
  {
    name: 'a gate that starts closed for its controller',
    plant: (d) =>
      void (d.route('Knobs of the old desk').gate = {
        by: { kind: 'controller', portId: null, channel: null, controller: 20, from: 64, to: 127 },
        startsOpen: false,
        holds: [],
        others: 'pass',
      }),
    start: arrives(controller(0, 30, 9)),
    expected: ['route', 'gate-closed'],
    mend: 'route',
  },
  {
    name: 'a gate that a switch opens',
    plant: (d) =>
      void (d.route('Knobs of the old desk').gate = {
        by: { kind: 'switch' },
        startsOpen: false,
        holds: ['controller'],
        others: 'pass',
      }),
    start: arrives(controller(0, 31, 9)),
    expected: ['route', 'gate-closed'],
    mend: 'route',
  },
  {
    name: 'a gate that a function closed',
    plant: (d) =>
      void (d.route('Knobs of the old desk').gate = {
        by: { kind: 'function', functionId: demoFunction('Kelpline', 'Snapshot'), from: 3, to: 7 },
        startsOpen: true,
        holds: [],
        others: 'pass',
      }),
    start: arrives(controller(0, 30, 9)),
    expected: ['route', 'gate-closed'],
  },
  {
    name: 'a gate that stops this kind',
    plant: (d) =>
      void (d.route('Knobs of the old desk').gate = {
        by: { kind: 'switch' },
        startsOpen: true,
        holds: ['note'],
        others: 'stop',
      }),
    start: arrives(controller(0, 30, 9)),
    expected: ['route', 'kind-stopped'],
  },
  {
    name: 'a route that is off',
    plant: (d) => void (d.route('Knobs of the old desk').isOn = false),
    start: arrives(controller(0, 30, 9)),
    expected: ['route', 'route-off'],
    mend: 'route',
  },
  {
    name: 'a route switched off by hand',
    plant: nothing,
    state: (s) => ({
      routes: {
        ...s.routes,
        switched: { [demoRig.routing.routes.find((r) => r.name === 'Knobs of the old desk')!.id]: false },
      },
    }),
    start: arrives(controller(0, 30, 9)),
    expected: ['route', 'route-off'],
  },
  {
    name: 'a note moved out of range',
    plant: (d) => void (d.route('Bend and notes of the little keys').change.transpose = 100),
    start: key(60),
    expected: ['route', 'out-of-range'],
  },
  {
    name: 'a route without destination',
    plant: (d) => void (d.route('Knobs of the old desk').to = []),
    start: arrives(controller(0, 30, 9)),
    expected: ['route', 'no-destination'],
  },
  {
    name: 'a route to a port that is gone',
    plant: (d) => void (d.route('Knobs of the old desk').to = [{ portId: 'gone', channel: null }]),
    start: arrives(controller(0, 30, 9)),
    expected: ['port', 'gone'],
  },
  {
    name: 'a controller that no route takes in',
    plant: nothing,
    start: arrives(controller(0, 33, 9)),
    expected: ['route', 'filtered'],
  },
  {
    name: 'a note on a channel that no route takes in',
    plant: nothing,
    start: arrives(noteOn(0, 60, 9)),
    expected: ['route', 'filtered'],
  },
  {
    name: 'a program that nobody listens for',
    plant: nothing,
    start: arrives(program(15, 9), PORT.crossbarIn1),
    expected: ['route', 'filtered'],
  },
  {
    name: 'lines that feed each other',
    plant: (d) => {
      d.route('Bend and notes of the little keys').from.portIds.push(PORT.keys);
      d.rig.routing.routes.splice(1, 3);
    },
    start: key(),
    expected: ['route', 'loop'],
  },
];

describe('a trace names the hop at which it is lost', () => {
  it('for at least forty planted faults, of every reason', () => {
    expect(FAULTS.length).toBeGreaterThanOrEqual(40);
    const reasons: Record<LossReason, true> = {
      'port-absent': true,
      unfed: true,
      'port-off': true,
      away: true,
      'no-cable': true,
      'no-host': true,
      'other-bank': true,
      'nothing-assigned': true,
      'no-such-gesture': true,
      latching: true,
      'action-off': true,
      'waits-for-pickup': true,
      gone: true,
      'nowhere-to-go': true,
      'gate-closed': true,
      'kind-stopped': true,
      'route-off': true,
      'out-of-range': true,
      filtered: true,
      'no-destination': true,
      loop: true,
      reserved: true,
      'other-mode': true,
      'value-refused': true,
      'wrong-channel': true,
      'no-function': true,
      deaf: true,
      'not-armed': true,
      inverted: true,
    };
    expect([...new Set(FAULTS.map((f) => f.expected[1]))].sort()).toEqual(Object.keys(reasons).sort());
  });

  it.each(FAULTS.map((f) => [f.name, f] as const))('%s', (_, fault) => {
    const draft = draftOf();
    fault.plant(draft);
    const { world, state } = playing(draft, fault.scene);
    const spoiled = { ...state, ...fault.state?.(state) };
    const portNow = (id: string): PortNow => fault.ports?.[id] ?? 'open';
    const losses = lossesOf(trace(world, spoiled, fault.start, NOW_MS, portNow));
    expect(losses.map((l) => [l.stage, l.reason])).toContainEqual(fault.expected);
    expect(new Set(losses.map((l) => l.reason))).toEqual(new Set([fault.expected[1]]));
    const found = losses.find((l) => l.reason === fault.expected[1])!;
    expect(found.sentence).toMatch(/[.]$/);
    if (fault.mend) expect(found.mend?.kind).toBe(fault.mend);
  });
});

describe('the sound demo rig', () => {
  it('loses nothing: every gesture and sweep of every bank, and the keys in every scene', () => {
    let traced = 0;
    const found: string[] = [];
    for (let scene = 1; scene < ferry.scenes.length - 1; scene++) {
      const { world, state } = playing(draftOf(), scene);
      for (const { board, banks } of world.boards)
        banks.forEach((page) => {
          const here = { ...state, banks: { ...state.banks, [board.id]: page.bank.id } };
          for (const { controlId, sweeps, ...lists } of page.bank.assignments) {
            const starts: TraceStart[] = ACTION_LISTS.filter((g) => lists[g].length > 0).map((gesture) => ({
              kind: 'gesture',
              controlId,
              gesture,
            }));
            if (sweeps.length > 0) starts.push({ kind: 'sweep', controlId, travel: 90 });
            for (const start of starts) {
              traced++;
              const done = trace(world, here, start, NOW_MS);
              // What sends nothing because all is so already arrives all the same.
              expect(done.ways.length).toBeGreaterThan(0);
              found.push(...lossesOf(done).map((l) => `${page.bank.name} ${controlId}: ${l.sentence}`));
            }
          }
        });
    }
    // “Song on” has no song after the only one.
    expect(found.filter((s) => !s.includes('last scene of the last song'))).toEqual([]);
    expect(traced).toBeGreaterThan(100);
  });

  it.each<[string, Message]>([
    ['the little keys', noteOn(13, 60, 90)],
    ['the end of a note', noteOff(13, 60)],
    ['their bend', pitchBend(13, 9000)],
    ['the knobs of the old desk', controller(4, 31, 90)],
  ])('loses nothing of %s where its scene lets it through', (_, message) => {
    const { world, state } = playing(draftOf(), INTRO);
    const held = step(world, state, {
      kind: 'message',
      atMs: NOW_MS,
      portId: PORT.crossbarIn2,
      message: noteOn(13, 60, 90),
    }).state;
    const losses = lossesOf(
      trace(world, message.kind === 'note-off' ? held : state, arrives(message), NOW_MS),
    );
    // The gate of the bells is closed in this scene: no loss, since the hum hears the note.
    expect(losses).toEqual([]);
  });

  it('goes hop by hop from the switch to the effect', () => {
    const { world, state } = playing(draftOf());
    const { stem, ways, loss } = trace(world, state, press('far 3'), NOW_MS);
    expect(loss).toBeNull();
    expect(stem.map((h) => `${h.stage} ${h.title}`)).toEqual(['control Plank 10 far 3', 'gesture press']);
    expect(ways.map((w) => w.hops.map((h) => `${h.stage} ${h.title} ${h.detail}`.trim()))).toEqual([
      [
        'action toggle Kelpline Echo',
        'message Ch 3 CC 27 = 0 B2 1B 00',
        'port Crossbar Out A DIN',
        'cable Crossbar → Kelpline one cable',
        'device Kelpline channel 3',
        'function Echo off',
        'effect Kelpline Echo off',
      ],
      [
        'action Kelpline Reverb mix: 88',
        'message Ch 3 CC 91 = 88 B2 5B 58',
        'port Crossbar Out A DIN',
        'cable Crossbar → Kelpline one cable',
        'device Kelpline channel 3',
        'function Reverb mix 88',
        'effect Kelpline Reverb mix 88',
      ],
    ]);
  });

  it('changes nothing by being traced', () => {
    const { world, state } = playing(draftOf());
    const before = structuredClone(state);
    trace(world, state, press('near 3'), NOW_MS);
    trace(world, state, key(), NOW_MS);
    expect(state).toEqual(before);
  });

  it('lets the clock pass without a word', () => {
    const { world, state } = playing(draftOf());
    expect(lossesOf(trace(world, state, arrives(realTime('clock')), NOW_MS)).map((l) => l.reason)).toEqual([
      'filtered',
    ]);
  });
});

describe('backwards', () => {
  it('finds every control, scene and route that can move a function', () => {
    const { world } = playing(draftOf());
    const words = moversOf(world, demoFunction('Kelpline', 'Reverb mix')).map((m) =>
      m.kind === 'control'
        ? `${m.pageName}, ${m.controlName}, ${m.gesture}`
        : m.kind === 'scene'
          ? `${m.songName}, ${m.sceneName}: ${m.value}`
          : m.routeName,
    );
    expect(words).toEqual([
      'Crossing, far 3, press',
      'Crossing, pedal 2, sweep',
      'Snapshots, pedal 2, sweep',
      'Sound check, pedal 2, sweep',
      'Slow Ferry, Intro: 40',
      'Slow Ferry, Chorus: 88',
      'Slow Ferry, Outro: 112',
      'Wash under low notes',
    ]);
  });

  it('and routes by what they make of what they take in', () => {
    const { world } = playing(draftOf());
    const routes = (device: string, fn: string) =>
      moversOf(world, demoFunction(device, fn)).flatMap((m) => (m.kind === 'route' ? m.routeName : []));
    const sluice = demoRig.devices.find((d) => d.name === 'Sluice')!.chart;
    const level = sluice.find((f) => f.drive.kind === 'controller' && f.drive.controller === 7)!;
    expect(routes('Sluice', level.name)).toEqual(['Knobs of the old desk']);
    expect(routes('Kelpline', 'Drive')).toEqual([]);
  });
});
