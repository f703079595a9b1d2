import { type Device, ESTIMATED_LATENCY_MS, judgeCable, type CableFinding } from '@idle-step/core/gear';
import type { FullRig } from '@idle-step/core/routing';

/** Edits of a rig: pure, each gives the new document. */

export type PortDoc = Device['ports'][number];

export const withDevice = (rig: FullRig, id: string, change: (device: Device) => Device): FullRig => ({
  ...rig,
  devices: rig.devices.map((d) => (d.id === id ? change(d) : d)),
});

export function withoutDevice(rig: FullRig, device: Device): FullRig {
  const ports = new Set(device.ports.map((p) => p.id));
  return {
    ...rig,
    devices: rig.devices.filter((d) => d.id !== device.id),
    cables: rig.cables.filter((c) => !ports.has(c.fromPortId) && !ports.has(c.toPortId)),
    boards: rig.boards.filter((b) => b.deviceId !== device.id),
  };
}

/** A port goes with its cables. */
export const withoutPort = (rig: FullRig, deviceId: string, portId: string): FullRig => ({
  ...withDevice(rig, deviceId, (d) => ({ ...d, ports: d.ports.filter((p) => p.id !== portId) })),
  cables: rig.cables.filter((c) => c.fromPortId !== portId && c.toPortId !== portId),
});

/** A port on another link gets that link's first estimate of its latency, or none. */
export const withLink = (port: PortDoc, link: PortDoc['link']): PortDoc => ({
  ...port,
  link,
  isUsbHost: link === 'usb' && port.isUsbHost,
  direction: link === 'din' || port.direction !== 'thru' ? port.direction : 'out',
  latencyMs: ESTIMATED_LATENCY_MS[link] ?? 0,
});

/** Draws a cable unless a rule refuses it; what it is warned of comes with it. */
export function plugCable(
  rig: FullRig,
  fromPortId: string,
  toPortId: string,
): { rig: FullRig | null; faults: readonly CableFinding[] } {
  const faults = judgeCable(rig, fromPortId, toPortId);
  if (faults.some((f) => f.severity === 'refused')) return { rig: null, faults };
  const cable = { id: crypto.randomUUID(), fromPortId, toPortId };
  return { rig: { ...rig, cables: [...rig.cables, cable] }, faults };
}

/** A name of an extra channel or option changed everywhere in the chart of its device. */
export const renamedIn = (
  chart: Device['chart'],
  field: 'extraChannel' | 'under',
  from: string,
  to: string | null,
): Device['chart'] => chart.map((f) => (f[field] === from ? { ...f, [field]: to } : f));
