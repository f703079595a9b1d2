import { controller } from '../../midi';
import {
  endBegun,
  letGo,
  modulationDueMs,
  modulationShare,
  modulationValue,
  nextPoint,
  type Begun,
  type ModulationRun,
  type Route,
} from '../../routing';
import { conditionsOf, isGateOpen, isRouteOn } from './routeConditions';
import { deliverAll, route } from '../live/sending';
import { type Live } from '../live/live';

/** Switches a route or its gate by hand. A gate that follows something else is left to that. */
export function switchRoute(
  live: Live,
  given: { readonly routeId: string; readonly part: 'route' | 'gate'; readonly to: 'on' | 'off' | 'toggle' },
): void {
  const found = live.world.routes.byId.get(given.routeId);
  if (!found) {
    live.note({ code: 'route-gone' });
    return;
  }
  const { routes } = live.state;
  const next = (now: boolean) => (given.to === 'toggle' ? !now : given.to === 'on');
  live.state.routes =
    given.part === 'route'
      ? { ...routes, switched: { ...routes.switched, [found.id]: next(isRouteOn(live.state, found)) } }
      : {
          ...routes,
          gates: { ...routes.gates, [found.id]: next(isGateOpen(live.world, live.state, found)) },
        };
}

/** Ends what came by one port, which was unplugged. */
export function cutAt(live: Live, portId: string): void {
  const { routes } = live.state;
  if (routes.repeats.some((r) => r.portId === portId))
    live.state.routes = { ...routes, repeats: routes.repeats.filter((r) => r.portId !== portId) };
  cut(
    live,
    routes.begun.filter((h) => h.portId === portId),
  );
}

/** Ends everything that is held and puts every modulation to rest. */
export function silenceRoutes(live: Live): void {
  cut(live, live.state.routes.begun);
  for (const [routeId, run] of Object.entries(live.state.routes.runs)) {
    const found = live.world.routes.byId.get(routeId);
    if (found?.modulation && run.sent !== found.modulation.rest)
      sendModulation(live, found, run.channel, found.modulation.rest);
  }
  live.state.routes = { ...live.state.routes, runs: {}, repeats: [] };
}

export function cut(live: Live, held: readonly Begun[]): void {
  if (held.length === 0) return;
  const { memory, sends } = endBegun(
    live.world.routes,
    live.state.routes,
    conditionsOf(live.world, live.state),
    held,
    live.nowMs,
  );
  live.state.routes = memory;
  deliverAll(live, sends, null);
}

/** Moves every modulation whose next point has come; one whose route was switched off goes back to rest. */
export function moveModulations(live: Live): void {
  for (const routeId in live.state.routes.runs) {
    const found = live.world.routes.byId.get(routeId);
    const m = found?.modulation;
    if (!found || !m) continue;
    let run = live.state.routes.runs[routeId];
    if (!run) continue;
    if (!run.released && !isRouteOn(live.state, found)) {
      run = letGo(m, run, live.nowMs);
      keepRun(live, routeId, run);
    }
    const point = nextPoint(m, run, live.lateUntilMs);
    if (point === null || modulationDueMs(m, run, live.lateUntilMs)! > live.nowMs) continue;
    const value = modulationValue(m, modulationShare(m, run, live.nowMs));
    if (value !== run.sent) sendModulation(live, found, run.channel, value);
    const next = { ...run, sent: value, pointsDone: point + 1 };
    keepRun(live, routeId, next.released && nextPoint(m, next) === null ? null : next);
  }
}

export function keepRun(live: Live, routeId: string, run: ModulationRun | null): void {
  const { [routeId]: _before, ...runs } = live.state.routes.runs;
  live.state.routes = { ...live.state.routes, runs: run ? { ...runs, [routeId]: run } : runs };
}

export function sendModulation(live: Live, { id, modulation, to }: Route, own: number, value: number): void {
  for (const { portId, channel } of to) {
    const message = controller(channel ?? own, modulation!.controller, value);
    if (live.world.routes.lines.has(portId)) route(live, portId, message, null);
    else deliverAll(live, [{ portId, message, routeId: id }], null);
  }
}
