import { mapReferences, referencesIn, takenOut, type Reference } from '@idle-step/core/edits';
import type { Board, Preset } from '@idle-step/core/floor';
import type { Device, Port } from '@idle-step/core/gear';
import type { FullRig } from '@idle-step/core/routing';
import type { Setlist, Song } from '@idle-step/core/show';
import { nth } from '@idle-step/core/sure';
import { presetFaults, songFaults, withoutFaults, type PlacedFault } from './references';
import { copiedRig, RIG_FILE_FORMAT, type RigFile } from './rigFile';

/** What of a rig is given away: documents by their identifiers, and devices whose whole chart goes with them. */
export type Wanted = {
  readonly presetIds: ReadonlySet<string>;
  readonly songIds: ReadonlySet<string>;
  readonly setIds: ReadonlySet<string>;
  readonly deviceIds: ReadonlySet<string>;
};

/**
 * A part of a rig as a rig file of its own: the documents that are wanted, the songs of sets, and of the gear only what
 * these point at: boards, and the rows of charts. It can be opened as a rig, or taken into another one.
 */
export function partOf(file: RigFile, wanted: Wanted): RigFile {
  const sets = file.sets.filter((s) => wanted.setIds.has(s.id));
  const songIds = new Set([
    ...wanted.songIds,
    ...sets.flatMap((s) => s.entries.flatMap((e) => (e.kind === 'song' ? e.songId : []))),
  ]);
  const songs = file.songs.filter((s) => songIds.has(s.id));
  const presets = file.presets.filter((p) => wanted.presetIds.has(p.id));
  const used = new Set([...presets, ...songs, ...sets].flatMap((doc) => referencesIn(doc).map((r) => r.id)));
  const boards = file.rig.boards
    .filter((b) => used.has(b.id) || b.controls.some((c) => used.has(c.id)))
    .map((b) => ({ ...b, presetId: presets.some((p) => p.id === b.presetId) ? b.presetId : null }));
  const faces = new Set(boards.map((b) => b.deviceId));
  const devices = file.rig.devices
    .filter(
      (d) =>
        wanted.deviceIds.has(d.id) ||
        // What only passes on lies on the way.
        d.role === 'carrier' ||
        faces.has(d.id) ||
        used.has(d.id) ||
        d.chart.some((fn) => used.has(fn.id)) ||
        d.ports.some((p) => used.has(p.id)),
    )
    .map((d) => (wanted.deviceIds.has(d.id) ? d : { ...d, chart: d.chart.filter((fn) => used.has(fn.id)) }));
  const ports = new Set(devices.flatMap((d) => d.ports.map((p) => p.id)));
  const functions = new Set(devices.flatMap((d) => d.chart.map((fn) => fn.id)));
  const { routing } = file.rig;
  const isThere = ({ kind, id }: Reference): boolean =>
    kind === 'port'
      ? ports.has(id) || routing.lines.some((l) => l.id === id)
      : kind !== 'function' || functions.has(id);
  const routes = routing.routes.filter((r) => used.has(r.id) && referencesIn(r).every(isThere));
  const lineIds = new Set(routes.flatMap((r) => referencesIn(r).map((x) => x.id)));
  const rig: FullRig = {
    ...file.rig,
    devices,
    boards,
    cables: file.rig.cables.filter((c) => ports.has(c.fromPortId) && ports.has(c.toPortId)),
    routing: {
      routes,
      lines: routing.lines.filter((l) => lineIds.has(l.id)),
      othersTo: routing.othersTo.filter((id) => ports.has(id)),
    },
  };
  const kept = new Set(routes.map((r) => r.id));
  const isGone = ({ kind, id }: Reference): boolean => kind === 'route' && !kept.has(id);
  const whole = <D extends Preset | Song | Setlist>(docs: readonly D[]): D[] =>
    docs.flatMap((doc) => takenOut(doc, isGone) ?? []);
  return {
    format: RIG_FILE_FORMAT,
    version: 1,
    rig,
    presets: whole(presets),
    songs: whole(songs),
    sets: whole(sets),
  };
}

