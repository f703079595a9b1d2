import { isDoneBy, type Action } from '../../floor';
import { nth } from '../../sure';

/** A list of actions that alternates, and which of its turns, odd or even, sends a trigger. */
export type Turn = { readonly key: string; readonly isEven: boolean };

/**
 * For each trigger the turns that count as done when it is sent or reported.
 * @param lists of all assignments.
 */
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
