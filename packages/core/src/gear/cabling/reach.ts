import type { LinkKind } from '../../midi';
import type { Device, Port, Rig } from '../rig';

/** How the computer and a device reach each other. */
export type Path = {
  /** The port at the computer through which messages leave or arrive. */
  readonly portId: string;
  /** `din` as soon as one cable on the way is a DIN cable: the slowest link sets the time. */
  readonly link: LinkKind;
  /** Estimated delay of the Bluetooth and network links on the way, in ms. */
  readonly latencyMs: number;
};

type PortAt = { readonly port: Port; readonly device: Device };

/** Ports and cables as tables. Cables to ports that are gone are left out. */
export class Cabling {
  private readonly ports = new Map<string, PortAt>();
  private readonly into = new Map<string, PortAt[]>();
  private readonly outOf = new Map<string, PortAt[]>();

  constructor(rig: Rig) {
    for (const device of rig.devices)
      for (const port of device.ports) this.ports.set(port.id, { port, device });
    for (const cable of rig.cables) {
      const from = this.ports.get(cable.fromPortId);
      const to = this.ports.get(cable.toPortId);
      if (!from || !to || from.device.away || to.device.away) continue;
      append(this.into, to.port.id, from);
      append(this.outOf, from.port.id, to);
    }
  }

  /** From the computer to a device that answers, or `null` when no cable leads there. */
  pathTo(device: Device): Path | null {
    return this.walk(device, ['in'], this.into, (at) => this.inputsBehind(at));
  }

  /** From a device's own outputs to the computer, or `null`. */
  pathFrom(device: Device): Path | null {
    return this.walk(device, ['out'], this.outOf, (at) => this.outputsBehind(at));
  }

  /** Breadth first, so the path with the fewest cables is found; each port is looked at once, so loops end. */
  private walk(
    device: Device,
    directions: readonly Port['direction'][],
    table: ReadonlyMap<string, readonly PortAt[]>,
    behind: (at: PortAt) => readonly Port[],
  ): Path | null {
    if (device.away) return null;
    const seen = new Set<string>();
    let front = device.ports
      .filter((p) => directions.includes(p.direction))
      .map((port) => ({ at: { port, device } satisfies PortAt, link: port.link, latencyMs: port.latencyMs }));
    while (front.length > 0) {
      const found = front.find((f) => f.at.port.atComputer);
      if (found) return { portId: found.at.port.id, link: found.link, latencyMs: found.latencyMs };
      const next: typeof front = [];
      for (const { at, link, latencyMs: before } of front) {
        for (const neighbour of table.get(at.port.id) ?? []) {
          if (seen.has(neighbour.port.id)) continue;
          seen.add(neighbour.port.id);
          const slow = slower(link, neighbour.port.link);
          // Both ends of a cable may carry an estimate for it: it counts once.
          const latencyMs = before + Math.max(0, neighbour.port.latencyMs - at.port.latencyMs);
          next.push({ at: neighbour, link: slow, latencyMs });
          if (neighbour.port.atComputer) continue;
          for (const port of behind(neighbour))
            next.push({
              at: { port, device: neighbour.device },
              link: slow,
              latencyMs: latencyMs + port.latencyMs,
            });
        }
      }
      front = next;
    }
    return null;
  }

  /** Inputs whose messages also leave by this output: those of a carrier, or the one that a thru repeats. */
  private inputsBehind({ port, device }: PortAt): readonly Port[] {
    if (port.direction !== 'thru' && device.role !== 'carrier') return [];
    return device.ports.filter((p) => p.direction === 'in');
  }

  private outputsBehind({ device }: PortAt): readonly Port[] {
    return device.role === 'carrier' ? device.ports.filter((p) => p.direction === 'out') : [];
  }
}

const slower = (a: LinkKind, b: LinkKind): LinkKind => (a === 'din' || b === 'din' ? 'din' : a);

function append<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
