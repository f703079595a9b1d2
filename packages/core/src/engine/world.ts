import {
  actionsOf,
  functionsMoved,
  gestureWants,
  proposedLabel,
  type Assignment,
  type Bank,
  type Board,
  type Control,
  type GestureWants,
  type Preset,
  type RigWithBoards,
} from '../floor';
import {
  Cabling,
  functionChannel,
  isInForce,
  needsSequence,
  readFunction,
  type ChartFunction,
  type Device,
  type Path,
} from '../gear';
import type { Message, Sequence } from '../midi';
import { sceneCells, type Cell, type Reached, type Song } from '../show';

/** What a world is made of, as it is kept. */
export type Show = {
  readonly rig: RigWithBoards;
  readonly presets: readonly Preset[];
  readonly setName: string;
  /** The songs of the running order; a song may stand in it more than once. */
  readonly songs: readonly Song[];
};

/** A board with its preset, ready to be looked up. */
export type WorldBoard = {
  readonly board: Board;
  readonly device: Device;
  /** Where its messages arrive, or `null` when no cable leads to the computer. */
  readonly path: Path | null;
  readonly banks: readonly WorldBank[];
};

export type WorldBank = {
  readonly bank: Bank;
  readonly assignments: ReadonlyMap<string, Assignment>;
  /** What each control's gestures look out for, by control. */
  readonly wants: ReadonlyMap<string, GestureWants>;
  /** Every footswitch of the board with what it does here, for the lamps. */
  readonly switches: readonly { readonly controlId: string; readonly assignment: Assignment | undefined }[];
};

export type WorldControl = { readonly boardIndex: number; readonly control: Control };

export type WorldSong = {
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
  readonly controls: ReadonlyMap<string, WorldControl>;
  readonly songs: readonly WorldSong[];
  /** Controls by arrival port, then by `messageKey`. */
  readonly inputs: ReadonlyMap<string, ReadonlyMap<number, WorldControl>>;
  /** Functions that report back, by arrival port. */
  readonly reports: ReadonlyMap<string, readonly Reached[]>;
  /** Arrival ports where a report can be read only with the messages before it. */
  readonly sequencedPorts: ReadonlySet<string>;
  /** Ports at the computer that are not enabled for playing. */
  readonly portsOff: ReadonlySet<string>;
  /** Devices that hear what leaves by a port, whatever their channel. */
  readonly devicesBehind: ReadonlyMap<string, readonly Device[]>;
  /** Channels in use behind each port at the computer: what panic has to silence. */
  readonly channelsBehind: ReadonlyMap<string, readonly number[]>;
};

/** Never throws: what points at something that is gone is left out, and doing it later says so. */
export function compileWorld(show: Show): World {
  const cabling = new Cabling(show.rig);
  const functions = new Map<string, Reached>();
  const reports = new Map<string, Reached[]>();
  const channelsBehind = new Map<string, Set<number>>();
  const devicesBehind = new Map<string, Device[]>();
  for (const device of show.rig.devices) {
    const path = cabling.pathTo(device);
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
  const controls = new Map<string, WorldControl>();
  const inputs = new Map<string, Map<number, WorldControl>>();
  boards.forEach((worldBoard, boardIndex) => {
    for (const control of worldBoard.board.controls) {
      const entry = { boardIndex, control };
      controls.set(control.id, entry);
      if (!worldBoard.path) continue;
      const table = inputs.get(worldBoard.path.portId) ?? new Map<number, WorldControl>();
      inputs.set(worldBoard.path.portId, table);
      const key = controlKey(worldBoard.device.channel, control);
      if (!table.has(key)) table.set(key, entry);
    }
  });
  return {
    show,
    functions,
    boards,
    controls,
    inputs,
    reports,
    sequencedPorts: new Set(
      [...reports].flatMap(([portId, rows]) => (rows.some(({ fn }) => needsSequence(fn)) ? portId : [])),
    ),
    portsOff: new Set(
      show.rig.devices.flatMap((d) => d.ports.flatMap((p) => (p.atComputer && !p.plays ? p.id : []))),
    ),
    songs: show.songs.map((song) => ({ song, cells: song.scenes.map((_, i) => sceneCells(song, i)) })),
    devicesBehind,
    channelsBehind: new Map([...channelsBehind].map(([port, set]) => [port, [...set].sort((a, b) => a - b)])),
  };
}

function compileBoard(show: Show, board: Board, cabling: Cabling): WorldBoard[] {
  const device = show.rig.devices.find((d) => d.id === board.deviceId);
  if (!device) return [];
  const preset = show.presets.find((p) => p.id === board.presetId);
  const footswitches = board.controls.filter((c) => c.kind === 'footswitch');
  const banks = (preset?.banks ?? []).map((bank) => {
    const assignments = new Map(bank.assignments.map((a) => [a.controlId, a]));
    const switches = footswitches.map(({ id }) => ({ controlId: id, assignment: assignments.get(id) }));
    const wants = new Map(bank.assignments.map((a) => [a.controlId, gestureWants(a)]));
    return { bank, assignments, wants, switches };
  });
  return [{ board, device, path: cabling.pathFrom(device), banks }];
}

const NOTE = 1 << 11;

/** A number for kind, channel and number of a control's message. */
const controlKey = (channel: number, { sends }: Control): number =>
  (sends.kind === 'note' ? NOTE : 0) | (channel << 7) | sends.number;

/** The key of a message that a control may have sent, or -1. */
export function messageKey(message: Message): number {
  switch (message.kind) {
    case 'controller':
      return (message.channel << 7) | message.controller;
    case 'note-on':
    case 'note-off':
      return NOTE | (message.channel << 7) | message.note;
    default:
      return -1;
  }
}

/** The function and value that a message on its way to a device stands for, or `null`. */
export function functionOf(
  world: World,
  portId: string,
  message: Message,
  sequence: Sequence | null = null,
): { device: Device; fn: ChartFunction; value: number } | null {
  for (const { device, fn, path } of world.functions.values()) {
    if (path?.portId !== portId || !isInForce(device, fn)) continue;
    const value = readFunction(device, fn, message, sequence);
    if (value !== null) return { device, fn, value };
  }
  return null;
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
    (id) => world.boards.flatMap((b) => b.banks).find((b) => b.bank.id === id)?.bank.name ?? null,
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
  return [...new Set(ids.flatMap((id) => world.functions.get(id)?.device ?? []))];
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
