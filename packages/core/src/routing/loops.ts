import type { Finding, Mend } from '../edits';
import { cablesFrom, inputsAtComputer, leavesBy, portTable, type Rig } from '../gear';
import { routeKind, type Route, type RouteKind, type Routing } from './route';
import { channelPressure, controller, noteOn, pitchBend, program, type Message } from '../midi';
import { lastOf, nth } from '../sure';

/** Routes that feed each other: what goes in comes back to where it was. */
export type RouteRing = Finding<'ring'>;

/**
 * Rings of routes that are on, by lines and by cables that lead from an output back to an input; a ring is told only
 * where some message can go all round it as far as kinds and channels say. Each ring once, in the order of the routes.
 */
export function routeLoops(routing: Routing, rig: Rig): RouteRing[] {
  const on = routing.routes.filter((r) => r.isOn);
  const returns = returningPorts(rig);
  const inputs = new Set(inputsAtComputer(rig).map((at) => at.port.id));
  const reached = (route: Route): readonly string[] =>
    route.to.flatMap(({ portId }) => [portId, ...(returns.get(portId) ?? [])]);
  const feeds = (a: Route, b: Route): boolean => {
    const ids = reached(a).filter((id) => inputs.has(id) || routing.lines.some((l) => l.id === id));
    if (!ids.some((id) => (b.from.portIds.length === 0 ? inputs.has(id) : b.from.portIds.includes(id))))
      return false;
    const channels = channelsOut(a);
    return (
      kindsOut(a).some((k) => b.from.kinds.length === 0 || b.from.kinds.includes(k)) &&
      (b.from.channels.length === 0 || channels === null || b.from.channels.some((c) => channels.has(c)))
    );
  };
  const next = on.map((a) => on.flatMap((b, i) => (feeds(a, b) ? i : [])));
  // Ways that cannot lead back to their first route are not followed.
  const reach = on.map((_, from) => reachedFrom(next, from));
  const reaches = (from: number, to: number): boolean => nth(reach, from).has(to);
  // Every ring is found from its first route in order, by ways over later routes only; so each is found once.
  const found: RouteRing[] = [];
  let steps = 0;
  const visit = (start: number, way: readonly number[]): void => {
    for (const to of nth(next, lastOf(way))) {
      if (++steps > STEPS_AT_MOST || found.length >= RINGS_AT_MOST) return;
      if (to === start) {
        const ring = way.map((i) => nth(on, i));
        found.push({
          code: 'ring',
          severity: 'warned',
          place: { routeIds: ring.map((r) => r.id) },
          sentence: sentenceOf(ring),
          mends: ring.map((r) => switchOff(r)),
        });
      } else if (to > start && !way.includes(to) && reaches(to, start)) visit(start, [...way, to]);
    }
  };
  for (let start = 0; start < on.length; start++) visit(start, [start]);
  return found;
}

function reachedFrom(next: readonly (readonly number[])[], from: number): ReadonlySet<number> {
  const seen = new Set<number>();
  const waiting = [from];
  for (let at = waiting.pop(); at !== undefined; at = waiting.pop())
    for (const to of nth(next, at))
      if (!seen.has(to)) {
        seen.add(to);
        waiting.push(to);
      }
  return seen;
}

/** More rings than these nobody mends one by one; the rest is told once some are mended. */
const RINGS_AT_MOST = 100;
const STEPS_AT_MOST = 20_000;

/** A ring is open again once one of its routes is off. */
const switchOff = ({ id, name }: Route): Mend => ({
  text: `Switch “${name}” off`,
  document: 'rig',
  changes: [{ kind: 'put', path: ['routing', 'routes', { row: id }, 'isOn'], from: true, to: false }],
});

const sentenceOf = (ring: readonly Route[]): string => {
  const names = ring.map((r) => `“${r.name}”`).join(', ');
  return ring.length === 1
    ? `${names} feeds itself: what it sends comes back to it and goes round for ever. Take from another port, or send to another one.`
    : `${names} feed each other in a ring: a message would go round for ever. Switch one of them off, or send to another port.`;
};

/** Inputs at the computer that cables lead back to from its outputs, by output. */
function returningPorts(rig: Rig): ReadonlyMap<string, readonly string[]> {
  const ports = portTable(rig);
  const outOf = cablesFrom(rig);
  const table = new Map<string, string[]>();
  for (const { port } of ports.values()) {
    if (!port.atComputer) continue;
    const found: string[] = [];
    const seen = new Set<string>();
    const waiting = [port.id];
    for (let id = waiting.pop(); id; id = waiting.pop()) {
      for (const cable of outOf.get(id) ?? []) {
        const to = ports.get(cable.toPortId);
        if (!to || to.device.away || seen.has(to.port.id)) continue;
        seen.add(to.port.id);
        if (to.port.atComputer) found.push(to.port.id);
        waiting.push(...leavesBy(to).map((p) => p.id));
      }
    }
    table.set(port.id, found);
  }
  return table;
}

const EVERY_KIND: readonly Message[] = [
  noteOn(0, 60, 1),
  controller(0, 1, 1),
  program(0, 1),
  channelPressure(0, 1),
  pitchBend(0, 1),
];

/** Kinds that may come out of a route. */
function kindsOut({ from, change, modulation }: Route): readonly RouteKind[] {
  if (modulation) return ['controller'];
  if (change.as) return [change.as.kind];
  return from.kinds.length > 0 ? from.kinds : [...EVERY_KIND.map(routeKind), 'poly-pressure'];
}

/** Channels, 0–15, that may come out of a route; `null` for any. */
export function channelsOut({ from, change, to }: Route): ReadonlySet<number> | null {
  if (to.some((t) => t.channel === null) && change.channel.kind !== 'force' && from.channels.length === 0)
    return null;
  const { channel } = change;
  const own =
    channel.kind === 'force'
      ? [channel.channel]
      : from.channels.map((c) => (channel.kind === 'shift' ? (c + channel.by + 32) % 16 : c));
  return new Set(to.flatMap((t) => (t.channel === null ? own : [t.channel])));
}
