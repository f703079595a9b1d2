import { type FullRig, type Route, layersOf, PLAIN_ROUTE } from '@idle-step/core/routing';
import { type Preset, actionsOf, pagesOf } from '@idle-step/core/floor';
import { inputsAtComputer, outputsAtComputer } from '@idle-step/core/gear';
import { freeName } from '../words/names';
import { there } from '@idle-step/core/sure';

/** Edits of a rig's routes: pure, each gives the new document. */

export type RoutePart = 'from' | 'what' | 'change' | 'gate' | 'to';

export const withRoutes = (
  rig: FullRig,
  change: (routes: readonly Route[]) => readonly Route[],
): FullRig => ({
  ...rig,
  routing: { ...rig.routing, routes: change(rig.routing.routes) },
});

export const withRoute = (rig: FullRig, id: string, change: (route: Route) => Route): FullRig =>
  withRoutes(rig, (routes) => routes.map((r) => (r.id === id ? change(r) : r)));

/** A route from the first input to the first output that is not where it came from. */
export function newRoute(rig: FullRig): Route {
  const input = inputsAtComputer(rig)[0]?.port.id;
  const output = outputsAtComputer(rig)[0]?.port.id;
  return {
    ...structuredClone(PLAIN_ROUTE),
    id: crypto.randomUUID(),
    name: freeName(
      rig.routing.routes.map((r) => r.name),
      'New route',
    ),
    from: { portIds: input ? [input] : [], channels: [], kinds: [], numbers: [], values: null },
    to: output ? [{ portId: output, channel: null }] : [],
  };
}

/** A layer on the first keys or pads of the rig, that no scene has switched on yet. It comes before all other routes. */
export function newLayer(rig: FullRig): Route {
  const boards = new Set(rig.boards.map((b) => b.deviceId));
  const inputs = inputsAtComputer(rig);
  const keys =
    inputs.find(({ device }) => device.role === 'controller' && !boards.has(device.id)) ?? inputs[0];
  const made = newRoute(rig);
  return {
    ...made,
    name: freeName(
      rig.routing.routes.map((r) => r.name),
      'Layer',
    ),
    isOn: false,
    isLayer: true,
    from: { ...made.from, portIds: keys ? [keys.port.id] : [] },
    after: 'pass',
  };
}

/** What a layer is called until somebody names it. */
const UNNAMED = /^Layer( \d+)?$/;

/** A layer that nobody has named is called after the device that it plays. */
export function withLayerNamed(rig: FullRig, id: string): FullRig {
  const layer = layersOf(rig).find((l) => l.route.id === id);
  const device = layer?.level?.device.name;
  if (device === undefined || !UNNAMED.test(there(layer).route.name)) return rig;
  const others = rig.routing.routes.flatMap((r) => (r.id === id ? [] : r.name));
  return withRoute(rig, id, (r) => ({ ...r, name: freeName(others, device) }));
}

/** The same route once more, right behind it. */
export const withCopy = (rig: FullRig, id: string): FullRig =>
  withRoutes(rig, (routes) =>
    routes.flatMap((r) =>
      r.id === id
        ? [
            r,
            {
              ...structuredClone(r),
              id: crypto.randomUUID(),
              name: freeName(
                routes.map((x) => x.name),
                r.name,
              ),
            },
          ]
        : [r],
    ),
  );

export function withLine(rig: FullRig): FullRig {
  const name = freeName(
    rig.routing.lines.map((l) => l.name),
    'Line',
  );
  const lines = [...rig.routing.lines, { id: crypto.randomUUID(), name }];
  return { ...rig, routing: { ...rig.routing, lines } };
}

/** Without a line; routes that took from it or sent there do so no more. */
export function withoutLine(rig: FullRig, id: string): FullRig {
  const cut = withRoutes(rig, (routes) =>
    routes.map((r) => ({
      ...r,
      from: { ...r.from, portIds: r.from.portIds.filter((p) => p !== id) },
      to: r.to.filter((t) => t.portId !== id),
    })),
  );
  return { ...cut, routing: { ...cut.routing, lines: cut.routing.lines.filter((l) => l.id !== id) } };
}

/** Where a route is switched by an action, in words. */
export const usersOf = (presets: readonly Preset[], routeId: string): string[] =>
  presets.flatMap((preset) =>
    pagesOf(preset).flatMap((page) =>
      page.assignments.some((a) => actionsOf(a).some((x) => 'routeId' in x && x.routeId === routeId))
        ? [`${preset.name}, ${page.name}`]
        : [],
    ),
  );
