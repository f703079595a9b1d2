import {
  Cabling,
  channelsHeard,
  functionChannel,
  PLAIN_FUNCTION,
  type ChartFunction,
  type Device,
  type Rig,
} from '../gear';
import type { Route, Routing } from './route';

/** The controller of volume. Source: MIDI 1.0 Detailed Specification, "Channel Volume". */
const VOLUME = 7;

/** An instrument that keys or pads play: a route by the name of the instrument, that scenes switch. */
export type Layer = {
  readonly route: Route;
  /** What its level is: the volume of what it plays. `null` where nothing there can be told. */
  readonly level: { readonly device: Device; readonly fn: ChartFunction } | null;
};

/** Layers that one song may have. */
export const LAYERS_AT_MOST = 16;

/**
 * The layers of a rig in the order of its routes. The level of a layer is the row for volume in the chart of the
 * instrument, or where the chart has none, a row of its own that has the identifier of the route.
 */
export function layersOf(rig: Rig & { readonly routing?: Routing }): readonly Layer[] {
  const routes = rig.routing?.routes.filter((r) => r.isLayer) ?? [];
  if (routes.length === 0) return [];
  const cabling = new Cabling(rig);
  return routes.map((route) => ({ route, level: levelOf(rig, cabling, route) }));
}

function levelOf(rig: Rig, cabling: Cabling, route: Route): Layer['level'] {
  for (const { portId, channel } of route.to) {
    const device = rig.devices.find(
      (d) =>
        d.role === 'receiver' &&
        cabling.pathTo(d)?.portId === portId &&
        (channel === null || channelsHeard(d).includes(channel)),
    );
    if (!device) continue;
    const on = channel ?? device.channel;
    const own = device.chart.find(
      (fn) =>
        fn.drive.kind === 'controller' &&
        fn.drive.controller === VOLUME &&
        functionChannel(device, fn) === on,
    );
    if (own) return { device, fn: own };
    return {
      device,
      fn: {
        ...PLAIN_FUNCTION,
        id: route.id,
        name: `${route.name} level`,
        drive: { kind: 'controller', controller: VOLUME },
        shape: { kind: 'range', min: 0, max: 127, shownFrom: 0 },
        channel: on,
      },
    };
  }
  return null;
}
