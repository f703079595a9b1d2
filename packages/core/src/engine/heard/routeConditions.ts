import { modulationDueMs, type Route, type RouteConditions } from '../../routing';
import { valueOf, type Known } from '../state/known';
import type { LiveState } from '../state/liveState';
import type { World } from '../world/world';

/** Whether a route is on now: as it was switched last, else as it is written down. */
export const isRouteOn = (state: Pick<LiveState, 'routes'>, route: Route): boolean =>
  state.routes.switched[route.id] ?? route.isOn;

/** Whether the gate of a route lets through what it holds; a route without a gate is open. */
export function isGateOpen(
  world: World,
  state: Known & Pick<LiveState, 'routes' | 'position'>,
  { id, gate }: Route,
): boolean {
  if (!gate) return true;
  const { by, startsOpen } = gate;
  switch (by.kind) {
    case 'controller':
    case 'switch':
      return state.routes.gates[id] ?? startsOpen;
    case 'function': {
      const value = valueOf(world, state, by.functionId);
      return value === undefined ? startsOpen : value >= by.from && value <= by.to;
    }
    case 'scenes': {
      const { sceneId } = state.position;
      return sceneId === null ? startsOpen : by.sceneIds.includes(sceneId);
    }
  }
}

/** What the rest of the rig says about routes now. */
export const conditionsOf = (
  world: World,
  state: Known & Pick<LiveState, 'routes' | 'position'>,
): RouteConditions => ({
  isOn: (route) => isRouteOn(state, route),
  isOpen: (route) => isGateOpen(world, state, route),
});

/**
 * When the next modulation moves, in ms; infinite when none does.
 * @param lateUntilMs points of their ways before this are skipped.
 */
export function modulationsDueMs(world: World, state: LiveState, lateUntilMs: number): number {
  let atMs = Infinity;
  for (const routeId in state.routes.runs) {
    const m = world.routes.byId.get(routeId)?.modulation;
    const due = m ? modulationDueMs(m, state.routes.runs[routeId]!, lateUntilMs) : null;
    if (due !== null && due < atMs) atMs = due;
  }
  return atMs;
}
