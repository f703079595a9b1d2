import { REPEAT_WITHIN_MS } from '../../routing';
import { ANSWER_WITHIN_MS, ASK_AGAIN_MS } from '../heard/asking';
import { clockDueMs } from '../time/clockTimes';
import { CLOCK_LOST_MS, lineBeat } from '../time/lineTimes';
import type { HeldPress, LiveState } from './liveState';
import { LONGEST_GAP_MS } from '../time/tapTempo';
import { bankInForce, pageOfGroup } from '../world/place';
import { type World } from '../world/world';

/** An encoder that rested this long was turned slowly, whatever it says: 64 detents at 4 a second, in ms. */
const TURN_FORGOTTEN_MS = 16_000;

/**
 * A text that is the same for two states which behave alike: the state without its clock. Times are relative to now and
 * rounded to a millionth of a ms; what can no longer matter is left out; what has no order is sorted.
 * Two states with one key give the same messages at the same times after them for whatever happens next.
 */
export function stateKey(world: World, state: LiveState): string {
  const nowMs = state.atMs;
  const since = (ms: number): number => rounded(ms - nowMs);
  const recent = (record: Readonly<Record<string, number>>, withinMs: number): Record<string, number> =>
    mapped(record, (ms) => (nowMs - ms < withinMs ? since(ms) : undefined));
  const coming = (record: Readonly<Record<string, number>>): Record<string, number> =>
    mapped(record, (ms) => (ms > nowMs ? since(ms) : undefined));
  const lastTap = state.taps.at(-1);
  const lastTick = state.ticksHeardMs.at(-1);
  return JSON.stringify([
    state.position,
    [rounded(state.tempo.bpm), state.tempo.beatsPerBar, state.tempo.beatUnit],
    state.songStartedAtMs !== null,
    state.run && [state.run.pauseId],
    state.isOver,
    state.view,
    recent(state.steppedMs, world.show.rig.stepGuardMs ?? 0),
    lastTap !== undefined && nowMs - lastTap <= LONGEST_GAP_MS ? state.taps.map(since) : [],
    mapped(state.registers, (value) => [value]),
    sorted(state.told),
    world.boards.map((board) => [
      bankInForce(board, state)?.bank.id,
      board.groups.map((group) => pageOfGroup(group, state)?.bank.id),
    ]),
    contactsKey(world, state, since),
    mapped(state.held, (held) => heldKey(held, since)),
    state.delayed.map((d) => [since(d.atMs), d.from, d.action, d.isForAnswer ?? false]),
    sorted(state.pedals),
    sorted(state.raws),
    mapped(state.coarse, ({ raw, atMs }) => [raw, since(atMs)]),
    sorted(state.grips),
    sorted(state.ends),
    recent(state.turnedAtMs, TURN_FORGOTTEN_MS),
    recent(state.askedAtMs, Math.max(ASK_AGAIN_MS, ANSWER_WITHIN_MS)),
    sorted(state.playing),
    state.ramps.map((ramp) => ({ ...ramp, sinceMs: since(ramp.sinceMs) })),
    mapped(state.clocks, (clock) => [since(clockDueMs(clock)), rounded(clock.bpm)]),
    state.line && {
      ...state.line,
      beat: rounded(lineBeat(world, state.line, nowMs)),
      sinceMs: state.line.clock ? since(state.line.sinceMs) : 0,
    },
    lastTick !== undefined && nowMs - lastTick <= CLOCK_LOST_MS ? state.ticksHeardMs.map(since) : [],
    sorted(state.lamps),
    state.learning,
    trueOnes(state.latched),
    trueOnes(state.evens),
    sorted(state.steps),
    state.pending.map(({ atMs, landsAtMs, ...rest }) => [since(atMs), since(landsAtMs), rest]),
    coming(state.listensFromMs),
    coming(state.portFreeFromMs),
    state.sounding,
    [...state.lostPorts].sort(),
    state.hung,
    sorted(state.sequences),
    routesKey(state, since),
  ]);
}

type Since = (ms: number) => number;

/** A contact that has come to rest is as if it had never moved. */
const contactsKey = (world: World, state: LiveState, since: Since): unknown =>
  mapped(state.contacts, (contact, id) => {
    const debounceMs = world.controls.get(id)?.control.hardware.debounceMs ?? 0;
    const isOver = contact.raw === contact.isDown && state.atMs - contact.sinceMs >= debounceMs;
    return isOver ? undefined : { ...contact, sinceMs: since(contact.sinceMs) };
  });

function routesKey({ atMs: nowMs, routes }: LiveState, since: Since): unknown {
  const isLongAgo = (ms: number): boolean => nowMs - ms > REPEAT_WITHIN_MS;
  return [
    routes.begun,
    sorted(routes.gates),
    sorted(routes.switched),
    mapped(routes.runs, (run) => ({
      ...run,
      sinceMs: since(run.sinceMs),
      released: run.released && { ...run.released, atMs: since(run.released.atMs) },
    })),
    routes.repeats.flatMap(({ atMs, count, playsMs, phase, ...rest }) => {
      const hasLeft = phase.kind !== 'left' || isLongAgo(phase.atMs);
      if (rest.held.length === 0 && isLongAgo(atMs) && hasLeft) return [];
      const times = 'sinceMs' in phase ? since(phase.sinceMs) : 'atMs' in phase ? since(phase.atMs) : 0;
      const plays = playsMs === null ? null : since(playsMs);
      return [[since(atMs), count, plays, { ...phase, ...{ sinceMs: 0, atMs: 0 } }, times, rest]];
    }),
  ];
}

/** When a switch went down matters only while something can still come of it. */
function heldKey({ gesture, assignment, ...held }: HeldPress, since: (ms: number) => number): unknown {
  const isWaiting = gesture.isPending || (held.wants.hold && !gesture.holdDone);
  return [held, assignment, { ...gesture, downAtMs: isWaiting ? since(gesture.downAtMs) : 0 }];
}

const rounded = (value: number): number => Math.round(value * 1e6) / 1e6;

const sorted = <T>(record: Readonly<Record<string, T>>): Record<string, T> =>
  mapped(record, (value) => value ?? undefined);

const trueOnes = (record: Readonly<Record<string, boolean>>): string[] =>
  Object.keys(record)
    .filter((id) => record[id])
    .sort();

/** Entries in the order of their keys; those that become nothing are left out. */
function mapped<T, R>(
  record: Readonly<Record<string, T>>,
  to: (value: T, id: string) => R | undefined,
): Record<string, R> {
  const out: Record<string, R> = {};
  for (const id of Object.keys(record).sort()) {
    const value = to(record[id]!, id);
    if (value !== undefined) out[id] = value;
  }
  return out;
}
