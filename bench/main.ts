import { timeTransition } from './parallelMachine';
import {
  compileWorld,
  initialState,
  sceneCost,
  step,
  type LiveEvent,
  type LiveState,
} from '@idle-step/core/engine';
import {
  controller,
  encode,
  encodeRunning,
  noteOff,
  noteOn,
  pitchBend,
  program,
  StreamParser,
  type Message,
} from '@idle-step/core/midi';
import { trace } from '@idle-step/core/proof';
import {
  compileRoutes,
  NO_ROUTE_MEMORY,
  passRoutes,
  PLAIN_CHANGE,
  PLAIN_FROM,
  PLAIN_ROUTE,
  type Route,
} from '@idle-step/core/routing';
import { planRecall, sceneCells, type RecallTarget } from '@idle-step/core/show';
import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import { createRequire } from 'node:module';
import { Message as WebMidiMessage } from 'webmidi';
import { proofFigures } from './proof';
import { calmRounds, timeStolen } from './stolen';

/** Speed figures. Libraries run beside our own code in the same run, so that the ratios hold on any machine. */

const JZZ = createRequire(import.meta.url)('jzz') as {
  MIDI: {
    new (bytes: number[]): ArrayLike<number>;
    control(c: number, n: number, v: number): ArrayLike<number>;
  };
};

/** The value below which a share of a sorted list lies. */
const shareOf = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor((sorted.length - 1) * share))]!;
const middleOf = (list: readonly number[]): number =>
  shareOf(
    [...list].sort((a, b) => a - b),
    0.5,
  );

/** Takes in every result, so that none is optimised away. */
let sink = 0;

const ROUNDS = process.argv.includes('--short') ? 1 : 5;

/** Best of some rounds, in runs a second: the least disturbed one. */
function perSecond(count: number, run: () => void): number {
  run();
  let best = 0;
  for (let i = 0; i < ROUNDS; i++) {
    const start = performance.now();
    run();
    best = Math.max(best, (count * 1000) / (performance.now() - start));
  }
  return best;
}

/** Two beside each other, in turn, so that a machine that slows down slows both: how often b does what a does once. */
function times(a: () => void, b: () => void): number {
  const once = (run: () => void): number => {
    const start = performance.now();
    run();
    return performance.now() - start;
  };
  const ratios = Array.from({ length: 2 * ROUNDS + 1 }, () => once(a) / once(b)).sort((x, y) => x - y);
  return ratios[ROUNDS]!;
}

// Presses come first, before the long lists below fill the memory that a live page would not have.
const songs = demoSets[0]!.entries.flatMap((e) =>
  e.kind === 'song' ? demoSongs.filter((s) => s.id === e.songId) : [],
);
const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs });

const { device, path } = world.boards[0]!;
const switches = world.boards[0]!.board.controls.filter((c) => c.kind === 'footswitch');

/** Down, a while later a tick, and up: made before the clock runs, since a host is given them. */
function pressEvents(i: number): LiveEvent[] {
  const { number } = switches[i % switches.length]!.sends;
  const atMs = i * 100;
  const says = (value: number) => controller(device.channel, number, value);
  return [
    { kind: 'message', atMs, portId: path!.portId, message: says(127) },
    { kind: 'tick', atMs: atMs + 60 },
    { kind: 'message', atMs: atMs + 80, portId: path!.portId, message: says(0) },
  ];
}

/** Presses every switch of the demo rig in turn, and times each step that begins a press, in µs. */
function timePresses(count: number): number[] {
  const events = Array.from({ length: count }, (_, i) => pressEvents(i));
  let state: LiveState = initialState(world, 0);
  const times: number[] = [];
  for (const [down, ...rest] of events) {
    const start = performance.now();
    const pressed = step(world, state, down!);
    times.push((performance.now() - start) * 1000);
    state = pressed.state;
    sink += pressed.effects.length;
    for (const event of rest) {
      const result = step(world, state, event);
      state = result.state;
      sink += result.effects.length;
    }
  }
  return times;
}
/** A short form that only has to run to its end, for the tests. */
const SHORT = process.argv.includes('--short') ? 100 : 1;
// So many until the machine has compiled for good what a press goes through.
for (let i = 0; i < 6; i++) timePresses(10_000 / SHORT);
/** Rounds of presses, each by itself: a machine that stands still for a moment spoils one of them and not the figure. */
const pressRounds = (
  await calmRounds({ wanted: 5, most: SHORT === 1 ? 40 : 5, share: 0.02 }, async () => {
    const { figures: taken, disturbed } = await timeStolen(() => timePresses(10_000 / SHORT));
    const sorted = taken.sort((a, b) => a - b);
    const roundMean = sorted.reduce((a, b) => a + b, 0) / sorted.length;
    // Beside each other, so that a machine that is slow for a while is slow for both.
    const transitionUs = timeTransition(1000 / SHORT);
    return {
      disturbed,
      figures: {
        sorted,
        mean: roundMean,
        transitionUs,
        ratio: transitionUs / roundMean,
        spread: shareOf(sorted, 0.999) / roundMean,
      },
    };
  })
)
  .slice(0, 5)
  .map((r) => r.figures);
