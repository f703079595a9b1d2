import { reachFault } from '../packages/core/src/proof/reach/reachRuns.test-support';
import {
  compileWorld,
  drivenBy,
  initialState,
  placeOf,
  step,
  valueOf,
  type LiveEvent,
  type LiveState,
} from '@idle-step/core/engine';
import {
  controller,
  encode,
  endsNote,
  noteOn,
  parseBytes,
  StreamParser,
  type Message,
} from '@idle-step/core/midi';
import fc from 'fast-check';
import { anySavingRun, whatSavingLoses } from '../apps/web/src/drafts/saving/saving.test-support';
import { anyEvening, whatReceiversMiss } from '../packages/core/src/engine/receiverRuns.test-support';
import { anyRun, playRun } from '../packages/core/src/engine/heard/routeRuns.test-support';
import {
  anyPlanned,
  anyShown,
  planOtherwise,
  shownOtherwise,
} from '../packages/core/src/engine/shownRuns.test-support';
import { anyTimeRun, ticksMatter } from '../packages/core/src/engine/time/timeRuns.test-support';
import { demoPresets, demoRig, demoSets, demoSongs, DEMO_PORT } from '@idle-step/demo';
import { heldOtherwise, playsOtherwise } from '../packages/demo/src/memoryRuns.test-support';
import { seeded } from '../packages/core/src/seeded.test-support';

/** What is too long for every test run: many random evenings, and many random bytes. Prints what held. */

const RUNS = Number(process.argv[2] ?? 100_000);
const EVENTS = 40;

const songs = demoSets[0]!.entries.flatMap((e) =>
  e.kind === 'song' ? demoSongs.filter((s) => s.id === e.songId) : [],
);
const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs });

function randomEvent(next: () => number, atMs: number): LiveEvent {
  const pick = Math.floor(next() * 8);
  const d7 = () => Math.floor(next() * 128);
  const port = next() < 0.8 ? DEMO_PORT.crossbarIn1 : DEMO_PORT.twigUsb;
  if (pick < 4)
    return {
      kind: 'message',
      atMs,
      portId: port,
      message: controller(15, 31 + Math.floor(next() * 10), next() < 0.5 ? 127 : 0),
    };
  if (pick === 4)
    return { kind: 'message', atMs, portId: port, message: controller(15, 4 + Math.floor(next() * 2), d7()) };
  if (pick === 5)
    return { kind: 'message', atMs, portId: port, message: noteOn(14, 36 + Math.floor(next() * 4), d7()) };
  if (pick === 6)
    return { kind: 'command', atMs, command: { kind: 'scene', to: next() < 0.7 ? 'next' : 'previous' } };
  return { kind: 'tick', atMs };
}

/**
 * One evening: after panic nothing sounds; what is still sent is what the scene in play says of devices that settled,
 * once each; and then the scene is whole. @returns what failed, or `null`.
 */
function evening(seed: number): string | null {
  const next = seeded(seed);
  let state: LiveState = initialState(world, 0);
  let atMs = 0;
  const sounding = new Set<string>();
  const run = (event: LiveEvent) => {
    const result = step(world, state, event);
    state = result.state;
    for (const e of result.effects) {
      if (e.kind !== 'send' || (e.message.kind !== 'note-on' && e.message.kind !== 'note-off')) continue;
      const key = `${e.portId} ${e.message.channel} ${e.message.note}`;
      if (endsNote(e.message)) sounding.delete(key);
      else sounding.add(key);
    }
    return result.effects;
  };
  for (let i = 0; i < EVENTS; i++) run(randomEvent(next, (atMs += Math.floor(next() * 60))));
  run({ kind: 'command', atMs: atMs + 1, command: { kind: 'panic' } });
  const later = run({ kind: 'tick', atMs: atMs + 1e6 });
  if (sounding.size > 0) return `a note sounds after panic (seed ${seed})`;
  const { songIndex, sceneIndex } = placeOf(world, state);
  const cells = world.songs[songIndex]?.cells[sceneIndex ?? -1] ?? new Map<string, { value: number }>();
  const told = new Set<string>();
  for (const e of later) {
    if (e.kind !== 'send') continue;
    const driven = drivenBy(world, e.portId, e.message);
    const id = driven?.reached.fn.id;
    if (!driven || id === undefined || cells.get(id)?.value !== driven.value)
      return `something is sent after panic that the scene does not say (seed ${seed})`;
    if (told.has(id)) return `the scene is told twice after panic (seed ${seed})`;
    told.add(id);
  }
  const isOff = [...cells].some(
    ([id, { value }]) =>
      valueOf(world, state, id) !== value && world.functions.get(id)?.fn.shape.kind !== 'trigger',
  );
  if (isOff) return `the scene is not whole after panic (seed ${seed})`;
  const last = run({ kind: 'tick', atMs: atMs + 2e6 });
  return last.some((e) => e.kind === 'send') ? `something is sent long after panic (seed ${seed})` : null;
}

