import { isGateOpen, isRouteOn } from '../../heard/routeConditions';
import { switchRoute } from '../../heard/routes';
import { noMessage } from '../sentRow';
import { lit, NO_STEP, NO_VALUES, type ActionTraits } from '../traits';

/** Switches a route, or opens and closes its gate. */
export const ROUTE: ActionTraits<'route'> = {
  ...NO_STEP,
  ...NO_VALUES,
  act: switchRoute,
  isOwn: false,
  label: ({ part }) => (part === 'gate' ? 'Gate' : 'Route'),
  deed: ({ part, routeId }, names) =>
    `switch ${part === 'gate' ? 'the gate of ' : ''}${names.route(routeId) ?? 'a route that is gone'}`,
  row: ({ part, to }) =>
    noMessage(
      part === 'gate'
        ? `${{ on: 'opens', off: 'closes', toggle: 'opens or closes' }[to]} a gate`
        : `switches a route${to === 'toggle' ? '' : ` ${to}`}`,
    ),
  byBoard: () => 'host',
  light({ world, state, down }, { routeId, part }) {
    const found = world.routes.byId.get(routeId);
    if (!found) return lit(down);
    return lit(part === 'route' ? isRouteOn(state, found) : isGateOpen(world, state, found));
  },
  // Its gate may follow a controller, a function or the scene; one that is gone is lit while it is down.
  follows: () => null,
  isInCues: true,
  leadsAway: false,
  leads: 'beside',
  lasting: (action) => (action.to === 'toggle' ? null : action),
  stands(world, state, first, second) {
    const found = world.routes.byId.get(first.routeId);
    const isSame = first.routeId === second.routeId && first.part === second.part;
    if (!found || !isSame || first.part !== 'route' || first.to === second.to) return null;
    if (first.to === 'toggle' || second.to === 'toggle') return null;
    return (first.to === 'on') === isRouteOn(state, found);
  },
};
