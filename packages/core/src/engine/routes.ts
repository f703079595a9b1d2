import { controller } from '../midi';
import {
  endHeld,
  letGo,
  modulationDueMs,
  modulationShare,
  modulationValue,
  nextPoint,
  type Held,
  type ModulationRun,
  type Route,
} from '../routing';
import { conditionsOf, isGateOpen, isRouteOn } from './routeConditions';
import { deliverAll, route, type Turn } from './turn';

/** Switches a route or its gate by hand. A gate that follows something else is left to that. */
export function switchRoute(
  turn: Turn,
  given: { readonly routeId: string; readonly part: 'route' | 'gate'; readonly to: 'on' | 'off' | 'turn' },
): void {
  const found = turn.world.routes.byId.get(given.routeId);
  if (!found) {
    turn.note({ code: 'route-gone' });
    return;
  }
  const { routes } = turn.state;
  const next = (now: boolean) => (given.to === 'turn' ? !now : given.to === 'on');
  turn.state.routes =
    given.part === 'route'
      ? { ...routes, switched: { ...routes.switched, [found.id]: next(isRouteOn(turn.state, found)) } }
      : {
          ...routes,
          gates: { ...routes.gates, [found.id]: next(isGateOpen(turn.state, found)) },
        };
}

/** Ends what came by one port, which was unplugged. */
export const losePort = (turn: Turn, portId: string): void =>
  cut(
    turn,
    turn.state.routes.held.filter((h) => h.portId === portId),
  );

/** Ends everything that is held and puts every modulation to rest. */
export function silenceRoutes(turn: Turn): void {
  cut(turn, turn.state.routes.held);
  for (const [routeId, run] of Object.entries(turn.state.routes.runs)) {
    const found = turn.world.routes.byId.get(routeId);
    if (found?.modulation && run.sent !== found.modulation.rest)
      sendModulation(turn, found, run.channel, found.modulation.rest);
  }
  turn.state.routes = { ...turn.state.routes, runs: {} };
}

export function cut(turn: Turn, held: readonly Held[]): void {
  if (held.length === 0) return;
  const { memory, sends } = endHeld(
    turn.world.routes,
    turn.state.routes,
    conditionsOf(turn.state),
    held,
    turn.nowMs,
  );
  turn.state.routes = memory;
  deliverAll(turn, sends, null);
}

/** Moves every modulation whose next point has come; one whose route was switched off goes back to rest. */
export function moveModulations(turn: Turn): void {
  for (const routeId in turn.state.routes.runs) {
    const found = turn.world.routes.byId.get(routeId);
    const m = found?.modulation;
    if (!found || !m) continue;
    let run = turn.state.routes.runs[routeId];
    if (!run) continue;
    if (!run.released && !isRouteOn(turn.state, found)) {
      run = letGo(m, run, turn.nowMs);
      keepRun(turn, routeId, run);
    }
    const point = nextPoint(m, run, turn.lateUntilMs);
    if (point === null || modulationDueMs(m, run, turn.lateUntilMs)! > turn.nowMs) continue;
    const value = modulationValue(m, modulationShare(m, run, turn.nowMs));
    if (value !== run.sent) sendModulation(turn, found, run.channel, value);
    const next = { ...run, sent: value, pointsDone: point + 1 };
    keepRun(turn, routeId, next.released && nextPoint(m, next) === null ? null : next);
  }
}

export function keepRun(turn: Turn, routeId: string, run: ModulationRun | null): void {
  const { [routeId]: _before, ...runs } = turn.state.routes.runs;
  turn.state.routes = { ...turn.state.routes, runs: run ? { ...runs, [routeId]: run } : runs };
}

export function sendModulation(turn: Turn, { id, modulation, to }: Route, own: number, value: number): void {
  for (const { portId, channel } of to) {
    const message = controller(channel ?? own, modulation!.controller, value);
    if (turn.world.routes.lines.has(portId)) route(turn, portId, message, null);
    else deliverAll(turn, [{ portId, message, routeId: id }], null);
  }
}
