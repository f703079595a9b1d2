import type { Finding } from '../edits';
import type { Route } from './route';

const meet = <T>(a: readonly T[], b: readonly T[]): boolean =>
  a.length === 0 || b.length === 0 || a.some((x) => b.includes(x));

/**
 * The routes below one with a gate that want some of the same messages. They get none of them while the gate is closed: the
 * route above has taken them in. None where it passes messages on to those below. The first of `routeIds` is the one above.
 */
export function starvedRoutes(routes: readonly Route[], index: number): Finding<'starved'> | null {
  const route = routes[index];
  if (!route?.gate || !route.isOn || route.after === 'pass') return null;
  const { from } = route;
  const starved = routes
    .slice(index + 1)
    .filter(
      (below) =>
        below.isOn &&
        below.from.portIds.some((id) => from.portIds.includes(id)) &&
        meet(below.from.kinds, from.kinds) &&
        meet(below.from.channels, from.channels),
    );
  if (starved.length === 0) return null;
  return {
    code: 'starved',
    severity: 'warned',
    place: { routeIds: [route.id, ...starved.map((r) => r.id)] },
    sentence: `While it is closed, nothing of this reaches ${starved.map((r) => r.name).join(', ')} below.`,
    mends: [
      {
        text: 'Offer it to the routes below too',
        document: 'rig',
        changes: [
          {
            kind: 'put',
            path: ['routing', 'routes', { row: route.id }, 'after'],
            from: route.after,
            to: 'pass',
          },
        ],
      },
    ],
  };
}
