import {
  assumedValue,
  bankInForce,
  compileWorld,
  initialState,
  isLampLit,
  placeOf,
  step,
  valueOf,
  type Effect,
  type LiveEvent,
  type LiveState,
} from '@idle-step/core/engine';
import { shownText } from '@idle-step/core/gear';
import { controller, encode, endsNote, noteOff, noteOn, type Message } from '@idle-step/core/midi';
import { PLAIN_CURVES } from '@idle-step/core/floor';
import { partsOf, sceneCells, type Scene, type Song, type Transition } from '@idle-step/core/show';
import { feedStandIn, startStandIn, switchBytes, type StandInState } from '@idle-step/core/standins';
import { parseBytes } from '@idle-step/core/midi';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoControl, demoPresets, demoRig, demoSets, demoSongs, DEMO_PORT } from './index';

const inOrder = demoSets[0]!.entries.flatMap((e) =>
  e.kind === 'song' ? demoSongs.filter((s) => s.id === e.songId) : [],
);
const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: 'Lock 9 landing', songs: inOrder });
const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!;
const deckhouse = demoRig.devices.find((d) => d.name === 'Deckhouse')!;

/** Plays events into the world and what it sends into the stand-ins, waking up `lateMs` after it was asked to. */
class Evening {
  state: LiveState;
  effects: Effect[] = [];
  processor: StandInState = startStandIn('string-processor');
  host: StandInState = startStandIn('track-host');
  sent: { portId: string; message: Message }[] = [];
  private wakeMs = Infinity;
  constructor(
    private readonly lateMs = 0,
    private readonly of = world,
  ) {
    this.state = initialState(of, 0);
  }

  play(event: LiveEvent): void {
    while (this.wakeMs + this.lateMs < event.atMs) {
      const leavesMs = this.wakeMs + this.lateMs;
      this.run({ kind: 'tick', atMs: leavesMs, ...(this.lateMs > 0 ? { leavesMs } : {}) });
    }
    this.run(this.lateMs > 0 ? { ...event, leavesMs: event.atMs } : event);
  }
  press(name: string, atMs: number): void {
    const id = demoControl(name);
    const { control, boardIndex } = world.controls.get(id)!;
    const { device, path } = world.boards[boardIndex]!;
    for (const down of [true, false]) {
      const [message] = parseBytes(switchBytes(device.channel, control.sends, down)).messages;
      this.play({ kind: 'message', atMs, portId: path!.portId, message: message! });
    }
  }
  private run(event: LiveEvent): void {
    const { state, effects } = step(this.of, structuredClone(this.state), event);
    this.state = state;
    this.effects = effects;
    this.wakeMs = Infinity;
    for (const e of effects) {
      if (e.kind === 'wake') this.wakeMs = e.atMs;
      if (e.kind !== 'send') continue;
      this.sent.push({ portId: e.portId, message: e.message });
      if (e.portId === DEMO_PORT.crossbarOutA)
        this.processor = feedStandIn(this.processor, e.message, kelpline.channel, event.atMs);
      if (e.portId === DEMO_PORT.deckhouseIn)
        this.host = feedStandIn(this.host, e.message, deckhouse.channel, event.atMs);
    }
  }
}

describe('the evening, walked from the first scene to the last by presses of one switch', () => {
  it.each([0, 3, 31])(
    'with timers %i ms late, the gear is in every scene what the cue sheet says',
    (lateMs) => {
      const evening = new Evening(lateMs);
      let atMs = 1000;
      for (const song of inOrder) {
        partsOf(song).forEach((part) => {
          const i = song.scenes.findIndex((scene) => scene.id === part.sceneId);
          const scene = song.scenes[i]!;
          evening.press('near 5', atMs);
          // Longer than any glide of the demo.
          atMs += 20_000;
          evening.play({ kind: 'tick', atMs: atMs - 1 });
          expectGear(evening, song, i, `${song.name}, ${scene.name}`);
        });
      }
      expect(evening.processor).toMatchObject({ state: { missed: 0 } });
    },
  );

  it('jumping about at random ends with the gear as the last scene says', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(10), fc.nat(5), fc.integer({ min: 1, max: 90 })), {
          minLength: 1,
          maxLength: 12,
        }),
        fc.nat(20),
        (jumps, lateMs) => {
          const evening = new Evening(lateMs);
          let atMs = 0;
          let last: [number, number] = [0, 0];
          for (const [song, scene, waitMs] of jumps) {
            const songIndex = song % inOrder.length;
            const sceneIndex = scene % inOrder[songIndex]!.scenes.length;
            evening.play({ kind: 'command', atMs, command: { kind: 'go', songIndex, sceneIndex } });
            atMs += waitMs;
            last = [songIndex, sceneIndex];
          }
          evening.play({ kind: 'tick', atMs: atMs + 30_000 });
          const song = inOrder[last[0]]!;
          expectGear(evening, song, last[1], `${song.name} ${last[1]} after ${JSON.stringify(jumps)}`);
        },
      ),
      { seed: 71, numRuns: 300 },
    );
  });
});

