import type { Action } from '../../floor';
import { valueOf } from '../state/known';
import type { LiveState } from '../state/liveState';
import { isRouteOn } from '../heard/routeConditions';
import type { World } from '../world/world';

/** What of the live state tells whose turn it is. */
export type TurnState = Pick<LiveState, 'registers' | 'pending' | 'clocks' | 'line' | 'routes' | 'evens'>;

/**
 * Whether the second, fourth … turn of a list that alternates is next. Where it starts and stops something, or sets a
 * function to one value and another, that is told by how the thing stands, whoever started it; else its turns are counted,
 * and a trigger that something else sent, or its device reported, counts like a press.
 */
export function isEvenNext(world: World, state: TurnState, actions: readonly Action[]): boolean {
  for (const odd of actions) {
    if (odd.every !== 'odd' || odd.isOff) continue;
    for (const even of actions) {
      if (even.every !== 'even' || even.isOff) continue;
      const stands = standsAfter(world, state, odd, even);
      if (stands !== null) return stands;
    }
  }
  return state.evens[actions[0]!.id] ?? false;
}

/** Whether what two actions are about stands as the first one leaves it; `null` where that cannot be known. */
function standsAfter(world: World, state: TurnState, first: Action, second: Action): boolean | null {
  if (first.kind === 'set' && second.kind === 'set' && first.functionId === second.functionId) {
    const value = valueOf(world, state, first.functionId);
    if (first.value === second.value) return null;
    return value === first.value ? true : value === second.value ? false : null;
  }
  if (first.kind === 'clock' && second.kind === 'clock' && first.portId === second.portId)
    return between(first.to, second.to, first.portId in state.clocks);
  if (first.kind === 'line' && second.kind === 'line')
    return between(first.to, second.to, state.line?.isRunning ?? false);
  if (first.kind === 'route' && second.kind === 'route' && isSameRoute(first, second)) {
    const found = world.routes.byId.get(first.routeId);
    if (!found || first.part !== 'route' || first.to === second.to) return null;
    if (first.to === 'toggle' || second.to === 'toggle') return null;
    return (first.to === 'on') === isRouteOn(state, found);
  }
  return null;
}

const isSameRoute = (
  a: Action & { readonly kind: 'route' },
  b: Action & { readonly kind: 'route' },
): boolean => a.routeId === b.routeId && a.part === b.part;

/** One of the two stops and the other one starts: whether it runs as the first one says. */
function between(first: string, second: string, isRunning: boolean): boolean | null {
  if ((first === 'stop') === (second === 'stop') || first === 'toggle' || second === 'toggle') return null;
  return (first !== 'stop') === isRunning;
}
