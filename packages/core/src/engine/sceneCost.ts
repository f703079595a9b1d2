import { takesValue } from '../gear';
import { planRecall, sceneCells, type Cell, type RecallTarget, type Song } from '../show';
import type { World } from './world';

/** What it takes to get into a scene from the one before: messages, and ms until the rig has settled. */
export type SceneCost = { readonly messages: number; readonly settlesInMs: number };

/**
 * @param sceneIndex from 0. The first scene is reckoned with nothing known, as on entering the song cold.
 * Functions that are gone or that nothing leads to cost nothing.
 */
export function sceneCost(world: World, song: Song, sceneIndex: number): SceneCost {
  const before = sceneIndex > 0 ? sceneCells(song, sceneIndex - 1) : new Map<string, Cell>();
  const targets: RecallTarget[] = [];
  for (const [functionId, { value, setIn }] of sceneCells(song, sceneIndex)) {
    const reached = world.functions.get(functionId);
    if (!reached || !takesValue(reached.fn.shape, value)) continue;
    if (reached.fn.shape.kind !== 'trigger' || setIn === sceneIndex) targets.push({ reached, value });
  }
  const plan = planRecall(
    targets,
    {
      nowMs: 0,
      known: (id) => before.get(id)?.value,
      listensFromMs: () => 0,
      portFreeFromMs: () => 0,
    },
    'changes',
  );
  return { messages: plan.sends.reduce((n, s) => n + s.messages.length, 0), settlesInMs: plan.settledAtMs };
}