const mean = middleOf(pressRounds.map((r) => r.mean));
const spread = middleOf(pressRounds.map((r) => r.spread));
const slowest = Math.max(...pressRounds.map((r) => r.sorted.at(-1)!));
const transitionUs = middleOf(pressRounds.map((r) => r.transitionUs));
const againstStep = middleOf(pressRounds.map((r) => r.ratio));

/** Fifty rules of thirty-two clauses each on one port; every message is taken in by one of them. */
const ruleOf = (i: number): Route => ({
  id: `rule ${i}`,
  name: `rule ${i}`,
  ...PLAIN_ROUTE,
  from: {
    ...PLAIN_FROM,
    portIds: ['in'],
    channels: [i % 16],
    numbers: Array.from({ length: 32 }, (_, k) => ({
      from: (i * 32 + k * 3) % 128,
      to: (i * 32 + k * 3) % 128,
    })),
  },
  change: {
    ...PLAIN_CHANGE,
    numbers: Array.from({ length: 32 }, (_, k) => ({ kind: null, from: (i * 32 + k * 3) % 128, to: k })),
    value: { curve: 'audio', from: 0, to: 120, fixed: null },
  },
  to: [{ portId: 'out', channel: 3 }],
});
const rules = compileRoutes(
  { lines: [], routes: Array.from({ length: 50 }, (_, i) => ruleOf(i)), othersTo: ['out'] },
  ['in'],
);
/** As it is played: notes that end, a knob, a bend, pressure. */
const playedMessages = Array.from({ length: 10_000 }, (_, i): Message => {
  const ch = (i >> 3) % 16;
  const note = 36 + ((i >> 4) % 48);
  switch (i % 8) {
    case 0:
      return noteOn(ch, note, 1 + (i % 127));
    case 3:
      return noteOff(ch, note);
    case 5:
      return pitchBend(ch, (i * 64) % 16384);
    case 6:
      return pitchBend(ch, 8192);
    default:
      return controller(ch, i % 120, i % 128);
  }
});
const always = { isOn: () => true, isOpen: () => true };
const COUNT = 200_000;
const routeAll = () => {
  let memory = NO_ROUTE_MEMORY;
  for (let i = 0; i < COUNT; i++) {
    const message = playedMessages[i % playedMessages.length]!;
    const done = passRoutes(rules, memory, always, 'in', message, i);
    memory = done.memory;
    sink += done.sends.length;
  }
};
const routed = perSecond(COUNT, routeAll);

const messages: Message[] = Array.from({ length: COUNT }, (_, i) => {
  const ch = i % 16;
  switch (i % 6) {
    case 0:
      return noteOn(ch, i % 128, 1 + (i % 127));
    case 1:
      return noteOff(ch, i % 128);
    case 2:
      return program(ch, i % 128);
    case 3:
      return pitchBend(ch, i % 16384);
    default:
      return controller(ch, i % 120, i % 128);
  }
});
const framed = messages.map((m) => encode(m));
const framedBytes = framed.map((f) => Uint8Array.from(f));
const stream = Uint8Array.from(encodeRunning(messages));

const decodeAll = () => {
  const parser = new StreamParser({ message: (m) => void (sink += m.kind.length) });
  parser.push(stream);
};
const decoded = perSecond(COUNT, decodeAll);
const routeAgainstDecode = times(routeAll, decodeAll);
const decodedByWebmidi = perSecond(COUNT, () => {
  for (const bytes of framedBytes) sink += new WebMidiMessage(bytes).dataBytes.length;
});
const decodedByJzz = perSecond(COUNT, () => {
  for (const bytes of framed) sink += new JZZ.MIDI(bytes).length;
});
const encoded = perSecond(COUNT, () => {
  for (const m of messages) sink += encode(m).length;
});
const encodedByJzz = perSecond(COUNT, () => {
  for (let i = 0; i < COUNT; i++) sink += JZZ.MIDI.control(i % 16, i % 120, i % 128).length;
});
const encodedControllers = perSecond(COUNT, () => {
  for (let i = 0; i < COUNT; i++) sink += encode(controller(i % 16, i % 120, i % 128)).length;
});

const targets: RecallTarget[] = [...sceneCells(songs[3]!, 4)].map(([id, { value }]) => ({
  reached: world.functions.get(id)!,
  value,
}));
const plans = perSecond(20_000, () => {
  for (let i = 0; i < 20_000; i++)
    sink += planRecall(
      targets,
      { nowMs: 0, stands: () => false, listensFromMs: () => 0, portFreeFromMs: () => 0 },
      'all',
    ).sends.length;
});
const compiles = perSecond(50, () => {
  for (let i = 0; i < 50; i++) sink += compileWorld(world.show).songs.length;
});
const costs = perSecond(5000, () => {
  for (let i = 0; i < 5000; i++) sink += sceneCost(world, songs[3]!, 4).messages;
});

