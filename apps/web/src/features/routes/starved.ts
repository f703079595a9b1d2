import type { RouteDoc } from '@idle-step/contract';

const meet = <T>(a: readonly T[], b: readonly T[]): boolean =>
  a.length === 0 || b.length === 0 || a.some((x) => b.includes(x));

/**
 * The names of the routes below one that would take in some of the same, and get none of it while its gate is closed:
 * what it holds back it has taken in. None where it offers what it takes in to those below as well.
 */
export function starvedBy(routes: readonly RouteDoc[], index: number): string[] {
  const route = routes[index];
  if (!route?.gate || !route.isOn || route.after === 'pass') return [];
  const { from } = route;
  return routes
    .slice(index + 1)
    .filter(
      (below) =>
        below.isOn &&
        below.from.portIds.some((id) => from.portIds.includes(id)) &&
        meet(below.from.kinds, from.kinds) &&
        meet(below.from.channels, from.channels),
    )
    .map((below) => below.name);
}
