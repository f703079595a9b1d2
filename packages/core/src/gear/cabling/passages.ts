import type { Cable, Device, Port, Rig } from '../rig';

/** A port with the device that it belongs to. */
export type PortAt = { readonly port: Port; readonly device: Device };

/** Every port of a rig by its id. */
export const portTable = (rig: Rig): Map<string, PortAt> =>
  new Map(rig.devices.flatMap((device) => device.ports.map((port) => [port.id, { port, device }] as const)));

/**
 * The ports by which a message leaves a device after it came in by `port`: all outputs of a carrier that is not at
 * the computer (there, the computer decides), and the thru of any device.
 */
export function leavesBy({ port, device }: PortAt): readonly Port[] {
  if (port.direction !== 'in' || port.atComputer) return [];
  return device.ports.filter(
    (p) => p.direction === 'thru' || (p.direction === 'out' && device.role === 'carrier' && !p.atComputer),
  );
}

/** Cables by the port that they leave. */
export function cablesFrom(rig: Rig): Map<string, readonly Cable[]> {
  const table = new Map<string, Cable[]>();
  for (const cable of rig.cables) {
    const list = table.get(cable.fromPortId) ?? [];
    list.push(cable);
    table.set(cable.fromPortId, list);
  }
  return table;
}

/** Ports by which messages arrive at the computer, in the order of the devices. */
export const inputsAtComputer = (rig: Rig): readonly PortAt[] => portsAtComputer(rig, arrives);

/** Ports by which messages leave the computer, in the order of the devices. */
export const outputsAtComputer = (rig: Rig): readonly PortAt[] => portsAtComputer(rig, leaves);

function portsAtComputer(rig: Rig, holds: (at: PortAt) => boolean): readonly PortAt[] {
  return rig.devices.flatMap((device) =>
    device.away
      ? []
      : device.ports.flatMap((port) => {
          const at = { port, device };
          return port.atComputer && port.direction !== 'thru' && holds(at) ? [at] : [];
        }),
  );
}

/** What a device sends, what an interface takes in, and what a hub hands on that takes things in elsewhere. */
const arrives = ({ port, device }: PortAt): boolean =>
  device.role !== 'carrier'
    ? port.direction === 'out'
    : port.direction === 'in' || device.ports.some((p) => p.direction === 'in' && !p.atComputer);

const leaves = ({ port, device }: PortAt): boolean => {
  if (device.role !== 'carrier') return port.direction === 'in';
  const inputs = device.ports.filter((p) => p.direction === 'in');
  return port.direction === 'out' && (inputs.length === 0 || inputs.some((p) => p.atComputer));
};
