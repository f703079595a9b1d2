import { cablesFrom, type Device, type Rig } from '../../gear';
import { lookIn, lost, type Loss } from './hops';
import { nth } from '../../sure';

/** Why no way leads between the computer and a device. `toward` says whether it is to be reached or to reach. */
export function whyNoWay(rig: Rig, device: Device, toward: 'device' | 'computer'): Loss {
  const name = device.name;
  if (device.away)
    return lost('device', 'away', `${name} is packed away; unpack it in Rig.`, {
      kind: 'unpack',
      deviceId: device.id,
      text: `Unpack ${name}`,
    });
  const wanted = toward === 'device' ? 'in' : 'out';
  const ports = device.ports.filter((p) => p.direction === wanted);
  const cabled = ports.filter((p) =>
    rig.cables.some((c) => (toward === 'device' ? c.toPortId : c.fromPortId) === p.id),
  );
  const mend = lookIn('rig', device.id);
  const usb = ports.find((p) => p.link === 'usb' && !p.isUsbHost);
  if (cabled.length === 0 && usb)
    return lost(
      'cable',
      'no-host',
      `${name} ${usb.name} is a USB device and hangs on no host: two USB devices do not talk to each other. Plug it into the computer, or into a hub that is a host.`,
      mend,
    );
  if (cabled.length === 0)
    return lost(
      'cable',
      'no-cable',
      ports.length === 0
        ? `${name} has no ${wanted === 'in' ? 'input' : 'output'}. Add one in Rig.`
        : `No cable is plugged into ${name} ${nth(ports, 0).name}. Draw one in Rig.`,
      mend,
    );
  const end = toward === 'device' ? firstBefore(rig, nth(cabled, 0).id) : lastAfter(rig, nth(cabled, 0).id);
  return lost(
    'cable',
    'no-cable',
    `The cables of ${name} end at ${end}, and from there nothing leads ${toward === 'device' ? 'back to' : 'to'} the computer. Draw the missing cable in Rig.`,
    mend,
  );
}

/** Follows cables as far as they lead, and names the box at the end. */
function lastAfter(rig: Rig, portId: string): string {
  const outOf = cablesFrom(rig);
  const owner = (id: string) => rig.devices.find((d) => d.ports.some((p) => p.id === id));
  const seen = new Set<string>();
  let at = owner(portId);
  for (let port: string | undefined = portId; port && !seen.has(port);) {
    seen.add(port);
    const next = outOf.get(port)?.[0]?.toPortId;
    if (!next) break;
    at = owner(next);
    port = at?.ports.find((p) => p.direction === 'out' && outOf.has(p.id))?.id;
  }
  return at?.name ?? 'a port that is gone';
}

function firstBefore(rig: Rig, portId: string): string {
  const owner = (id: string) => rig.devices.find((d) => d.ports.some((p) => p.id === id));
  const seen = new Set<string>();
  let at = owner(portId);
  for (let port: string | undefined = portId; port && !seen.has(port);) {
    seen.add(port);
    const before = rig.cables.find((c) => c.toPortId === port)?.fromPortId;
    if (!before) break;
    at = owner(before);
    port = at?.ports.find((p) => p.direction === 'in')?.id;
  }
  return at?.name ?? 'a port that is gone';
}
