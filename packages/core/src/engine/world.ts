import {
  actionsOf,
  devicesAddressed,
  feelOf,
  functionsMoved,
  gestureWants,
  isPressed,
  pagesOf,
  proposedLabel,
  type Assignment,
  type Bank,
  type Board,
  type Control,
  type ControlGroup,
  type ControlMessage,
  type GestureWants,
  type LampRule,
  type Preset,
  type RigWithBoards,
} from '../floor';
import {
  Cabling,
  inputsAtComputer,
  functionChannel,
  isInForce,
  needsSequence,
  type Device,
  type Path,
} from '../gear';
import type { Message } from '../midi';
import { compileRoutes, NO_ROUTING, type Routing, type RouteTable } from '../routing';
import { sceneCells, type Cell, type Reached, type Song } from '../show';

/** What a world is made of, as it is kept. */
export type Show = {
  /** Without `routing` what arrives is only heard by controls. */
  readonly rig: RigWithBoards & { readonly routing?: Routing };
  readonly presets: readonly Preset[];
  readonly setName: string;
  /** The songs of the running order; a song may stand in it more than once. */
  readonly songs: readonly Song[];
  /** The place of each song in the running order, by which it is found again after an edit. */
  readonly entryIds?: readonly string[];
};

/** A board with its preset, ready to be looked up. */
export type WorldBoard = {
  readonly board: Board;
  readonly device: Device;
  /** Where its messages arrive, or `null` when no cable leads to the computer. */
  readonly path: Path | null;
  /** The port at the computer by which its lamps are reached, or `null`. */
  readonly lampPortId: string | null;
  readonly preset: Preset | null;
  readonly banks: readonly WorldBank[];
  readonly groups: readonly WorldGroup[];
  /** The group of a control that has pages of its own, by control. */
  readonly groupOf: ReadonlyMap<string, number>;
  /** Functions of which one at a time is on, by the name of their circle. */
  readonly circles: ReadonlyMap<string, readonly string[]>;
};

export type WorldGroup = { readonly group: ControlGroup; readonly pages: readonly WorldBank[] };

export type WorldBank = {
  readonly bank: Bank;
  readonly assignments: ReadonlyMap<string, Assignment>;
  /** What each control's gestures look out for, by control. */
  readonly wants: ReadonlyMap<string, GestureWants>;
  /** Every control of this page that has a lamp, with what it does here. */
  readonly lamps: readonly WorldLamp[];
};

export type WorldLamp = {
  readonly control: Control;
  readonly assignment: Assignment | undefined;
  readonly rule: LampRule | null;
};

export type WorldControl = { readonly boardIndex: number; readonly control: Control };

export type WorldSong = {
  /** Its place in the running order. */
  readonly entryId: string;
  readonly song: Song;
  /** For each scene, what every function is told to be there. */
  readonly cells: readonly ReadonlyMap<string, Cell>[];
};

/**
 * The compiled, unchanging rig, presets and set. Made once an edit; every question that a live step asks is a
 * table look-up.
 */
export type World = {
  readonly show: Show;
  readonly functions: ReadonlyMap<string, Reached>;
  readonly boards: readonly WorldBoard[];
  readonly boardById: ReadonlyMap<string, WorldBoard>;
  readonly controls: ReadonlyMap<string, WorldControl>;
  readonly songs: readonly WorldSong[];
  /** Where each place of the running order stands, by its id. */
  readonly songAt: ReadonlyMap<string, number>;
  /** Controls by arrival port, then by `messageKey`. */
  readonly inputs: ReadonlyMap<string, ReadonlyMap<number, WorldControl>>;
  /** Controls whose place comes in several messages, by arrival port, then by `sequenceKey`. */
  readonly sequencedInputs: ReadonlyMap<string, ReadonlyMap<string, WorldControl>>;
  /** How each device is reached, by device. */
  readonly ways: ReadonlyMap<string, { readonly device: Device; readonly path: Path | null }>;
  /** Functions that report back, by arrival port. */
  readonly reports: ReadonlyMap<string, readonly Reached[]>;
  /** Arrival ports where a report can be read only with the messages before it. */
  readonly sequencedPorts: ReadonlySet<string>;
  /** Ports at the computer that are not enabled for playing. */
  readonly portsOff: ReadonlySet<string>;
  /** Ports at which controls are learned. */
  readonly learningPorts: ReadonlySet<string>;
  /** Devices that hear what leaves by a port, whatever their channel. */
  readonly devicesBehind: ReadonlyMap<string, readonly Device[]>;
  readonly routes: RouteTable;
  /** Every port of the rig. */
  readonly portIds: ReadonlySet<string>;
  /** Channels in use behind each port at the computer: what panic has to silence. */
  readonly channelsBehind: ReadonlyMap<string, readonly number[]>;
};

