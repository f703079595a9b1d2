import {
  answersOn,
  functionChannel,
  loadsProgram,
  REGISTER,
  registersOf,
  rowKey,
  writesHeard,
  type ChartFunction,
  type Device,
  type RegisterKey,
  type RegisterWrite,
} from '../../gear';
import { CONTROLLER, NO_SEQUENCES, readSequence, SILENT, type Message } from '../../midi';
import type { Reached } from '../../show';
import { candidates } from '../heard/drivenBy';
import type { Turn } from '../compile/turnTable';
import type { World } from '../world/world';
import type { Live } from './live';

/**
 * Remembers what a message that leaves by a port changes in the gear behind it, whoever sent it: gear knows only bytes.
 * While the port is unplugged the gear may miss it, so what it holds is unknown from then on.
 */
export function takeIn(live: Live, portId: string, message: Message): void {
  if (!('channel' in message) && message.kind !== 'sysex') return;
  const { state, world } = live;
  const isHeard = !state.lostPorts.includes(portId);
  if (message.kind === 'controller') {
    if (isHeard && REMEMBERED.has(message.controller)) rememberTold(live, portId, message);
    if (message.controller >= FIRST_MODE)
      return takeMode(live, portId, message.channel, message.controller, isHeard);
  }
  const rows = candidates(world, portId, message);
  if (rows.length === 0) return;
  const heard = 'channel' in message ? (state.told[portId]?.[message.channel] ?? SILENT) : SILENT;
  let loading: Device[] | null = null;
  for (const { device, fn } of rows) {
    const writes = writesHeard(device, fn, message, heard, (key) => live.state.registers[key]);
    if (message.kind === 'program' && writes.length > 0 && !loading?.includes(device)) {
      (loading ??= []).push(device);
      forget(live, device, 'channel' in message ? message.channel : 0);
    }
    write(live, isHeard ? writes : writes.map(({ key }) => ({ key, value: null })));
  }
}

/** A trigger was sent or reported: lists that alternate and send it go on to their other turn. */
export function takeTurn({ world, state }: Live, functionId: string): void {
  for (const { key, isEven } of world.turns.get(functionId) ?? NO_TURNS)
    if ((state.evens[key] ?? false) === isEven) state.evens = { ...state.evens, [key]: !isEven };
}

const NO_TURNS: readonly Turn[] = [];

/** What a device reports of one of its rows; one that loaded another program has moved its other functions. */
export function takeReport(live: Live, { device, fn }: Reached, writes: readonly RegisterWrite[]): void {
  const isSame = writes.every((w) => live.state.registers[w.key] === w.value);
  if (isSame) return;
  if (loadsProgram(fn)) forget(live, device, functionChannel(device, fn));
  write(live, writes);
}

/** Writes into registers: copied once a step, before the first change. */
export function write(live: Live, writes: readonly RegisterWrite[]): void {
  const { state } = live;
  for (const { key, value } of writes) {
    if (state.registers[key] === value) continue;
    if (state.registers !== live.registersOwn) state.registers = live.registersOwn = { ...state.registers };
    live.registersOwn[key] = value;
  }
}

/** Controllers that only mean something together with what comes after them. */
const REMEMBERED: ReadonlySet<number> = new Set([
  CONTROLLER.bankMsb,
  CONTROLLER.bankLsb,
  CONTROLLER.rpnMsb,
  CONTROLLER.rpnLsb,
  CONTROLLER.nrpnMsb,
  CONTROLLER.nrpnLsb,
  CONTROLLER.resetControllers,
]);

function rememberTold({ state }: Live, portId: string, message: Message): void {
  const before = state.told[portId] ?? NO_SEQUENCES;
  const { memory } = readSequence(before, message);
  if (memory !== before) state.told = { ...state.told, [portId]: memory };
}

/** Channel mode messages and what is around them. Source: MIDI 1.0 Detailed Specification. */
const FIRST_MODE = 120;
const LOCAL = 122;

/** Channel mode messages end notes, or reset controllers to values that the standard gives. */
function takeMode(live: Live, portId: string, channel: number, number: number, isHeard: boolean): void {
  if (number === LOCAL) return;
  const writes: RegisterWrite[] = [];
  for (const { device, fn, path } of live.world.functions.values()) {
    if (path?.portId !== portId || !answersOn(device, fn, channel)) continue;
    const { touches } = registersOf(device, fn);
    for (const [name, value] of number === CONTROLLER.resetControllers ? RESET : notesOf(fn)) {
      const key = rowKey(device, fn, name);
      if (touches.includes(key) || number !== CONTROLLER.resetControllers) writes.push({ key, value });
    }
  }
  write(live, isHeard ? writes : writes.map(({ key }) => ({ key, value: null })));
}

const notesOf = ({ drive }: ChartFunction): readonly (readonly [string, number])[] =>
  drive.kind === 'note' ? [[REGISTER.note(drive.note), 0]] : [];

/** What "reset all controllers" sets. Source: MIDI recommended practice RP-015. */
const RESET: readonly (readonly [string, number])[] = [
  [REGISTER.controller(1), 0],
  [REGISTER.controller(33), 0],
  [REGISTER.controller(11), 127],
  ...[64, 65, 66, 67].map((n) => [REGISTER.controller(n), 0] as const),
  [REGISTER.bend, 8192],
  [REGISTER.pressure, 0],
];

/** The other registers of a device that loads a program, of the part on that channel where it has parts. */
function forget(live: Live, device: Device, channel: number): void {
  const part = device.listens.kind === 'parts' ? `${device.id}/${channel}/` : '';
  const writes: RegisterWrite[] = [];
  for (const key of keysOf(live.world, device)) if (key.startsWith(part)) writes.push({ key, value: null });
  write(live, writes);
}

const KEYS = new WeakMap<World, Map<string, readonly RegisterKey[]>>();

/** Every register of a device that some function of the rig is about. */
function keysOf(world: World, device: Device): readonly RegisterKey[] {
  let ofWorld = KEYS.get(world);
  if (!ofWorld) KEYS.set(world, (ofWorld = new Map()));
  let keys = ofWorld.get(device.id);
  if (!keys) {
    const found = new Set<RegisterKey>();
    for (const reached of world.functions.values())
      if (reached.device.id === device.id)
        for (const key of registersOf(reached.device, reached.fn).touches) found.add(key);
    keys = [...found];
    ofWorld.set(device.id, keys);
  }
  return keys;
}
