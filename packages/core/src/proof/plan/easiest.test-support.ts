import type { World } from '../../engine';
import { got, nth } from '../../sure';
import type { FootPress } from '../feet/press';
import { FEET_MODEL } from './feetModel';

export type Goal = { readonly key: string; readonly leavesS: number | null };

/** The parts of the set in order, reckoned here by themselves. */
export const goalsOf = (world: World): Goal[] =>
  world.songs.flatMap(({ entryId, parts }) =>
    parts.map((part, i) => ({
      key: `${entryId} ${part.sceneId}`,
      leavesS: i === 0 ? null : (parts[i - 1]?.length?.amount ?? null),
    })),
  );

/** The presses that bring one part about. */
export type Change = readonly FootPress[];

/** The easiest choice of feet for a way: how many tight places, and seconds. Tries every choice. */
export function easiest(
  world: World,
  plan: readonly Change[],
  feet: readonly (0 | 1)[] = [0, 1],
): readonly [number, number] {
  const goals = goalsOf(world);
  const board = nth(world.boards, 0).board;
  const middle = (id: string): readonly [number, number, number] => {
    const c = got(world.controls, id).control;
    return [
      board.xMm + c.xMm + c.widthMm / 2,
      board.yMm + c.yMm + c.heightMm / 2,
      Math.min(c.widthMm, c.heightMm),
    ];
  };
  const { aS, bS, tapS, crossedS } = FEET_MODEL;
  let best: readonly [number, number] = [Infinity, Infinity];
  const presses = plan.flatMap((change, i) => change.map((press) => ({ press, change: i })));
  for (let choice = 0; choice < 2 ** presses.length; choice++) {
    if (feet.length === 1 && choice !== (feet[0] === 0 ? 0 : 2 ** presses.length - 1)) continue;
    const at = [
      [board.xMm + board.widthMm / 2 - 120, board.yMm + board.heightMm + 80],
      [board.xMm + board.widthMm / 2 + 120, board.yMm + board.heightMm + 80],
    ];
    const takes = plan.map(() => 0);
    for (const [i, { press, change }] of presses.entries()) {
      const foot = (choice >> i) & 1;
      const [x, y, width] = middle(press.controlId);
      const far = Math.hypot(x - at[foot]![0]!, y - at[foot]![1]!);
      at[foot] = [x, y];
      const crossed = at[0]![0]! > at[1]![0]! ? crossedS : 0;
      const stays = press.gesture === 'hold' ? 0.6 : tapS;
      takes[change]! += aS + bS * Math.log2(far / width + 1) + crossed + stays;
    }
    const tight = takes.filter((t, i) => {
      const leavesS = goals[i]?.leavesS ?? null;
      return leavesS !== null && (plan[i]?.length ?? 0) > 0 && t > leavesS;
    }).length;
    const total = takes.reduce((sum, t) => sum + t, 0);
    if (tight < best[0] || (tight === best[0] && total < best[1])) best = [tight, total];
  }
  return best;
}