const traceState = step(world, initialState(world, 0), {
  kind: 'command',
  atMs: 0,
  command: { kind: 'go', songIndex: 3, sceneIndex: 1 },
}).state;
const traced = world.boards[0]!.banks[0]!.bank.assignments.filter((a) => a.press.length > 0);
const traceRounds = Array.from({ length: 5 }, () => {
  const taken = Array.from({ length: 400 }, (_, i) => {
    const start = performance.now();
    const { controlId } = traced[i % traced.length]!;
    sink += trace(world, traceState, { kind: 'gesture', controlId, gesture: 'press' }, 5000).ways.length;
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return { mean: taken.reduce((a, b) => a + b, 0) / taken.length, late: shareOf(taken, 0.99) };
});
const traceMean = middleOf(traceRounds.map((r) => r.mean));
const traceLate = middleOf(traceRounds.map((r) => r.late));

type Row = { name: string; value: number; unit: string; aim: string; holds: boolean | null };
const ratio = (ours: number, theirs: number) => ours / theirs;
const fastestDecoder = Math.max(decodedByWebmidi, decodedByJzz);
const rows: Row[] = [
  { name: 'decode a raw stream', value: decoded / 1e6, unit: 'million messages/s', aim: '', holds: null },
  {
    name: 'webmidi, framed messages',
    value: decodedByWebmidi / 1e6,
    unit: 'million messages/s',
    aim: '',
    holds: null,
  },
  {
    name: 'jzz, framed messages',
    value: decodedByJzz / 1e6,
    unit: 'million messages/s',
    aim: '',
    holds: null,
  },
  {
    name: 'decode against the fastest library',
    value: ratio(decoded, fastestDecoder),
    unit: '×',
    aim: '5 or more',
    holds: ratio(decoded, fastestDecoder) >= 5,
  },
  { name: 'encode made messages', value: encoded / 1e6, unit: 'million messages/s', aim: '', holds: null },
  {
    name: 'make and encode controllers',
    value: encodedControllers / 1e6,
    unit: 'million messages/s',
    aim: '',
    holds: null,
  },
  {
    name: 'jzz, make controllers',
    value: encodedByJzz / 1e6,
    unit: 'million messages/s',
    aim: '',
    holds: null,
  },
  {
    name: 'make and encode against jzz',
    value: ratio(encodedControllers, encodedByJzz),
    unit: '×',
    aim: '2 or more',
    holds: ratio(encodedControllers, encodedByJzz) >= 2,
  },
  { name: 'step for a press, mean', value: mean, unit: 'µs', aim: '', holds: null },
  { name: 'xstate, one transition', value: transitionUs, unit: 'µs', aim: '', holds: null },
  {
    name: 'xstate against step',
    value: againstStep,
    unit: '×',
    aim: '30 or more',
    holds: againstStep >= 30,
  },
  {
    name: 'step, 99.9th percentile against mean',
    value: spread,
    unit: '×',
    aim: '8 or less',
    holds: spread <= 8,
  },
  {
    name: 'route through 50 rules of 32',
    value: routed / 1e6,
    unit: 'million messages/s',
    aim: '',
    holds: null,
  },
  {
    name: 'decode against route',
    value: routeAgainstDecode,
    unit: '×',
    aim: '26 or less',
    holds: routeAgainstDecode <= 26,
  },
  {
    name: 'trace a press, mean',
    value: traceMean,
    unit: 'ms',
    aim: '',
    holds: null,
  },
  {
    name: 'trace a press, 99th percentile',
    value: traceLate,
    unit: 'ms',
    aim: '5 or less',
    holds: traceLate <= 5,
  },
  { name: 'step for a press, slowest', value: slowest, unit: 'µs', aim: '', holds: null },
  { name: 'plan one recall', value: 1000 / plans, unit: 'ms', aim: '1 or less', holds: 1000 / plans <= 1 },
  { name: 'cost of a scene', value: 1000 / costs, unit: 'ms', aim: '', holds: null },
  { name: 'compile the demo world', value: 1000 / compiles, unit: 'ms', aim: '', holds: null },
  ...proofFigures(SHORT > 1),
  { name: 'memory in use', value: process.memoryUsage().heapUsed / 1e6, unit: 'MB', aim: '', holds: null },
];

if (process.argv.includes('--json')) console.log(JSON.stringify({ figures: rows, checksum: sink }));
else {
  const number = (n: number) => n.toPrecision(4).padStart(10);
  for (const { name, value, unit, aim, holds } of rows)
    console.log(
      `${name.padEnd(38)}${number(value)} ${unit.padEnd(20)}${aim && `${aim}: ${holds ? 'holds' : 'missed'}`}`,
    );
}
