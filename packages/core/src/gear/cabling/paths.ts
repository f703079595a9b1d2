import { cablesFrom, leavesBy, portTable, type PortAt } from './passages';
import type { Cable, Device, Port, Rig } from '../rig';

/** One way from a device that sends to one that answers. */
export type RigPath = {
  readonly stops: readonly PathStop[];
  /** The cables on the way, in order. */
  readonly cableIds: readonly string[];
};

/** A stop on the way: which device, and by which ports it is entered and left. `computer` stands between two ports. */
export type PathStop =
  | {
      readonly kind: 'device';
      readonly device: Device;
      readonly enters: Port | null;
      readonly leaves: Port | null;
    }
  | { readonly kind: 'computer' };

/** Ways listed at the most: a rig of 60 devices behind one computer has thousands. */
export const PATHS_LISTED = 2000;

/**
 * Every way through the rig from what is touched to what answers, in the order of the devices: through carriers and
 * thrus as the cables lead, and through the computer, which can send what arrives to any of its outputs. Devices that
 * are packed away are left out. At most `PATHS_LISTED` are given.
 */
export function rigPaths(rig: Rig): readonly RigPath[] {
  const ports = portTable(rig);
  const outOf = cablesFrom(rig);
  const present = (at: PortAt | undefined): at is PortAt => at !== undefined && !at.device.away;
  const found: RigPath[] = [];

  const follow = (device: Device, leaves: Port, before: RigPath, enters: Port | null): void => {
    if (found.length >= PATHS_LISTED) return;
    const way: RigPath = {
      ...before,
      stops: [...before.stops, { kind: 'device', device, enters, leaves }],
    };
    if (leaves.atComputer && !way.stops.some((s) => s.kind === 'computer')) fromComputer(way);
    for (const cable of outOf.get(leaves.id) ?? []) enter(cable, way);
  };
  const enter = (cable: Cable, way: RigPath): void => {
    const to = ports.get(cable.toPortId);
    if (!present(to) || way.cableIds.includes(cable.id)) return;
    const next: RigPath = { stops: way.stops, cableIds: [...way.cableIds, cable.id] };
    if (to.device.role === 'receiver') arrive(to.device, to.port, next);
    if (to.port.atComputer && !way.stops.some((s) => s.kind === 'computer'))
      fromComputer({
        ...next,
        stops: [...next.stops, { kind: 'device', device: to.device, enters: to.port, leaves: null }],
      });
    for (const port of leavesBy(to)) follow(to.device, port, next, to.port);
  };
  const fromComputer = (way: RigPath): void => {
    const next: RigPath = { ...way, stops: [...way.stops, { kind: 'computer' }] };
    for (const device of rig.devices) {
      if (device.away) continue;
      for (const port of device.ports) {
        if (!port.atComputer) continue;
        if (device.role === 'receiver' && port.direction === 'in') arrive(device, port, next);
        if (device.role === 'carrier' && port.direction === 'out') follow(device, port, next, null);
      }
    }
  };
  const arrive = (device: Device, enters: Port, way: RigPath): void => {
    if (found.length < PATHS_LISTED)
      found.push({ ...way, stops: [...way.stops, { kind: 'device', device, enters, leaves: null }] });
  };

  for (const device of rig.devices) {
    if (device.role !== 'controller' || device.away) continue;
    for (const port of device.ports)
      if (port.direction === 'out') follow(device, port, { stops: [], cableIds: [] }, null);
  }
  return found;
}

/** The ways that lead through a device or a cable. */
export const pathsThrough = (
  paths: readonly RigPath[],
  what: { readonly deviceId: string } | { readonly cableId: string },
): readonly RigPath[] =>
  paths.filter((path) =>
    'cableId' in what
      ? path.cableIds.includes(what.cableId)
      : path.stops.some((s) => s.kind === 'device' && s.device.id === what.deviceId),
  );

/**
 * The port at the computer whose messages a cable carries, by cable: what leaves there flows down it, or what it
 * brings arrives there. Cables between two boxes far from the computer are left out: nothing of them is seen here.
 */
export function computerPorts(rig: Rig): ReadonlyMap<string, string> {
  const ports = portTable(rig);
  const outOf = cablesFrom(rig);
  const table = new Map<string, string>();
  const down = (portId: string, computerPortId: string): void => {
    for (const cable of outOf.get(portId) ?? []) {
      if (table.has(cable.id)) continue;
      table.set(cable.id, computerPortId);
      const to = ports.get(cable.toPortId);
      for (const port of to ? leavesBy(to) : []) down(port.id, computerPortId);
    }
  };
  for (const { port } of ports.values())
    if (port.atComputer && port.direction === 'out') down(port.id, port.id);
  for (const cable of rig.cables)
    if (ports.get(cable.toPortId)?.port.atComputer) table.set(cable.id, cable.toPortId);
  return table;
}
