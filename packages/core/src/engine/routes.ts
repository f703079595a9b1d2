import { controller } from '../midi';
import {
  endHeld,
  modulationShare,
  modulationValue,
  restsAtMs,
  type Held,
  type ModulationRun,
  type Route,
} from '../routing';
import { conditionsOf, isGateOpen, isRouteOn } from './routeConditions';
import type { Turn } from './turn';

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
          gates: { ...routes.gates, [found.id]: next(isGateOpen(turn.world, turn.state, found)) },
        };
}

/** Ends what came by ports that are gone. */
export function endLostHeld(turn: Turn): void {
  const { held } = turn.state.routes;
  if (held.length > 0)
    cut(
      turn,
      held.filter((h) => !turn.world.portIds.has(h.portId)),
    );
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

function cut(turn: Turn, held: readonly Held[]): void {
  if (held.length === 0) return;
  const { memory, sends } = endHeld(
    turn.world.routes,
    turn.state.routes,
    conditionsOf(turn.world, turn.state),
    held,
    turn.nowMs,
  );
  turn.state.routes = memory;
  turn.deliverAll(sends, null);
}

/** Moves every modulation to where it is now; only its grid counts, so that looking more often sends no more. */
export function moveModulations(turn: Turn): void {
  for (const routeId in turn.state.routes.runs) {
    const found = turn.world.routes.byId.get(routeId);
    const m = found?.modulation;
    let run = turn.state.routes.runs[routeId]!;
    if (!found || !m) {
      keepRun(turn, routeId, null);
      continue;
    }
    if (!run.released && !isRouteOn(turn.state, found))
      run = { ...run, released: { atMs: turn.nowMs, share: modulationShare(m, run, turn.nowMs) } };
    const isOver = turn.nowMs >= restsAtMs(m, run);
    const origin = run.released?.atMs ?? run.sinceMs;
    const gridMs = origin + Math.floor((turn.nowMs - origin) / m.everyMs) * m.everyMs;
    const value = modulationValue(m, modulationShare(m, run, isOver ? turn.nowMs : gridMs));
    if (value !== run.sent) sendModulation(turn, found, run.channel, value);
    const next = { ...run, sent: value };
    keepRun(turn, routeId, isOver && run.released ? null : next);
  }
}

function keepRun(turn: Turn, routeId: string, run: ModulationRun | null): void {
  const { [routeId]: _before, ...runs } = turn.state.routes.runs;
  turn.state.routes = { ...turn.state.routes, runs: run ? { ...runs, [routeId]: run } : runs };
}

function sendModulation(turn: Turn, { id, modulation, to }: Route, own: number, value: number): void {
  for (const { portId, channel } of to) {
    const message = controller(channel ?? own, modulation!.controller, value);
    if (turn.world.routes.lines.has(portId)) turn.route(portId, message, null);
    else turn.deliverAll([{ portId, message, routeId: id }], null);
  }
}
