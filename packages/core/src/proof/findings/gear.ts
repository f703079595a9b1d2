import { functionOfAction, movedBy, pagesOf, actionsOf } from '../../floor';
import { cableFaults, chartDoubles, type Device } from '../../gear';
import { routeLoops, starvedRoutes } from '../../routing';
import { found, mendTo, type ProofFinding, type Subject } from './finding';

/** What is wrong with cables, charts, ports and routes. */
export function gearFindings(subject: Subject): ProofFinding[] {
  const { rig } = subject.show;
  return [
    ...cableFaults(rig),
    ...rig.devices.flatMap(doubledRows),
    ...wayFindings(subject),
    ...subject.known.portsAway.flatMap((id) => portAway(rig.devices, id)),
    ...startUps(subject),
    ...routeLoops(rig.routing, rig),
    ...rig.routing.routes.flatMap((_, i) => starvedRoutes(rig.routing.routes, i) ?? []),
  ];
}

/** Each pair of rows once. */
function doubledRows(device: Device): ProofFinding[] {
  const doubles = chartDoubles(device);
  return device.chart.flatMap((fn, at) =>
    (doubles.get(fn.id) ?? []).flatMap((other) =>
      device.chart.indexOf(other) < at
        ? []
        : found(
            'row-double',
            { deviceIds: [device.id], functionIds: [fn.id, other.id] },
            `${device.name}: ${fn.name} and ${other.name} are moved by the same message. Give one of them its own number, or take one out.`,
          ),
    ),
  );
}

/** The functions that the set or a preset in force moves, by device. */
function functionsUsed({ world }: Subject): ReadonlyMap<string, readonly string[]> {
  const used = new Set<string>();
  for (const { cells } of world.songs) for (const scene of cells) for (const id of scene.keys()) used.add(id);
  for (const { preset } of world.boards)
    for (const page of preset ? pagesOf(preset) : [])
      for (const assignment of page.assignments) {
        for (const action of actionsOf(assignment)) used.add(functionOfAction(action) ?? '');
        for (const sweep of assignment.sweeps) used.add(movedBy(sweep));
      }
  const byDevice = new Map<string, string[]>();
  for (const id of used) {
    const reached = world.functions.get(id);
    if (reached) byDevice.set(reached.device.id, [...(byDevice.get(reached.device.id) ?? []), id]);
  }
  return byDevice;
}

/** Gear that the set wants something of and that nothing leads to. */
function wayFindings(subject: Subject): ProofFinding[] {
  const { rig } = subject.show;
  const portById = new Map(rig.devices.flatMap((d) => d.ports.map((p) => [p.id, { device: d, port: p }])));
  const portsOff = new Set<string>();
  const findings: ProofFinding[] = [];
  for (const [deviceId, functionIds] of functionsUsed(subject)) {
    const way = subject.world.ways.get(deviceId);
    const device = rig.devices.find((d) => d.id === deviceId);
    if (!device) continue;
    const place = { deviceIds: [deviceId], functionIds };
    if (device.away)
      findings.push(
        found('packed-away', place, `${device.name} is packed away, and the set or a switch moves it.`, [
          mendTo(`Take ${device.name} out of its case`, 'rig', rig, {
            ...rig,
            devices: rig.devices.map((d) => (d.id === deviceId ? { ...d, away: false } : d)),
          }),
        ]),
      );
    else if (!way?.path)
      findings.push(
        found(
          'no-cable',
          place,
          `No cable leads from the computer to ${device.name}, and the set or a switch moves it. Draw one in Rig.`,
          [],
          'refused',
        ),
      );
    else if (subject.world.portsOff.has(way.path.portId)) portsOff.add(way.path.portId);
  }
  for (const { path } of subject.world.boards)
    if (path && subject.world.portsOff.has(path.portId)) portsOff.add(path.portId);
  for (const portId of portsOff) {
    const at = portById.get(portId);
    if (!at) continue;
    findings.push(
      found(
        'port-off',
        { deviceIds: [at.device.id] },
        `The port ${at.port.name} of ${at.device.name} is not enabled for playing, and the set goes by it.`,
        [
          mendTo('Enable it for playing', 'rig', rig, {
            ...rig,
            devices: rig.devices.map((d) => ({
              ...d,
              ports: d.ports.map((p) => (p.id === portId ? { ...p, plays: true } : p)),
            })),
          }),
        ],
        'refused',
      ),
    );
  }
  return findings;
}

function portAway(devices: readonly Device[], portId: string): ProofFinding[] {
  const device = devices.find((d) => d.ports.some((p) => p.id === portId));
  const port = device?.ports.find((p) => p.id === portId);
  if (!device || !port || device.away) return [];
  return [
    found(
      'port-away',
      { deviceIds: [device.id] },
      `The port ${port.name} of ${device.name} is not there: plug it in, or bind it to another port of the browser.`,
      [],
      'refused',
    ),
  ];
}

/** On the day of the set everything on the lists for starting up is done. */
function startUps({ show, set, known }: Subject): ProofFinding[] {
  if (!set || set.date === '' || set.date !== known.today) return [];
  return show.rig.devices.flatMap((device) => {
    const open = device.startUp.filter((s) => !s.done);
    if (device.away || open.length === 0) return [];
    return found(
      'start-up',
      { deviceIds: [device.id] },
      `${device.name} is not started yet: ${open.map((s) => s.text).join('; ')}.`,
    );
  });
}