/** Walks through made-up songs; as many as asked for where a longer run is wanted. */
const WALKS = Number(process.env['WALKS'] ?? 1000);

const anyTime = fc.oneof(
  fc.record({ amount: fc.constantFrom(0.25, 0.5, 1, 3), unit: fc.constant('s' as const) }),
  fc.record({ amount: fc.constantFrom(1, 4, 8), unit: fc.constant('beats' as const) }),
);
const anyTransition: fc.Arbitrary<Transition> = fc.record({
  time: anyTime,
  curve: fc.constantFrom(...PLAIN_CURVES),
  switchAt: fc.constantFrom(0, 0.5, 1),
});
const anyWay = fc.oneof(
  { weight: 4, arbitrary: fc.constant(null) },
  fc.constant({ kind: 'at-once' as const }),
  fc.record({ kind: fc.constant('glide' as const), time: anyTime, curve: fc.constantFrom(...PLAIN_CURVES) }),
);
const KNOBS = [
  ['Kelpline', 'Reverb mix', 127],
  ['Kelpline', 'Drive amount', 127],
  ['Kelpline', 'Snapshot', 7],
  ['Kelpline', 'Program', 40],
  ['Deckhouse', 'Arm Bow', 1],
  ['Deckhouse', 'Arm Hum', 1],
] as const;
const knobId = (device: string, fn: string) =>
  demoRig.devices.find((d) => d.name === device)!.chart.find((f) => f.name === fn)!.id;

const anyScene: fc.Arbitrary<Omit<Scene, 'id' | 'name'>> = fc.record({
  values: fc
    .uniqueArray(
      fc.record({
        knob: fc.nat(KNOBS.length - 1),
        share: fc.double({ min: 0, max: 1, noNaN: true }),
        way: anyWay,
      }),
      { selector: (v) => v.knob, maxLength: 4 },
    )
    .map((list) =>
      list.map(({ knob, share, way }) => ({
        functionId: knobId(KNOBS[knob]![0], KNOBS[knob]![1]),
        value: Math.round(share * KNOBS[knob]![2]),
        way,
      })),
    ),
  colour: fc.constant(null),
  remark: fc.constant(''),
  transition: fc.option(anyTransition),
  tempoBpm: fc.option(fc.integer({ min: 40, max: 240 })),
  banks: fc.constant([]),
  routes: fc.constant([]),
  armedFunctionIds: fc.option(
    fc.subarray(['Arm Bow', 'Arm Voice', 'Arm Hum'].map((n) => knobId('Deckhouse', n))),
    {
      freq: 3,
    },
  ),
  controls: fc.subarray<Scene['controls'][number]>([
    {
      boardId: demoRig.boards[0]!.id,
      controlId: demoRig.boards[0]!.controls.find((c) => c.kind === 'expression-pedal')!.id,
      kind: 'move',
      functionId: knobId('Kelpline', 'Drive amount'),
      from: 10,
      to: 90,
    },
    {
      boardId: demoRig.boards[0]!.id,
      controlId: demoRig.boards[0]!.controls.find((c) => c.kind === 'footswitch')!.id,
      kind: 'toggle',
      functionId: knobId('Deckhouse', 'Arm Bow'),
    },
  ]),
});

const anySong = (id: string): fc.Arbitrary<Song> =>
  fc
    .tuple(fc.array(anyScene, { minLength: 2, maxLength: 6 }), fc.array(fc.nat(5), { maxLength: 8 }))
    .map(([scenes, order]) => ({
      ...demoSongs[0]!,
      id,
      scenes: scenes.map((scene, i) => ({ ...scene, id: `${id}-${i}`, name: `Scene ${i + 1}` })),
      parts: order.map((n, i) => ({
        id: `${id}-p${i}`,
        sceneId: `${id}-${n % scenes.length}`,
        name: '',
        length: null,
        remark: '',
      })),
    }));

