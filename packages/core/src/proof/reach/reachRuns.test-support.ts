import { seeded } from '../../seeded.test-support';
import { drained } from '../feet/drained';
import { begunEvening } from '../feet/evening';
import { everySequence, randomEvening, replayed, sceneKeyOf } from '../feet/footRuns.test-support';
import { footGraph } from '../feet/graph';
import { standsOtherwise } from '../feet/stands';
import { reachOf } from './reach';

/** Presses of the longest sequences that are tried. */
export const LENGTH = 6;

/**
 * Holds what the search says of a rig by chance against every sequence of presses.
 * @returns what is not so, as a sentence; `null` where all of it is.
 */
export function reachFault(seed: number): string | null {
  const { world } = randomEvening(seeded(seed));
  const graph = drained(footGraph(world, begunEvening(world), { exactPresses: 20_000, presses: 20_000 }));
  if (!graph.isExact || !graph.isWhole) return `rig ${seed} has too many states`;
  const nearest = new Map<string, number>();
  const wrong = new Map<string, number>();
  for (const { presses, state, landed } of everySequence(world, LENGTH)) {
    const key = sceneKeyOf(state);
    if (!nearest.has(key)) nearest.set(key, presses.length);
    if (landed && landed.otherwise.length > 0 && !wrong.has(landed.key))
      wrong.set(landed.key, presses.length);
  }
  const within = (n: number | undefined) => (n !== undefined && n <= LENGTH ? n : null);
  for (const { entryId, sceneId, presses, differs } of reachOf(world, graph).scenes) {
    const key = `${entryId} ${sceneId}`;
    const [far, tried] = [within(presses?.length), nearest.get(key) ?? null];
    if (far !== tried)
      return `rig ${seed}, ${key}: ${far} presses lead there, and ${tried} where all are tried`;
    const [odd, oddTried] = [within(differs?.presses.length), wrong.get(key) ?? null];
    if (odd !== oddTried)
      return `rig ${seed}, ${key}: stands otherwise after ${odd} presses, and after ${oddTried} where all are tried`;
    // What it says can be played: it leads there, and stands as is told.
    if (presses && sceneKeyOf(replayed(world, presses)) !== key)
      return `rig ${seed}, ${key}: its presses lead elsewhere`;
    if (!differs) continue;
    const state = replayed(world, differs.presses);
    if (sceneKeyOf(state) !== key || standsOtherwise(world, state).join() !== differs.functionIds.join())
      return `rig ${seed}, ${key}: what stands otherwise is not what is told`;
  }
  return null;
}
