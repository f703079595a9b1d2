import { PORT_GONE, portWords, type Device } from '../gear';
import type { Routing } from './route';

/** A port with its device, or a line, by its id. Example: `Crossbar Out A`, `line Keys`. */
export function portName(
  rig: { readonly devices: readonly Device[]; readonly routing?: Pick<Routing, 'lines'> },
  portId: string,
): string {
  for (const device of rig.devices) {
    const port = device.ports.find((p) => p.id === portId);
    if (port) return portWords(device, port);
  }
  const line = rig.routing?.lines.find((l) => l.id === portId);
  return line ? `line ${line.name}` : PORT_GONE;
}