/** Which of my gear plays the part of theirs: mine by its identifier, theirs added to my rig, or nothing (`null`). */
export type Part = { readonly kind: 'mine'; readonly id: string } | { readonly kind: 'add' } | null;

/** By the identifiers of theirs. Functions of a device that is added need none. */
export type Match = {
  readonly devices: Readonly<Record<string, Part>>;
  readonly boards: Readonly<Record<string, Part>>;
  readonly functions: Readonly<Record<string, string | null>>;
};

const same = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/** What plays the part of what, as far as names and charts tell; into a rig without gear all is added. */
export function proposeMatch(theirs: RigFile, mine: FullRig): Match {
  const devices: Record<string, Part> = {};
  const functions: Record<string, string | null> = {};
  const faces = new Set(theirs.rig.boards.map((b) => b.deviceId));
  for (const device of theirs.rig.devices) {
    if (faces.has(device.id)) continue;
    const found = likestDevice(device, mine);
    devices[device.id] = found
      ? { kind: 'mine', id: found.id }
      : mine.devices.length === 0
        ? { kind: 'add' }
        : null;
    Object.assign(functions, proposeFunctions(device, found));
  }
  const boards = Object.fromEntries(
    theirs.rig.boards.map((b): [string, Part] => {
      const found = likestBoard(theirs.rig, b, mine);
      return [
        b.id,
        found ? { kind: 'mine', id: found.id } : mine.boards.length === 0 ? { kind: 'add' } : null,
      ];
    }),
  );
  return { devices, boards, functions };
}

/** For each row of a chart the one of another device that plays its part: by name, else by what drives it. */
export const proposeFunctions = (theirs: Device, mine: Device | undefined): Record<string, string | null> =>
  Object.fromEntries(
    theirs.chart.map((fn) => [
      fn.id,
      (
        mine?.chart.find((f) => same(f.name, fn.name) && f.shape.kind === fn.shape.kind) ??
        mine?.chart.find((f) => same(f.name, fn.name)) ??
        mine?.chart.find(
          (f) => JSON.stringify([f.drive, f.shape.kind]) === JSON.stringify([fn.drive, fn.shape.kind]),
        )
      )?.id ?? null,
    ]),
  );

function likestDevice(device: Device, mine: FullRig): Device | undefined {
  const own = mine.devices.filter((d) => d.role === device.role);
  const named = own.find((d) => same(d.name, device.name));
  if (named || device.chart.length === 0) return named;
  // Where names differ, one that has most of its functions.
  const shared = (d: Device) =>
    device.chart.filter((fn) => d.chart.some((f) => same(f.name, fn.name))).length;
  const [best] = [...own].sort((a, b) => shared(b) - shared(a));
  return best && shared(best) * 2 >= device.chart.length ? best : undefined;
}

function likestBoard(rig: FullRig, board: Board, mine: FullRig): Board | undefined {
  const nameOf = (r: FullRig, b: Board) => r.devices.find((d) => d.id === b.deviceId)?.name ?? '';
  return (
    mine.boards.find((b) => same(nameOf(mine, b), nameOf(rig, board))) ??
    mine.boards.find((b) => b.controls.length === board.controls.length)
  );
}

/** Something that cannot come along, by name, and why. */
export type LeftOut = { readonly name: string; readonly where: string; readonly sentence: string };

export type TakenIn = {
  /** My rig with the gear that was added. */
  readonly rig: FullRig;
  readonly presets: readonly Preset[];
  readonly songs: readonly Song[];
  readonly sets: readonly Setlist[];
  /** Gear that was added, by name. */
  readonly added: readonly string[];
  readonly leftOut: readonly LeftOut[];
};

/**
 * What a file becomes in my rig, with identifiers of its own: what my gear has no part for is left out by name.
 * @param newId makes an identifier. @param freeName a name that is free among others of its kind.
 */