/** Never throws: what points at something that is gone is left out, and doing it later says so. */
export function compileWorld(show: Show): World {
  const cabling = new Cabling(show.rig);
  const functions = new Map<string, Reached>();
  const reports = new Map<string, Reached[]>();
  const channelsBehind = new Map<string, Set<number>>();
  const ways = new Map<string, { device: Device; path: Path | null }>();
  const devicesBehind = new Map<string, Device[]>();
  for (const device of show.rig.devices) {
    const path = cabling.pathTo(device);
    ways.set(device.id, { device, path });
    const back = device.role === 'receiver' ? cabling.pathFrom(device) : null;
    if (path) listAt(devicesBehind, path.portId).push(device);
    for (const fn of device.chart) {
      const reached = { device, fn, path };
      functions.set(fn.id, reached);
      if (back && isInForce(device, fn)) listAt(reports, back.portId).push(reached);
      if (path) setAt(channelsBehind, path.portId).add(functionChannel(device, fn));
    }
  }
  const boards = show.rig.boards.flatMap((board) => compileBoard(show, board, cabling));
  for (const { preset } of boards)
    for (const page of preset ? pagesOf(preset) : [])
      for (const action of page.assignments.flatMap(actionsOf)) {
        if (action.kind !== 'message') continue;
        const way = ways.get(action.deviceId);
        if (way?.path) setAt(channelsBehind, way.path.portId).add(action.channel ?? way.device.channel);
      }
  const { controls, inputs, sequencedInputs } = compileInputs(boards);
  const songs = compileSongs(show);
  return {
    show,
    functions,
    boards,
    boardById: new Map(boards.map((b) => [b.board.id, b])),
    controls,
    inputs,
    sequencedInputs,
    ways,
    reports,
    sequencedPorts: new Set([
      ...[...reports].flatMap(([portId, rows]) => (rows.some(({ fn }) => needsSequence(fn)) ? portId : [])),
      ...sequencedInputs.keys(),
    ]),
    portsOff: new Set(
      show.rig.devices.flatMap((d) => d.ports.flatMap((p) => (p.atComputer && !p.plays ? p.id : []))),
    ),
    learningPorts: new Set(show.rig.devices.flatMap((d) => d.ports.flatMap((p) => (p.learns ? p.id : [])))),
    songs,
    songAt: new Map(songs.map((s, i) => [s.entryId, i])),
    devicesBehind,
    routes: compileRoutes(
      show.rig.routing ?? NO_ROUTING,
      inputsAtComputer(show.rig).map((at) => at.port.id),
    ),
    portIds: new Set(show.rig.devices.flatMap((d) => d.ports.map((p) => p.id))),
    channelsBehind: new Map([...channelsBehind].map(([port, set]) => [port, [...set].sort((a, b) => a - b)])),
  };
}

/** Without ids of its own a place in the running order is the song and how often it stood there before. */
function compileSongs({ songs, entryIds }: Show): WorldSong[] {
  const before = new Map<string, number>();
  return songs.map((song, i) => {
    const times = before.get(song.id) ?? 0;
    before.set(song.id, times + 1);
    return {
      entryId: entryIds?.[i] ?? `${song.id}/${times}`,
      song,
      cells: song.scenes.map((_, at) => sceneCells(song, at)),
    };
  });
}

