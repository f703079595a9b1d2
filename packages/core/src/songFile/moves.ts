import { drivenBy, type World } from '../engine';
import type { SmfEvent } from '../formats';
import { takesValue } from '../gear';
import { NO_SEQUENCES, readSequence, type Message, type SequenceMemory } from '../midi';
import { lastOf, nth, there } from '../sure';

type Heard = { readonly functionId: string; readonly value: number };

/**
 * Tells what each message of a track drives, by the tables that play it; `half` for one that is a part of something
 * spread over several (bank select, parameter numbers, the halves of 14 bits), and `null` for what nothing answers to.
 */
function reader(world: World) {
  const memories = new Map<string, SequenceMemory>();
  const ports = [...new Set([...world.ways.values()].flatMap((way) => way.path?.portId ?? []))];
  return (track: number, deviceId: string | null, message: Message): Heard | 'half' | null => {
    const own = deviceId === null ? undefined : world.ways.get(deviceId)?.path?.portId;
    for (const portId of own === undefined ? ports : [own]) {
      const key = `${track}/${portId}`;
      const { memory, sequence } = readSequence(memories.get(key) ?? NO_SEQUENCES, message);
      memories.set(key, memory);
      const driven = drivenBy(world, portId, message, sequence);
      const isOwn = deviceId === null || driven?.reached.device.id === deviceId;
      if (
        driven &&
        isOwn &&
        driven.reached.fn.shape.kind !== 'trigger' &&
        takesValue(driven.reached.fn.shape, driven.value)
      )
        return { functionId: driven.reached.fn.id, value: driven.value };
    }
    return message.kind === 'controller' && HALVES.has(message.controller) ? 'half' : null;
  };
}

/** Bank select, data entry, and the numbers of parameters: never anything by themselves. Source: MIDI 1.0. */
const HALVES: ReadonlySet<number> = new Set([0, 32, 6, 38, 98, 99, 100, 101]);

export type Move = Heard & { readonly atBeat: number };

/** What a file sets, in its order. */
export function heardIn(
  world: World,
  all: readonly (SmfEvent & { readonly track: number; readonly deviceId: string | null })[],
  beatOf: (tick: number) => number,
): { readonly moves: readonly Move[]; readonly notes: number; readonly unknown: number } {
  const hear = reader(world);
  const moves: Move[] = [];
  let [notes, unknown] = [0, 0];
  for (const e of all) {
    if (e.kind !== 'message') continue;
    if (e.message.kind === 'note-on' || e.message.kind === 'note-off') {
      notes++;
      continue;
    }
    const driven = hear(e.track, e.deviceId, e.message);
    if (driven === 'half') continue;
    if (driven) moves.push({ ...driven, atBeat: beatOf(e.tick) });
    else unknown++;
  }
  return { moves, notes, unknown };
}

/** Values of one function that follow each other closely. */
export type Run = {
  readonly functionId: string;
  readonly values: readonly { atBeat: number; value: number }[];
  /** Whether it is a move of its own wherever it begins. */
  readonly isOwn?: boolean;
};

/** Values of one function that lie further apart than this belong to two moves, in beats. */
const ONE_MOVE_BEATS = 1;
/** What begins to move within this of the start of a part belongs to its scene, in beats. */
const OF_SCENE_BEATS = 1;

export function runsOf(moves: readonly Move[]): Run[] {
  const runs: { functionId: string; values: { atBeat: number; value: number }[] }[] = [];
  const last = new Map<string, (typeof runs)[number]>();
  for (const { functionId, value, atBeat } of moves) {
    const run = last.get(functionId);
    if (run && atBeat - lastOf(run.values).atBeat <= ONE_MOVE_BEATS) run.values.push({ atBeat, value });
    else {
      const next = { functionId, values: [{ atBeat, value }] };
      runs.push(next);
      last.set(functionId, next);
    }
  }
  return runs;
}

/** What is set this soon as a part begins is set by its scene; what moves on from there is a move of its own, in beats. */
const AT_ONCE_BEATS = 0.02;

/** A run that is set as a part begins and then moves on is two. @param partBeat where its part begins. */
export function splitAtStart(run: Run, partBeat: number): readonly Run[] {
  // What is spread over several messages comes to its value with the last of one moment.
  const { atBeat } = nth(run.values, 0);
  const first = there(run.values.findLast((v) => v.atBeat === atBeat));
  if (atBeat - partBeat >= AT_ONCE_BEATS) return [run];
  const rest = run.values.filter((v) => v.atBeat > atBeat);
  const moved = rest.filter((v, i) => v.value !== (rest[i - 1] ?? first).value);
  return [{ ...run, values: [first] }, ...(moved.length > 0 ? [{ ...run, values: moved, isOwn: true }] : [])];
}

export const isOfScene = ({ values, isOwn }: Run, partBeat: number): boolean =>
  !isOwn && nth(values, 0).atBeat - partBeat < OF_SCENE_BEATS;