export function takenIn(
  theirs: RigFile,
  mine: FullRig,
  match: Match,
  newId: () => string,
  freeName: (taken: readonly string[], wanted: string) => string,
): TakenIn {
  // Their own identifiers stay theirs: each time it is taken in is another time.
  const copy = copiedRig(theirs, theirs.rig.name, newId);
  const { to, nameOf, added, addedBoards } = new Targets(theirs, copy, mine, match, freeName);
  const leftOut: LeftOut[] = [];
  const bare: FullRig = {
    ...mine,
    devices: [...mine.devices, ...added],
    boards: [...mine.boards, ...addedBoards.map((b) => ({ ...b, presetId: null }))],
  };
  const bringing: Bringing = { rig: bare, to, nameOf, leftOut };
  const brought = <D extends Preset | Song | Setlist>(docs: readonly D[]): D[] =>
    docs.flatMap((doc) => broughtIn(doc, bringing) ?? []);
  const presets = brought(copy.presets);
  const songs = brought(copy.songs);
  const here = new Set(songs.map((s) => s.id));
  const sets = brought(copy.sets).map((s) => ({
    ...s,
    entries: s.entries.filter((e) => e.kind !== 'song' || here.has(e.songId)),
  }));
  const addedPorts = new Set(added.flatMap((d) => d.ports.map((p) => p.id)));
  const presetIds = new Set(presets.map((p) => p.id));
  const ownPreset = new Map(addedBoards.map((b) => [b.id, b.presetId]));
  return {
    rig: {
      ...bare,
      boards: bare.boards.map((b) => {
        const presetId = ownPreset.get(b.id) ?? null;
        return presetId !== null && presetIds.has(presetId) ? { ...b, presetId } : b;
      }),
      cables: [
        ...mine.cables,
        ...copy.rig.cables.filter((c) => addedPorts.has(c.fromPortId) && addedPorts.has(c.toPortId)),
      ],
    },
    presets,
    songs,
    sets,
    added: added.map((d) => d.name),
    leftOut: eachOnce(leftOut),
  };
}

/** Where everything of theirs goes: to something of mine, along with its copy, or nowhere. */
class Targets {
  /** By the identifiers of the copy: those of mine, or `null`; what is added has none. */
  readonly to = new Map<string, string | null>();
  readonly nameOf = new Map<string, string>();
  readonly added: Device[] = [];
  readonly addedBoards: Board[] = [];
  private readonly names: string[];

  constructor(
    theirs: RigFile,
    private readonly copy: RigFile,
    private readonly mine: FullRig,
    private readonly match: Match,
    private readonly freeName: (taken: readonly string[], wanted: string) => string,
  ) {
    this.names = mine.devices.map((d) => d.name);
    const faces = new Set(theirs.rig.boards.map((b) => b.deviceId));
    theirs.rig.devices.forEach((device, i) =>
      this.device(device, nth(copy.rig.devices, i), faces.has(device.id)),
    );
    theirs.rig.boards.forEach((board, i) => this.board(board, nth(copy.rig.boards, i)));
    for (const route of copy.rig.routing.routes) {
      this.nameOf.set(route.id, `route ${route.name}`);
      this.to.set(route.id, mine.routing.routes.find((r) => same(r.name, route.name))?.id ?? null);
    }
    this.to.set(copy.rig.id, mine.id);
  }

  private device(device: Device, own: Device, isFace: boolean): void {
    this.nameOf.set(own.id, device.name);
    for (const fn of own.chart) this.nameOf.set(fn.id, `${device.name} ${fn.name}`);
    for (const port of own.ports) this.nameOf.set(port.id, `${device.name} ${port.name}`);
    // The device of a board goes where its board goes.
    if (isFace) return;
    const part = this.match.devices[device.id] ?? null;
    if (part?.kind === 'add') {
      this.add(own);
      return;
    }
    const target = part ? this.mine.devices.find((d) => d.id === part.id) : undefined;
    this.portsTo(own, target);
    device.chart.forEach((fn, at) =>
      this.to.set(nth(own.chart, at).id, (target && this.match.functions[fn.id]) ?? null),
    );
  }

