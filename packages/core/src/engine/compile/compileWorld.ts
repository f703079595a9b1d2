import {
  ACTION_LISTS,
  actionsOf,
  gestureWants,
  pagesOf,
  plainRow,
  type Action,
  type Assignment,
  type Bank,
  type Board,
  type Control,
} from '../../floor';
import {
  Cabling,
  channelsHeard,
  inputsAtComputer,
  functionChannel,
  isInForce,
  isUsable,
  needsSequence,
  type Device,
  type Path,
  type Port,
} from '../../gear';
import { channelsOut, compileRoutes, layersOf, NO_ROUTING, type Layer } from '../../routing';
import {
  partsOf,
  sceneCells,
  sceneSurround,
  songLine,
  valueWithBeat,
  type Carrying,
  type Cell,
  type Reached,
} from '../../show';
import { traitsOf } from '../actions/table';
import { carryingOf } from './carrying';
import { turnsOf } from './turnTable';
import { ChannelsInUse } from './channelsInUse';
import { controlKey, isSequenced, sequenceKey } from '../world/inputKeys';
import { lampEntry, sceneControlsOf } from './sceneControls';
import type { Show, World, WorldBank, WorldBoard, WorldControl, WorldSong } from '../world/world';
import { nth } from '../../sure';

/**
 * Never throws: what points at something that is gone is left out, and doing it later says so.
 * @param aheadMs how long before its time what a glide or a clock says is handed over, in ms from 0.
 */
export function compileWorld(show: Show, aheadMs = 0): World {
  const { rig } = show;
  const gear = compileGear(show);
  const { functions, rows, reports, ways, backs, devicesBehind, inUse, cabling } = gear;
  const boards = rig.boards.flatMap((board) => compileBoard(show, board, cabling, functions));
  const pages = boards.flatMap(({ preset }) => (preset ? pagesOf(preset) : []));
  const assignments = pages.flatMap((p) => p.assignments);
  addPlain(gear, assignments);
  const layers = layersOf(rig);
  addLevels(gear, layers);
  addRouted(show, devicesBehind, inUse);
  const arming = armingOf(rows);
  const { controls, keys, inputs, sequencedInputs } = compileInputs(boards);
  const carrying = carryingOf(functions, arming);
  const songs = compileSongs(show, carrying, boards, functions);
  const ports = rig.devices.flatMap((d) => d.ports);
  const idsOf = (those: readonly Port[]) => new Set(those.map((p) => p.id));
  return {
    show,
    aheadMs,
    functions,
    rows,
    boards,
    boardById: new Map(boards.map((b) => [b.board.id, b])),
    controls,
    keys,
    inputs,
    sequencedInputs,
    ways,
    backs,
    reports,
    sequencedPorts: new Set([
      ...[...reports].flatMap(([portId, told]) => (told.some(({ fn }) => needsSequence(fn)) ? portId : [])),
      ...sequencedInputs.keys(),
    ]),
    portsOff: idsOf(ports.filter((p) => p.atComputer && !p.plays)),
    learningPorts: idsOf(ports.filter((p) => p.learns)),
    songs,
    hasSceneControls: songs.some((s) => s.controls.some((works) => works.size > 0)),
    clockPorts: new Set(songs.flatMap((s) => s.song.line.follows?.portId ?? [])),
    songAt: new Map(songs.map((s, i) => [s.entryId, i])),
    devicesBehind,
    layers,
    arming,
    carrying,
    routes: compileRoutes(
      rig.routing ?? NO_ROUTING,
      inputsAtComputer(rig).map((at) => at.port.id),
    ),
    turns: turnsOf(
      assignments.flatMap((a) => ACTION_LISTS.map((list) => a[list])),
      (id) => functions.get(id)?.fn.shape.kind === 'trigger',
    ),
    pageNames: new Map(pages.map((b) => [b.id, b.name])),
    portIds: idsOf(ports),
    channelsBehind: inUse.behind(),
  };
}

