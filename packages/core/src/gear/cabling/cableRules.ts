import type { Finding, Mend } from '../../edits';
import { LINK_WORDS, PORT_GONE, portWords } from './portWords';
import { channelsHeard } from './listening';
import { cablesFrom, leavesBy, portTable, type PortAt } from './passages';
import type { Cable, Device, Rig } from '../rig';
import { Cabling } from './reach';

export type CableCode =
  | 'gone'
  | 'same-device'
  | 'wrong-direction'
  | 'other-link'
  | 'no-host'
  | 'two-hosts'
  | 'split'
  | 'merge'
  | 'loop'
  | 'same-channel'
  | 'reaches-nothing';

/** What a rule holds against the cabling: with its devices, and the cable at fault where it is one. */
export type CableFinding = Finding<CableCode>;

/** Takes the cable at fault out. */
const withoutCable = (cable: Cable): Mend => ({
  text: 'Take out the cable',
  document: 'rig',
  changes: [
    {
      kind: 'put',
      path: ['cables', { row: cable.id }],
      from: { id: cable.id, fromPortId: cable.fromPortId, toPortId: cable.toPortId },
    },
  ],
});

/**
 * Everything that the cabling of a rig breaks, cable by cable in their order, then device by device. Devices that are
 * packed away are judged for what cannot be plugged, not for what they would disturb.
 * Source: MIDI 1.0 Detailed Specification, "Hardware" (one output drives one input; thru and splitters);
 * the USB rule is USB's own (a bus has one host); the others are common practice, no source.
 */
export function cableFaults(rig: Rig): CableFinding[] {
  const ports = portTable(rig);
  return [
    ...rig.cables.flatMap((cable, i) => plugFault(ports, rig.cables.slice(0, i), cable) ?? []),
    ...loops(rig, ports),
    ...sharedChannels(rig),
    ...idleControllers(rig, ports),
  ];
}

/** What would be wrong with one more cable: the fault that refuses it, and what it would be warned of. */
export function judgeCable(rig: Rig, fromPortId: string, toPortId: string): CableFinding[] {
  const cable: Cable = { id: 'wanted', fromPortId, toPortId };
  const key = (f: CableFinding) => `${f.code} ${f.place.deviceIds?.join(' ')}`;
  const before = new Set(cableFaults(rig).map(key));
  return cableFaults({ ...rig, cables: [...rig.cables, cable] }).filter(
    (f) => f.place.cableId === cable.id || !before.has(key(f)),
  );
}

function plugFault(
  ports: ReadonlyMap<string, PortAt>,
  earlier: readonly Cable[],
  cable: Cable,
): CableFinding | null {
  const from = ports.get(cable.fromPortId);
  const to = ports.get(cable.toPortId);
  const refuse = (code: CableFinding['code'], sentence: string): CableFinding => ({
    code,
    severity: 'refused',
    place: { cableId: cable.id, deviceIds: [from, to].flatMap((at) => at?.device.id ?? []) },
    sentence,
    mends: [withoutCable(cable)],
  });
  if (!from || !to) return refuse('gone', 'This cable ends at a port that is gone.');
  const [a, b] = [nameOf(from), nameOf(to)];
  if (from.device.id === to.device.id)
    return refuse('same-device', `${a} and ${b} are on one device; a cable leads to another device.`);
  if (from.port.direction === 'in' || to.port.direction !== 'in')
    return refuse('wrong-direction', directionSentence(from, to));
  if (from.port.link !== to.port.link)
    return refuse(
      'other-link',
      `${a} is ${LINK_WORDS[from.port.link]} and ${b} is ${LINK_WORDS[to.port.link]}; a cable needs the same link at both ends, or a device between that has both.`,
    );
  if (from.port.link === 'usb') {
    if (!from.port.isUsbHost && !to.port.isUsbHost)
      return refuse(
        'no-host',
        `${a} and ${b} are both USB devices and do not talk to each other; put a USB host between, such as a computer or a hub that is a host.`,
      );
    if (from.port.isUsbHost && to.port.isUsbHost)
      return refuse('two-hosts', `${a} and ${b} are both USB hosts; one end has to be a USB device.`);
  }
  if (from.port.link !== 'din') return null;
  const taken = (end: 'fromPortId' | 'toPortId') => earlier.find((c) => c[end] === cable[end]);
  const split = taken('fromPortId');
  if (split)
    return refuse(
      'split',
      `${a} has a cable to ${nameOf(ports.get(split.toPortId))} already; a DIN output drives one input. Go on from a thru, or put a splitter between.`,
    );
  const merge = taken('toPortId');
  if (merge)
    return refuse(
      'merge',
      `${b} has a cable from ${nameOf(ports.get(merge.fromPortId))} already; a DIN input takes one cable. Put a merger between.`,
    );
  return null;
}