/** Random bytes, whole and cut in pieces, give the same; and what is read is written and read again the same. */
function bytes(seed: number): string | null {
  const next = seeded(seed);
  const stream = Array.from({ length: 120 }, () => Math.floor(next() * 256));
  const whole = parseBytes(stream).messages;
  const pieces: Message[] = [];
  const parser = new StreamParser({ message: (m) => void pieces.push(m) });
  for (let i = 0; i < stream.length;) {
    const length = 1 + Math.floor(next() * 5);
    parser.push(stream.slice(i, i + length));
    i += length;
  }
  if (JSON.stringify(pieces) !== JSON.stringify(whole)) return `cut bytes read differently (seed ${seed})`;
  const again = parseBytes(whole.flatMap((m) => encode(m))).messages;
  return JSON.stringify(again) === JSON.stringify(whole)
    ? null
    : `written bytes read differently (seed ${seed})`;
}

/** Whatever is routed, gated and edited while things are held: with everything let go nothing sounds. */
function routes(seed: number): string | null {
  const [run] = fc.sample(anyRun, { seed, numRuns: 1 });
  const left = playRun(run!);
  return left.length === 0 ? null : `${left.join(', ')} after all was let go (seed ${seed})`;
}

/** Splitting time into more ticks changes nothing. */
function time(seed: number): string | null {
  const failed = ticksMatter(fc.sample(anyTimeRun, { seed, numRuns: 1 })[0]!);
  return failed === null ? null : `${failed} (seed ${seed})`;
}

/** After each recall a receiver that knows only bytes holds what is known and what the scene says. */
function received(seed: number): string | null {
  const failed = whatReceiversMiss(fc.sample(anyEvening, { seed, numRuns: 1 })[0]!);
  return failed === null ? null : `${failed} (seed ${seed})`;
}

/** What is shown of an action, and of the plan into a scene, is what leaves. */
function shown(seed: number): string | null {
  const failed =
    shownOtherwise(fc.sample(anyShown, { seed, numRuns: 1 })[0]!) ??
    planOtherwise(fc.sample(anyPlanned, { seed, numRuns: 1 })[0]!);
  return failed === null ? null : `${failed} (seed ${seed})`;
}

/** Whatever the network, the windows and the reloads do: nothing typed is lost. */
function saving(seed: number): string | null {
  const failed = whatSavingLoses(fc.sample(anySavingRun, { seed, numRuns: 1 })[0]!);
  return failed === null ? null : `${failed} (seed ${seed})`;
}

/** A board that was sent a preset plays what this application plays. */
const boards = (seed: number): string | null => playsOtherwise(seed).failed;

/** Whatever a link does, a board holds what the job with it says. */
function transfers(seed: number): string | null {
  const failed = heldOtherwise(seed);
  return failed === null ? null : `${failed} (seed ${seed})`;
}

let failures = 0;
for (const [name, one, share] of [
  ['random evenings, then panic', evening, 1],
  ['random byte streams, cut anywhere', bytes, 1],
  ['random routes, edits, gates and scenes, then all let go', routes, 1],
  ['random worlds, time told in few ticks and in many', time, 1],
  [
    'random evenings on gear whose rows share registers, heard by receivers that know only bytes',
    received,
    0.1,
  ],
  ['random actions, gestures and feels: what is shown is what is sent', shown, 0.05],
  ['random edits, delays, lost answers, reloads and sleeping windows', saving, 0.5],
  ['random presets played by boards by themselves', boards, 0.01],
  ['random presets sent to boards over bad links', transfers, 0.1],
  ['random rigs: what presses lead to, against every sequence of presses', reachFault, 0.005],
] as const) {
  const start = performance.now();
  let bad = 0;
  const runs = Math.ceil(RUNS * share);
  for (let seed = 1; seed <= runs; seed++) {
    const failed = one(seed);
    if (failed === null) continue;
    bad++;
    if (bad <= 5) console.log(`  ${failed}`);
  }
  failures += bad;
  console.log(
    `${name}: ${runs - bad} of ${runs} held, in ${((performance.now() - start) / 1000).toFixed(1)} s`,
  );
}
if (failures > 0) process.exitCode = 1;