/** What arms a track, each with its input. */
const armingOf = (rows: World['rows']): World['arming'] =>
  rows.flatMap(({ device, fn }) =>
    fn.arms !== null && isUsable(device, fn)
      ? [{ id: fn.id, track: `${device.id}/${fn.arms}`, name: fn.arms, input: fn.input }]
      : [],
  );

/** What a world knows of its gear while it is made. */
type CompiledGear = ReturnType<typeof compileGear>;

/** The devices with the ways to them, and the rows of their charts. */
function compileGear({ rig }: Show) {
  const cabling = new Cabling(rig);
  const functions = new Map<string, Reached>();
  const reports = new Map<string, Reached[]>();
  const inUse = new ChannelsInUse();
  const ways = new Map<string, { device: Device; path: Path | null }>();
  const devicesBehind = new Map<string, Device[]>();
  const backs = new Map<string, string>();
  for (const device of rig.devices) {
    const path = cabling.pathTo(device);
    ways.set(device.id, { device, path });
    const comes = cabling.pathFrom(device);
    const back = device.role === 'receiver' ? comes : null;
    if (comes) backs.set(device.id, comes.portId);
    if (path) listAt(devicesBehind, path.portId).push(device);
    for (const fn of device.chart) {
      const reached = { device, fn, path };
      functions.set(fn.id, reached);
      if (back && isInForce(device, fn)) listAt(reports, back.portId).push(reached);
      inUse.add(path, device, functionChannel(device, fn));
    }
  }
  return { cabling, functions, rows: [...functions.values()], reports, inUse, ways, backs, devicesBehind };
}

/** Messages and controllers by their numbers. A controller that a pedal sends is known and recalled like a row. */
function addPlain({ functions, inUse, ways }: CompiledGear, assignments: readonly Assignment[]): void {
  for (const action of assignments.flatMap(actionsOf)) {
    const way = action.kind === 'message' ? ways.get(action.deviceId) : undefined;
    if (way && action.kind === 'message')
      inUse.add(way.path, way.device, action.channel ?? way.device.channel);
  }
  for (const sweep of assignments.flatMap((a) => a.sweeps)) {
    const fn = plainRow(sweep);
    const way = fn && sweep.functionId === null ? ways.get(sweep.deviceId) : undefined;
    if (!fn || !way) continue;
    functions.set(fn.id, { device: way.device, fn, path: way.path });
    inUse.add(way.path, way.device, fn.channel ?? way.device.channel);
  }
}

/** Levels of layers that no chart has. */
function addLevels({ functions, inUse, ways }: CompiledGear, layers: readonly Layer[]): void {
  for (const { level } of layers) {
    if (!level || functions.has(level.fn.id)) continue;
    const path = ways.get(level.device.id)?.path ?? null;
    functions.set(level.fn.id, { ...level, path });
    inUse.add(path, level.device, functionChannel(level.device, level.fn));
  }
}

/** Channels to which routes and layers lead: where any may come out, those that something behind the port hears. */
function addRouted(
  { rig }: Show,
  devicesBehind: ReadonlyMap<string, readonly Device[]>,
  inUse: ChannelsInUse,
): void {
  const { routes, lines } = rig.routing ?? NO_ROUTING;
  for (const route of routes) {
    const out = channelsOut(route);
    for (const { portId, channel } of route.to) {
      if (lines.some((l) => l.id === portId)) continue;
      const behind = devicesBehind.get(portId) ?? [];
      const heard = new Set(behind.flatMap(channelsHeard));
      for (const at of channel !== null ? [channel] : (out ?? heard)) {
        const hearing = behind.filter((d) => channelsHeard(d).includes(at));
        inUse.addRouted(portId, at, hearing.length === 0 || hearing.some((d) => d.soundOffAtPanic));
      }
    }
  }
}