function compileBoard(show: Show, board: Board, cabling: Cabling): WorldBoard[] {
  const device = show.rig.devices.find((d) => d.id === board.deviceId);
  if (!device) return [];
  const preset = show.presets.find((p) => p.id === board.presetId) ?? null;
  const groups = preset?.groups ?? [];
  const groupOf = new Map(groups.flatMap((g, i) => g.controlIds.map((id) => [id, i] as const)));
  const page = (bank: Bank, controls: readonly Control[]): WorldBank => {
    const assignments = new Map(bank.assignments.map((a) => [a.controlId, a]));
    const wants = new Map(bank.assignments.map((a) => [a.controlId, gestureWants(a)]));
    const lamps = controls.flatMap((control) => {
      const assignment = assignments.get(control.id);
      const rule = assignment?.lamp ?? (preset && feelOf(preset, control.kind).lamp);
      return isPressed(control.kind) || rule ? { control, assignment, rule } : [];
    });
    return { bank, assignments, wants, lamps };
  };
  const inBanks = board.controls.filter((c) => !groupOf.has(c.id));
  const circles = new Map<string, string[]>();
  for (const action of (preset ? pagesOf(preset) : []).flatMap((b) => b.assignments.flatMap(actionsOf)))
    if (action.kind === 'one-of' && !action.isOff) listAt(circles, action.circle).push(action.functionId);
  return [
    {
      board,
      device,
      path: cabling.pathFrom(device),
      lampPortId: cabling.pathTo(device)?.portId ?? null,
      preset,
      banks: (preset?.banks ?? []).map((bank) => page(bank, inBanks)),
      groups: groups.map((group) => ({
        group,
        pages: group.pages.map((bank) =>
          page(
            bank,
            board.controls.filter((c) => group.controlIds.includes(c.id)),
          ),
        ),
      })),
      groupOf,
      circles,
    },
  ];
}

function compileInputs(boards: readonly WorldBoard[]) {
  const controls = new Map<string, WorldControl>();
  const inputs = new Map<string, Map<number, WorldControl>>();
  const sequencedInputs = new Map<string, Map<string, WorldControl>>();
  boards.forEach((worldBoard, boardIndex) => {
    const { board, device, path } = worldBoard;
    for (const control of board.controls) {
      const entry = { boardIndex, control };
      controls.set(control.id, entry);
      // What a board sends by its own program is no press of a control.
      if (!path || board.mode === 'standalone') continue;
      const channel = control.channel ?? device.channel;
      if (isSequenced(control.sends)) {
        const table = tableAt(sequencedInputs, path.portId);
        const key = sequenceKey(control.sends.kind, channel, control.sends.number);
        if (!table.has(key)) table.set(key, entry);
      } else {
        const table = tableAt(inputs, path.portId);
        const key = controlKey(channel, control.sends);
        if (!table.has(key)) table.set(key, entry);
      }
    }
  });
  return { controls, inputs, sequencedInputs };
}

/** Whether one place of a control takes several messages. */
const isSequenced = ({ kind }: ControlMessage): boolean =>
  kind === 'controller-14' || kind === 'rpn' || kind === 'nrpn';

export const sequenceKey = (kind: string, channel: number, number: number): string =>
  `${kind}/${channel}/${number}`;

const NOTE = 1 << 11;
const PROGRAM = 2 << 11;
const BEND = 3 << 11;
const PRESSURE = 4 << 11;

/** A number for kind, channel and number of a control's message. */
function controlKey(channel: number, { kind, number }: ControlMessage): number {
  const place = (channel << 7) | number;
  switch (kind) {
    case 'note':
      return NOTE | place;
    case 'program':
      return PROGRAM | place;
    case 'pitch-bend':
      return BEND | (channel << 7);
    case 'channel-pressure':
      return PRESSURE | (channel << 7);
    default:
      return place;
  }
}

/** The key of a message that a control may have sent, or -1. */
export function messageKey(message: Message): number {
  switch (message.kind) {
    case 'controller':
      return (message.channel << 7) | message.controller;
    case 'note-on':
    case 'note-off':
      return NOTE | (message.channel << 7) | message.note;
    case 'program':
      return PROGRAM | (message.channel << 7) | message.program;
    case 'pitch-bend':
      return BEND | (message.channel << 7);
    case 'channel-pressure':
      return PRESSURE | (message.channel << 7);
    default:
      return -1;
  }
}

