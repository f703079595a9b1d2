import { isUsable, loadsProgram, takesValue, writesOf, type Device } from '../../gear';
import type { Message } from '../../midi';
import {
  armedFirst,
  planRecall,
  sceneCells,
  type PlannedSend,
  type RecallTarget,
  type Song,
} from '../../show';
import { isNotKnown, stands, type Known } from '../state/known';
import type { World } from '../world/world';
import { got } from '../../sure';

/** What it takes to get into a scene from the one before: messages, and ms until the rig has settled. */
export type SceneCost = { readonly messages: number; readonly settlesInMs: number };

/** Why a message of a plan is sent. */
export type SendReason =
  /** It was something else before, or nothing is known of it. */
  | 'changed'
  | 'unknown'
  /** Its device loads another program, which moves its other functions. */
  | 'reloaded'
  /** A trigger that stands in the scene. */
  | 'triggered'
  /** Everything was asked for. */
  | 'asked';

/** One line of a plan. Times in ms from the press. */
export type PlanLine = {
  readonly device: Device;
  readonly functionId: string;
  readonly value: number;
  readonly messages: readonly Message[];
  readonly portId: string;
  readonly atMs: number;
  readonly wireMs: number;
  readonly landsAtMs: number;
  readonly reason: SendReason;
};

export type ScenePlan = {
  readonly lines: readonly PlanLine[];
  /** Functions that the plan would tell and that no cable leads to. */
  readonly unreached: readonly string[];
  /** Devices that load a program: what glides there otherwise is set at once, after it. */
  readonly loading: ReadonlySet<string>;
  /** When the last device listens again. */
  readonly standsAtMs: number;
  /** How long each port is busy, by port. */
  readonly wireMs: ReadonlyMap<string, number>;
};

/**
 * The exact messages that lead from one scene to another, all at once: what glides is told its last value here.
 *
 * @param from index of the scene that the rig stands in, or `null` where nothing is known.
 * @param to from 0.
 */
export function scenePlan(
  world: World,
  song: Song,
  from: number | null,
  to: number,
  mode: 'changes' | 'all' = 'changes',
): ScenePlan {
  const before = knownIn(world, song, from);
  const targets = targetsOf(world, song, to);
  const plan = planRecall(
    targets,
    {
      nowMs: 0,
      stands: (reached, value) => stands(before, reached, value),
      listensFromMs: () => 0,
      portFreeFromMs: () => 0,
    },
    mode,
  );
  const wireMs = new Map<string, number>();
  for (const s of plan.sends) wireMs.set(s.portId, (wireMs.get(s.portId) ?? 0) + s.wireMs);
  const reasonOf = ({ functionId, deviceId, value }: PlannedSend): SendReason => {
    const reached = got(world.functions, functionId);
    if (reached.fn.shape.kind === 'trigger') return 'triggered';
    if (!stands(before, reached, value)) return isNotKnown(before, reached) ? 'unknown' : 'changed';
    return plan.reloaded.has(deviceId) && !loadsProgram(reached.fn) ? 'reloaded' : 'asked';
  };
  return {
    lines: plan.sends.map((s) => ({
      device: got(world.functions, s.functionId).device,
      functionId: s.functionId,
      value: s.value,
      messages: s.messages,
      portId: s.portId,
      atMs: s.atMs,
      wireMs: s.wireMs,
      landsAtMs: s.landsAtMs,
      reason: reasonOf(s),
    })),
    unreached: plan.unreached.map((t) => t.reached.fn.id),
    loading: plan.reloaded,
    standsAtMs: plan.settledAtMs,
    wireMs,
  };
}

/** Devices that load a program on the way into a scene from the one before it in the sheet. @param sceneIndex from 0. */
export const loadingIn = (world: World, song: Song, sceneIndex: number): ReadonlySet<string> =>
  scenePlan(world, song, sceneIndex > 0 ? sceneIndex - 1 : null, sceneIndex).loading;

/** What is known where everything was told that a scene says, and nothing else. */
function knownIn(world: World, song: Song, sceneIndex: number | null): Known {
  const registers: Record<string, number | null> = {};
  for (const [functionId, { value }] of sceneIndex === null
    ? []
    : sceneCells(song, sceneIndex, world.carrying)) {
    const reached = world.functions.get(functionId);
    if (reached && takesValue(reached.fn.shape, value))
      for (const write of writesOf(reached.device, reached.fn, value)) registers[write.key] = write.value;
  }
  return { registers, pending: [] };
}

/** What a scene wants of functions that are there and take it. */
function targetsOf(world: World, song: Song, sceneIndex: number): readonly RecallTarget[] {
  const targets: RecallTarget[] = [];
  for (const [functionId, { value, setIn }] of sceneCells(song, sceneIndex, world.carrying)) {
    const reached = world.functions.get(functionId);
    if (!reached || !takesValue(reached.fn.shape, value) || !isUsable(reached.device, reached.fn)) continue;
    if (reached.fn.shape.kind !== 'trigger' || setIn === sceneIndex) targets.push({ reached, value });
  }
  return armedFirst(targets);
}

/**
 * @param sceneIndex from 0. The first scene is reckoned with nothing known, as on entering the song cold.
 * Functions that are gone or that nothing leads to cost nothing.
 */
export function sceneCost(world: World, song: Song, sceneIndex: number): SceneCost {
  const { lines, standsAtMs } = scenePlan(world, song, sceneIndex > 0 ? sceneIndex - 1 : null, sceneIndex);
  return { messages: lines.reduce((n, s) => n + s.messages.length, 0), settlesInMs: standsAtMs };
}
