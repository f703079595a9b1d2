import { isUsable, takesValue, type Device } from '../gear';
import type { Message } from '../midi';
import {
  armedFirst,
  planRecall,
  sceneCells,
  type Cell,
  type PlannedSend,
  type RecallTarget,
  type Song,
} from '../show';
import type { World } from './world';

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
  const before = from === null ? new Map<string, Cell>() : sceneCells(song, from, world.arming);
  const targets = targetsOf(world, song, to);
  const known = (id: string) => before.get(id)?.value;
  const plan = planRecall(
    targets,
    { nowMs: 0, known, listensFromMs: () => 0, portFreeFromMs: () => 0 },
    mode,
  );
  const wireMs = new Map<string, number>();
  for (const s of plan.sends) wireMs.set(s.portId, (wireMs.get(s.portId) ?? 0) + s.wireMs);
  const reasonOf = ({ functionId, deviceId, value }: PlannedSend): SendReason => {
    const fn = world.functions.get(functionId)!.fn;
    if (fn.shape.kind === 'trigger') return 'triggered';
    if (known(functionId) === undefined) return 'unknown';
    if (known(functionId) !== value) return 'changed';
    return plan.reloaded.has(deviceId) && fn.drive.kind !== 'program' ? 'reloaded' : 'asked';
  };
  return {
    lines: plan.sends.map((s) => ({
      device: world.functions.get(s.functionId)!.device,
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
    standsAtMs: plan.settledAtMs,
    wireMs,
  };
}

/** What a scene wants of functions that are there and take it. */
function targetsOf(world: World, song: Song, sceneIndex: number): readonly RecallTarget[] {
  const targets: RecallTarget[] = [];
  for (const [functionId, { value, setIn }] of sceneCells(song, sceneIndex, world.arming)) {
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