/** What a control is called in a bank: its own label, or the one proposed from what it does. */
export function labelOf(world: World, assignment: Assignment | undefined, songIndex: number): string {
  if (!assignment) return '';
  if (assignment.label) return assignment.label;
  const scenes = world.songs[songIndex]?.song.scenes;
  return proposedLabel(
    assignment,
    (id) => world.functions.get(id),
    // A song without that scene leaves the label empty: the switch does nothing in it.
    (i) => (scenes ? (scenes[i]?.name ?? '') : null),
    (id) =>
      world.boards
        .flatMap((b) => [...b.banks, ...b.groups.flatMap((g) => g.pages)])
        .find((b) => b.bank.id === id)?.bank.name ?? null,
  );
}

/** Devices that an assignment moves, each once; a go-to-scene moves those that the scene has values for. */
export function devicesMoved(world: World, assignment: Assignment | undefined, songIndex: number): Device[] {
  if (!assignment) return [];
  const ids = functionsMoved(assignment);
  for (const action of actionsOf(assignment)) {
    if (action.kind === 'scene' && action.to.kind === 'at')
      ids.push(...(world.songs[songIndex]?.cells[action.to.index]?.keys() ?? []));
  }
  const addressed = devicesAddressed(assignment).flatMap((id) => world.ways.get(id)?.device ?? []);
  return [...new Set([...ids.flatMap((id) => world.functions.get(id)?.device ?? []), ...addressed])];
}

/** What of the live state says which pages are in force. */
export type PagesInForce = {
  readonly banks: Readonly<Record<string, string>>;
  readonly pages: Readonly<Record<string, string>>;
};

/** The page in force for a control: of its group, where it has one, else the bank of its board. */
export function pageInForce(
  board: WorldBoard,
  state: PagesInForce,
  controlId: string,
): WorldBank | undefined {
  const at = board.groupOf.get(controlId);
  return at === undefined ? bankInForce(board, state) : pageOfGroup(board.groups[at]!, state);
}

/** Place of the bank in force in its preset, from 0; the first where none was chosen. */
export const bankIndex = ({ board, banks }: WorldBoard, state: PagesInForce): number =>
  indexOfPage(banks, state.banks[board.id]);

export const bankInForce = (board: WorldBoard, state: PagesInForce): WorldBank | undefined =>
  board.banks[bankIndex(board, state)];

/** Place of the page in force in its group, from 0; the first where none was chosen. */
export const pageIndex = ({ group, pages }: WorldGroup, state: PagesInForce): number =>
  indexOfPage(pages, state.pages[group.id]);

export const pageOfGroup = (group: WorldGroup, state: PagesInForce): WorldBank | undefined =>
  group.pages[pageIndex(group, state)];

function indexOfPage(pages: readonly WorldBank[], id: string | undefined): number {
  // A loop and not `findIndex`: this is asked for every control at every step.
  if (id !== undefined) for (let i = 1; i < pages.length; i++) if (pages[i]!.bank.id === id) return i;
  return 0;
}

/** Where the evening is, as places in the running order of now. */
export type Place = { readonly songIndex: number; readonly sceneIndex: number | null };

/** The place in the running order; the first song where nothing was played or what was played is gone. */
export function placeOf(
  { songs, songAt }: World,
  { position }: { readonly position: { readonly entryId: string | null; readonly sceneId: string | null } },
): Place {
  const songIndex = songAt.get(position.entryId ?? '') ?? 0;
  const scenes = songs[songIndex]?.song.scenes ?? [];
  const found = position.sceneId === null ? -1 : scenes.findIndex((s) => s.id === position.sceneId);
  return { songIndex, sceneIndex: found < 0 ? null : found };
}

function listAt<V>(map: Map<string, V[]>, key: string): V[] {
  const list = map.get(key) ?? [];
  map.set(key, list);
  return list;
}

function setAt<V>(map: Map<string, Set<V>>, key: string): Set<V> {
  const set = map.get(key) ?? new Set<V>();
  map.set(key, set);
  return set;
}

function tableAt<K, V>(map: Map<string, Map<K, V>>, key: string): Map<K, V> {
  const table = map.get(key) ?? new Map<K, V>();
  map.set(key, table);
  return table;
}