const anyMove = fc.oneof(
  { weight: 5, arbitrary: fc.constant({ kind: 'scene', to: 'next' } as const) },
  { weight: 2, arbitrary: fc.constant({ kind: 'scene', to: 'previous' } as const) },
  fc.constant({ kind: 'scene', to: 'again' } as const),
  fc.record({ kind: fc.constant('go' as const), songIndex: fc.nat(1), sceneIndex: fc.nat(1) }),
  fc.constant({ kind: 'song', to: 'next' } as const),
  fc.constant({ kind: 'song', to: 'previous' } as const),
  fc.constant({ kind: 'tap' } as const),
  fc.constant({ kind: 'lamps' } as const),
  fc.constant({ kind: 'port-lost', portId: DEMO_PORT.crossbarIn1 } as const),
);

describe('random walks through songs with glides, parts that come again and changes of tempo', () => {
  it('end with the gear as the sheet says of the scene in play, whatever way led there', () => {
    fc.assert(
      fc.property(
        anySong('x'),
        anySong('y'),
        fc.array(fc.tuple(anyMove, fc.integer({ min: 1, max: 1500 })), { minLength: 1, maxLength: 14 }),
        (x, y, moves) => {
          const songs = [x, y];
          const of = compileWorld({ rig: demoRig, presets: demoPresets, setName: 'Walk', songs });
          const evening = new Evening(0, of);
          let atMs = 1000;
          for (const [command, waitMs] of moves) {
            evening.play({ kind: 'command', atMs, command });
            atMs += waitMs;
          }
          evening.play({ kind: 'tick', atMs: atMs + 60_000 });
          expect(evening.state.ramps).toEqual([]);
          const { songIndex, sceneIndex } = placeOf(of, evening.state);
          if (sceneIndex !== null) expectGear(evening, songs[songIndex]!, sceneIndex, JSON.stringify(moves));
        },
      ),
      { seed: 1211, numRuns: WALKS },
    );
  });
});

/** Compares program, snapshot, reverb and armed tracks with the cue sheet. */
function expectGear(evening: Evening, song: Song, sceneIndex: number, where: string): void {
  if (evening.processor.kind !== 'string-processor' || evening.host.kind !== 'track-host')
    throw new Error('wrong stand-ins');
  const { state: processor } = evening.processor;
  const { state: host } = evening.host;
  const actual: Record<string, number> = {
    Program: processor.program,
    Snapshot: processor.snapshot,
    'Reverb mix': processor.reverbMix,
    'Drive amount': processor.drive,
    'Arm Bow': Number(host.tracks[0]!.armed),
    'Arm Voice': Number(host.tracks[1]!.armed),
    'Arm Hum': Number(host.tracks[2]!.armed),
    'Record ready Reeds': Number(host.tracks[3]!.armed),
  };
  for (const [functionId, { value }] of sceneCells(song, sceneIndex, world.carrying)) {
    const { fn, device } = world.functions.get(functionId)!;
    if (fn.name in actual)
      expect(`${where}: ${fn.name} ${shownText(device, fn, actual[fn.name]!)}`).toBe(
        `${where}: ${fn.name} ${shownText(device, fn, value)}`,
      );
  }
}

/** Any event that a live rig may meet, from hands, feet and cables. */
const anyEvent = fc.oneof(
  fc
    .tuple(
      fc.constantFrom(DEMO_PORT.crossbarIn1, DEMO_PORT.twigUsb),
      fc.constantFrom(14, 15),
      fc.nat(127),
      fc.nat(127),
    )
    .chain(([portId, ch, n, v]) =>
      fc.constantFrom<LiveEvent>(
        { kind: 'message', atMs: 0, portId, message: controller(ch, n, v) },
        { kind: 'message', atMs: 0, portId, message: noteOn(ch, n, v) },
        { kind: 'message', atMs: 0, portId, message: noteOff(ch, n) },
      ),
    ),
  fc
    .tuple(fc.constantFrom(31, 32, 33, 34, 35, 36, 37, 38, 39, 40, 4, 5), fc.constantFrom(0, 1, 64, 127))
    .map(([n, v]): LiveEvent => ({
      kind: 'message',
      atMs: 0,
      portId: DEMO_PORT.crossbarIn1,
      message: controller(15, n, v),
    })),
  fc.constantFrom<LiveEvent>(
    { kind: 'tick', atMs: 0 },
    { kind: 'command', atMs: 0, command: { kind: 'scene', to: 'next' } },
    { kind: 'command', atMs: 0, command: { kind: 'scene', to: 'previous' } },
    { kind: 'command', atMs: 0, command: { kind: 'scene', to: 'again' } },
    { kind: 'command', atMs: 0, command: { kind: 'panic' } },
    { kind: 'command', atMs: 0, command: { kind: 'tap' } },
  ),
);
const anyRun = fc
  .array(fc.tuple(anyEvent, fc.integer({ min: 0, max: 60 })), { maxLength: 40 })
  .map((list) => {
    let atMs = 0;
    return list.map(([event, waitMs]) => ({ ...event, atMs: (atMs += waitMs) }) as LiveEvent);
  });