function directionSentence(from: PortAt, to: PortAt): string {
  const [a, b] = [nameOf(from), nameOf(to)];
  if (from.port.direction === 'in' && to.port.direction === 'in')
    return `${a} and ${b} are both inputs; a cable leads from an output or a thru to an input.`;
  if (from.port.direction === 'in')
    return `A cable leads from an output to an input: turn it round, from ${b} to ${a}.`;
  return `${a} and ${b} are both outputs; a cable leads from an output or a thru to an input.`;
}

/** Cables over which a message comes back to where it was, each ring told once, at its last cable. */
function loops(rig: Rig, ports: ReadonlyMap<string, PortAt>): CableFinding[] {
  const outOf = cablesFrom(rig);
  const done = new Set<string>();
  const faults: CableFinding[] = [];
  const visit = (cable: Cable, way: readonly Cable[]): void => {
    const start = way.findIndex((c) => c.id === cable.id);
    if (start >= 0) {
      const ring = way.slice(start);
      const devices = ring.flatMap((c) => ports.get(c.fromPortId)?.device ?? []);
      const names = devices.map((d) => d.name).join(', ');
      const last = ring.reduce((l, c) => (rig.cables.indexOf(c) > rig.cables.indexOf(l) ? c : l));
      faults.push({
        code: 'loop',
        severity: 'refused',
        place: { cableId: last.id, deviceIds: devices.map((d) => d.id) },
        mends: [withoutCable(last)],
        sentence: `These cables form a ring through ${names}: every message would go round for ever. Take one of them out.`,
      });
      return;
    }
    if (done.has(cable.id)) return;
    const to = ports.get(cable.toPortId);
    for (const port of to ? leavesBy(to) : [])
      for (const next of outOf.get(port.id) ?? []) visit(next, [...way, cable]);
    done.add(cable.id);
  };
  for (const cable of rig.cables) visit(cable, []);
  return faults;
}

/** Devices that hear the same port of the computer and would answer on the same channel. */
function sharedChannels(rig: Rig): CableFinding[] {
  const cabling = new Cabling(rig);
  const byPort = new Map<string, Device[]>();
  for (const device of rig.devices) {
    const path = device.role === 'receiver' ? cabling.pathTo(device) : null;
    if (path) byPort.set(path.portId, [...(byPort.get(path.portId) ?? []), device]);
  }
  return [...byPort.values()].flatMap((devices) =>
    devices.flatMap((second, i) =>
      devices.slice(0, i).flatMap((first): CableFinding[] => {
        const heard = new Set(channelsHeard(first));
        const both = channelsHeard(second).filter((channel) => heard.has(channel));
        if (both.length === 0) return [];
        const channels =
          both.length === 16 ? 'every channel' : `channel ${both.map((c) => c + 1).join(', ')}`;
        return [
          {
            code: 'same-channel',
            severity: 'warned',
            place: { deviceIds: [first.id, second.id] },
            mends: [],
            sentence: `${first.name} and ${second.name} hang on the same port and both answer on ${channels}: what is meant for one moves the other too. Give one of them another channel, or another port.`,
          },
        ];
      }),
    ),
  );
}

/** Controllers whose messages reach neither the computer nor anything that answers. */
function idleControllers(rig: Rig, ports: ReadonlyMap<string, PortAt>): CableFinding[] {
  const outOf = cablesFrom(rig);
  return rig.devices
    .filter((d) => d.role === 'controller' && !d.away && !reachesSomething(d, ports, outOf))
    .map((device) => ({
      code: 'reaches-nothing',
      severity: 'warned',
      place: { deviceIds: [device.id] },
      mends: [],
      sentence: `${device.name} reaches nothing: no cable leads from it to the computer or to anything that answers. Draw a cable from one of its outputs, or say that its port is at this computer.`,
    }));
}

function reachesSomething(
  device: Device,
  ports: ReadonlyMap<string, PortAt>,
  outOf: ReadonlyMap<string, readonly Cable[]>,
): boolean {
  const waiting = device.ports.filter((p) => p.direction === 'out');
  const seen = new Set<string>();
  for (let port = waiting.pop(); port; port = waiting.pop()) {
    if (port.atComputer) return true;
    if (seen.has(port.id)) continue;
    seen.add(port.id);
    for (const cable of outOf.get(port.id) ?? []) {
      const to = ports.get(cable.toPortId);
      if (!to || to.device.away) continue;
      if (to.port.atComputer || to.device.role === 'receiver') return true;
      waiting.push(...leavesBy(to));
    }
  }
  return false;
}

const nameOf = (at: PortAt | undefined): string => (at ? portWords(at.device, at.port) : PORT_GONE);