/** Without ids of its own a place in the running order is the song and how often it stood there before. */
function compileSongs(
  { songs, entryIds, leftOut, lengthsS }: Show,
  carrying: Carrying,
  boards: readonly WorldBoard[],
  functions: ReadonlyMap<string, Reached>,
): WorldSong[] {
  const before = new Map<string, number>();
  return songs.map((song, i) => {
    const surrounds = song.scenes.map((_, at) => sceneSurround(song, at));
    const cells = song.scenes.map((_, at) =>
      atTempo(sceneCells(song, at, carrying), functions, nth(surrounds, at).tempo?.value ?? song.tempoBpm),
    );
    const times = before.get(song.id) ?? 0;
    before.set(song.id, times + 1);
    const parts = partsOf(song).filter((p) => !leftOut?.[i]?.includes(p.sceneId));
    return {
      entryId: entryIds?.[i] ?? `${song.id}/${times}`,
      song,
      lengthS: lengthsS?.[i] ?? song.lengthS,
      parts,
      line: songLine(song, parts),
      lasting: new Map(song.line.cues.map((cue) => [cue.id, lastingOf(cue.actions)])),
      surrounds,
      controls: sceneControlsOf(song, boards, functions),
      cells,
      following: cells.map((map) =>
        [...map].flatMap(([functionId, { note }]) => (note === undefined ? [] : [{ functionId, note }])),
      ),
    };
  });
}

/** Cells with what follows the tempo as it is at a tempo. */
function atTempo(
  cells: ReadonlyMap<string, Cell>,
  functions: ReadonlyMap<string, Reached>,
  bpm: number,
): ReadonlyMap<string, Cell> {
  if (![...cells.values()].some((c) => c.note !== undefined)) return cells;
  return new Map(
    [...cells].map(([id, cell]) => {
      const fn = functions.get(id)?.fn;
      const value = cell.note === undefined || !fn ? null : valueWithBeat(fn, cell.note, bpm);
      return [id, value === null ? cell : { ...cell, value }];
    }),
  );
}

function compileBoard(
  show: Show,
  board: Board,
  cabling: Cabling,
  functions: ReadonlyMap<string, Reached>,
): WorldBoard[] {
  const device = show.rig.devices.find((d) => d.id === board.deviceId);
  if (!device) return [];
  const preset = show.presets.find((p) => p.id === board.presetId) ?? null;
  const groups = preset?.groups ?? [];
  const groupOf = new Map(groups.flatMap((g, i) => g.controlIds.map((id) => [id, i] as const)));
  const page = (bank: Bank, controls: readonly Control[]): WorldBank => {
    const assignments = new Map(bank.assignments.map((a) => [a.controlId, a]));
    const wants = new Map(bank.assignments.map((a) => [a.controlId, gestureWants(a)]));
    const lamps = controls.flatMap(
      (control) => lampEntry(functions, preset, control, assignments.get(control.id)) ?? [],
    );
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
  const keys = new Map<number, WorldControl>();
  const inputs = new Map<string, Map<number, WorldControl>>();
  const sequencedInputs = new Map<string, Map<string, WorldControl>>();
  boards.forEach((worldBoard, boardIndex) => {
    const { board, device, path } = worldBoard;
    for (const control of board.controls) {
      const entry = { boardIndex, control };
      controls.set(control.id, entry);
      // What a board sends by its own program is no press of a control.
      if (board.mode === 'standalone') continue;
      if (control.sends.kind === 'key') {
        if (!keys.has(control.sends.number)) keys.set(control.sends.number, entry);
        continue;
      }
      if (!path) continue;
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
  return { controls, keys, inputs, sequencedInputs };
}

function listAt<V>(map: Map<string, V[]>, key: string): V[] {
  const list = map.get(key) ?? [];
  map.set(key, list);
  return list;
}

function tableAt<K, V>(map: Map<string, Map<K, V>>, key: string): Map<K, V> {
  const table = map.get(key) ?? new Map<K, V>();
  map.set(key, table);
  return table;
}

/** What of some actions stays where their cue is passed over, done at once. */
const lastingOf = (actions: readonly Action[]): readonly Action[] =>
  actions.flatMap((action) => {
    const lasting = traitsOf(action).lasting(action);
    return lasting ? [{ ...lasting, delay: undefined }] : [];
  });