const bytesOf = (evening: Evening) => evening.sent.map((s) => `${s.portId} ${encode(s.message).join(' ')}`);

describe('laws of a step, over any events', () => {
  it('is deterministic and leaves what it was given untouched', () => {
    fc.assert(
      fc.property(anyRun, (events) => {
        const [a, b] = [new Evening(), new Evening()];
        for (const event of events) {
          const before = JSON.stringify(a.state);
          const kept = a.state;
          a.play(event);
          expect(JSON.stringify(kept)).toBe(before);
          b.play(event);
        }
        expect(bytesOf(a)).toEqual(bytesOf(b));
        expect(a.state).toEqual(b.state);
      }),
      { seed: 72, numRuns: 150 },
    );
  });

  it('sends the same whether time is told in few ticks or in many', () => {
    fc.assert(
      fc.property(anyRun, (events) => {
        const [few, many] = [new Evening(), new Evening()];
        for (const event of events) {
          few.play(event);
          for (let i = 4; i > 0; i--)
            many.play({ kind: 'tick', atMs: Math.max(many.state.tempo.originMs, event.atMs - i) });
          many.play(event);
        }
        const end: LiveEvent = { kind: 'tick', atMs: 1e6 };
        few.play(end);
        many.play(end);
        expect(bytesOf(many)).toEqual(bytesOf(few));
      }),
      { seed: 73, numRuns: 150 },
    );
  });

  it('after any events and then panic no note sounds, and the scene in play is whole', () => {
    fc.assert(
      fc.property(anyRun, (events) => {
        const evening = new Evening();
        for (const event of events) evening.play(event);
        const atMs = (events.at(-1)?.atMs ?? 0) + 1;
        evening.play({ kind: 'command', atMs, command: { kind: 'panic' } });
        const count = evening.sent.length;
        evening.play({ kind: 'tick', atMs: atMs + 1e6 });
        // What comes later is what the scene says, and had to wait for a device.
        const { songIndex, sceneIndex } = placeOf(world, evening.state);
        const cells = sceneIndex === null ? null : world.songs[songIndex]!.cells[sceneIndex]!;
        const later = evening.sent.slice(count);
        expect(later.filter((s) => s.message.kind === 'note-on')).toEqual([]);
        if (!cells) expect(later).toEqual([]);
        for (const [id, { value }] of cells ?? []) {
          const { fn, path } = world.functions.get(id)!;
          if (fn.shape.kind !== 'trigger' && path) expect(valueOf(world, evening.state, id)).toBe(value);
        }
        const sounding = new Set<string>();
        for (const { portId, message } of evening.sent) {
          if (message.kind !== 'note-on' && message.kind !== 'note-off') continue;
          const key = `${portId} ${message.channel} ${message.note}`;
          if (endsNote(message)) sounding.delete(key);
          else sounding.add(key);
        }
        expect([...sounding]).toEqual([]);
      }),
      { seed: 74, numRuns: 150 },
    );
  });

  it('a lamp that follows a toggle is lit exactly while the function is on', () => {
    fc.assert(
      fc.property(anyRun, (events) => {
        const evening = new Evening();
        for (const event of events) evening.play(event);
        for (const board of world.boards)
          for (const [controlId, { press }] of bankInForce(board, evening.state)!.assignments) {
            if (press[0]?.kind !== 'toggle') continue;
            expect(isLampLit(evening.state, controlId)).toBe(
              assumedValue(world, evening.state, press[0].functionId) === 1,
            );
          }
      }),
      { seed: 75, numRuns: 150 },
    );
  });
});