  private board(board: Board, own: Board): void {
    const face = this.copy.rig.devices.find((d) => d.id === own.deviceId);
    this.nameOf.set(own.id, face?.name ?? 'a board');
    for (const c of own.controls) this.nameOf.set(c.id, `${face?.name ?? ''} ${c.name}`.trim());
    const part = this.match.boards[board.id] ?? null;
    if (part?.kind === 'add') {
      this.addedBoards.push(own);
      if (face) this.add(face);
      return;
    }
    const target = part ? this.mine.boards.find((b) => b.id === part.id) : undefined;
    this.to.set(own.id, target?.id ?? null);
    const mineFace = this.mine.devices.find((d) => d.id === target?.deviceId);
    if (face) this.portsTo(face, mineFace);
    for (const fn of face?.chart ?? [])
      this.to.set(fn.id, mineFace?.chart.find((f) => same(f.name, fn.name))?.id ?? null);
    own.controls.forEach((c, at) =>
      this.to.set(
        c.id,
        (target?.controls.find((x) => same(x.name, c.name)) ?? target?.controls[at])?.id ?? null,
      ),
    );
  }

  private add(device: Device): void {
    const name = this.freeName(this.names, device.name);
    this.names.push(name);
    this.added.push({ ...device, name });
  }

  /** A device and its ports go to another one and the likest of its ports. */
  private portsTo(own: Device, target: Device | undefined): void {
    this.to.set(own.id, target?.id ?? null);
    for (const port of own.ports) this.to.set(port.id, likestPort(port, target)?.id ?? null);
  }
}

/** The port of a device that plays the part of another: of the same direction, by its name, else the first. */
const likestPort = (port: Port, device: Device | undefined): Port | undefined => {
  const own = (device?.ports ?? []).filter((p) => p.direction === port.direction);
  return own.find((p) => same(p.name, port.name)) ?? own[0];
};

type Bringing = {
  /** Mine, with the gear that was added. */
  readonly rig: FullRig;
  readonly to: ReadonlyMap<string, string | null>;
  readonly nameOf: ReadonlyMap<string, string>;
  readonly leftOut: LeftOut[];
};

/** A document that points at my gear; `null` where it cannot be without what is missing. */
function broughtIn<D extends Preset | Song | Setlist>(
  doc: D,
  { rig, to, nameOf, leftOut }: Bringing,
): D | null {
  const target = (id: string): string | null => (to.has(id) ? (to.get(id) ?? null) : id);
  const without = takenOut(doc, ({ id }) => {
    const isGone = target(id) === null;
    if (isGone)
      leftOut.push({
        name: nameOf.get(id) ?? 'something',
        where: doc.name,
        sentence: 'Nothing here plays its part.',
      });
    return isGone;
  });
  if (!without) return null;
  const moved = mapReferences(without, ({ id }) => target(id) ?? id);
  // A set points at nothing of the gear that has values.
  if (!isJudged(moved)) return moved;
  for (const { where, sentence } of faultsIn(rig, moved))
    leftOut.push({ name: where, where: doc.name, sentence });
  return withoutFaults(rig, moved);
}

const isJudged = <D extends Preset | Song | Setlist>(doc: D): doc is D & (Preset | Song) =>
  !('entries' in doc);

const faultsIn = (rig: FullRig, doc: Preset | Song): PlacedFault[] =>
  'boardId' in doc ? presetFaults(rig, doc) : songFaults(rig, doc);

function eachOnce(all: readonly LeftOut[]): LeftOut[] {
  const seen = new Map(all.map((l) => [JSON.stringify(l), l] as const));
  return [...seen.values()];
}
