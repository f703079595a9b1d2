import type { Action } from '../../floor';
import { traitsOf } from '../actions/table';
import type { LampCauses } from './causes';
import type { World } from '../world/world';
import { nth } from '../../sure';

/**
 * Whether the second, fourth … turn of a list that alternates is next. Where it starts and stops something, or sets a
 * function to one value and another, that is told by how the thing stands, whoever started it; else its turns are counted,
 * and a trigger that something else sent, or its device reported, counts like a press.
 */
export function isEvenNext(world: World, state: LampCauses, actions: readonly Action[]): boolean {
  for (const odd of actions) {
    if (odd.every !== 'odd' || odd.isOff) continue;
    for (const even of actions) {
      if (even.every !== 'even' || even.isOff) continue;
      const stands = odd.kind === even.kind ? traitsOf(odd).stands(world, state, odd, even) : null;
      if (stands !== null) return stands;
    }
  }
  return state.evens[nth(actions, 0).id] ?? false;
}
