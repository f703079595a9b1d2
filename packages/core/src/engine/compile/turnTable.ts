import { isDoneBy, type Action } from '../../floor';
import { nth } from '../../sure';

/** A list that alternates, and the turn that a trigger of it was. */
export type Turn = { readonly key: string; readonly isEven: boolean };

/** The turns that telling a trigger counts as, by function. @param lists of all assignments. */
export function turnsOf(
  lists: Iterable<readonly Action[]>,
  isTrigger: (functionId: string) => boolean,
): ReadonlyMap<string, readonly Turn[]> {
  const turns = new Map<string, Turn[]>();
  for (const actions of lists)
    for (const action of actions) {
      if (action.kind !== 'set' || action.every === undefined || action.isOff) continue;
      const isBoth = actions.some(
        (a) => a.kind === 'set' && a.functionId === action.functionId && a.every !== action.every,
      );
      if (isBoth || !isTrigger(action.functionId)) continue;
      const turn = { key: nth(actions, 0).id, isEven: isDoneBy(action, true) };
      turns.set(action.functionId, [...(turns.get(action.functionId) ?? []), turn]);
    }
  return turns;
}
