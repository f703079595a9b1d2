import type { Message } from '../../midi';
import { compileChange } from './change';
import {
  mayTake,
  numberOf,
  routeKind,
  KIND_INDEX,
  ROUTE_KINDS,
  type Gate,
  type Route,
  type Routing,
} from '../route';

/** A route with its change made ready. */
export type ReadyRoute = {
  readonly route: Route;
  readonly change: Change;
  /** One for each destination. */
  readonly legs: readonly (Leg & { readonly portId: string })[];
};

export type Change = (message: Message) => Message | null;

/** What a message goes through on its way to a destination; `channel` 0–15, `null` where it stays. */
export type Leg = { readonly change: Change; readonly channel: number | null };

/** Routes made ready: what may take a message in is found by its port, kind, channel and number without a search. */
export type RouteTable = {
  readonly routing: Routing;
  /** Every port and line that a route takes from, with what it takes. */
  readonly sources: ReadonlyMap<string, RouteSource>;
  /** Inputs at the computer. */
  readonly inputs: ReadonlySet<string>;
  readonly lines: ReadonlySet<string>;
  readonly byId: ReadonlyMap<string, Route>;
  /** Routes whose gate a controller moves, by its number. */
  readonly controllerGates: ReadonlyMap<number, readonly ControllerGate[]>;
  readonly othersTo: readonly string[];
};

type ControllerGate = { readonly routeId: string; readonly by: Gate['by'] & { readonly kind: 'controller' } };

/** @param inputIds every input at the computer: what a route takes from that names no port. */
export function compileRoutes(routing: Routing, inputIds: readonly string[]): RouteTable {
  const bySource = new Map<string, ReadyRoute[]>(
    routing.othersTo.length > 0 ? inputIds.map((id) => [id, []]) : [],
  );
  const controllerGates = new Map<number, ControllerGate[]>();
  for (const route of routing.routes) {
    const change = compileChange(route.change, route.from.values);
    const ready = { route, change, legs: route.to.map((to) => ({ ...to, change })) };
    const ids = route.from.portIds.length > 0 ? route.from.portIds : inputIds;
    for (const id of new Set(ids)) {
      const list = bySource.get(id) ?? [];
      list.push(ready);
      bySource.set(id, list);
    }
    const by = route.gate?.by;
    if (by?.kind !== 'controller') continue;
    const gates = controllerGates.get(by.controller) ?? [];
    gates.push({ routeId: route.id, by });
    controllerGates.set(by.controller, gates);
  }
  return {
    routing,
    sources: new Map([...bySource].map(([id, ready]) => [id, new RouteSource(ready)])),
    inputs: new Set(inputIds),
    lines: new Set(routing.lines.map((l) => l.id)),
    byId: new Map(routing.routes.map((r) => [r.id, r])),
    controllerGates,
    othersTo: routing.othersTo,
  };
}

/** What takes from one port. The answer for each kind, channel and number is found once and kept. */
export class RouteSource {
  /** As long as it will be from the start: one that grows by holes is searched like a dictionary. */
  private readonly found: (readonly ReadyRoute[] | undefined)[] = new Array(ROUTE_KINDS.length << 11);

  constructor(private readonly routes: readonly ReadyRoute[]) {}

  /** Routes that may take a message in, in their order, whatever its value. */
  takersOf(message: Message): readonly ReadyRoute[] {
    const key = takerKey(message);
    return (this.found[key] ??= this.routes.filter(({ route }) => mayTake(route, message)));
  }
}

const takerKey = (message: Message): number =>
  (KIND_INDEX[routeKind(message)] << 11) |
  ('channel' in message ? (message.channel << 7) | (numberOf(message) ?? 0) : 0);
