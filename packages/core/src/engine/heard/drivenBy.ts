import {
  answersOn,
  functionChannel,
  isInForce,
  readFunction,
  type ChartFunction,
  type Device,
} from '../../gear';
import { program, type Message, type Sequence } from '../../midi';
import { assertNever } from '../../result';
import type { Reached } from '../../show';
import { messageKey } from '../world/inputKeys';
import { type World } from '../world/world';

type Driven = { readonly reached: Reached; readonly value: number };

/**
 * The function that a message on its way out by a port drives, with its value, or `null`.
 * @param sequence what the message completes together with those before it, where that is known.
 */
export function drivenBy(
  world: World,
  portId: string,
  message: Message,
  sequence: Sequence | null = null,
): Driven | null {
  for (const reached of candidates(world, portId, message)) {
    const value = readFunction(reached.device, reached.fn, message, sequence);
    if (value !== null) return { reached, value };
  }
  return null;
}

/** Every function that a message by itself drives: two devices may listen to the same one. */
export const allDrivenBy = (world: World, portId: string, message: Message): readonly Driven[] =>
  candidates(world, portId, message).flatMap((reached) => {
    const value = readFunction(reached.device, reached.fn, message, null);
    return value === null ? [] : [{ reached, value }];
  });

/**
 * What a message that comes in by a port reports: every function that is told by it, with its value.
 * @param sequence what the message completes together with those before it, where that is known.
 */
export function reportsOf(
  world: World,
  portId: string,
  message: Message,
  sequence: Sequence | null = null,
): readonly Driven[] {
  const reports = world.reports.get(portId);
  if (!reports) return NO_REPORTS;
  let told: Driven[] | null = null;
  for (const reached of reports) {
    const value = readFunction(reached.device, reached.fn, message, sequence);
    if (value !== null) (told ??= []).push({ reached, value });
  }
  return told ?? NO_REPORTS;
}

const NO_REPORTS: readonly Driven[] = [];

/** Every row behind a port that a message may write to. */
export const candidates = (world: World, portId: string, message: Message): readonly Reached[] =>
  driveTable(world, portId).get(keyOf(message)) ?? NONE;

const NONE: readonly Reached[] = [];

/** Key of all exclusive messages. */
const SYSEX = -2;

/** A program change may drive every row of its channel that takes one, so all of them have one key. */
function keyOf(message: Message): number {
  if (message.kind === 'sysex') return SYSEX;
  return messageKey(message.kind === 'program' ? program(message.channel, 0) : message);
}

/** Functions behind a port by the key of the message that drives them. Found once for each world and port. */
function driveTable(world: World, portId: string): ReadonlyMap<number, readonly Reached[]> {
  let ofWorld = DRIVES.get(world);
  if (!ofWorld) DRIVES.set(world, (ofWorld = new Map()));
  let table = ofWorld.get(portId);
  if (!table) {
    table = new Map();
    for (const reached of world.functions.values()) {
      if (reached.path?.portId !== portId || !isInForce(reached.device, reached.fn)) continue;
      for (const channel of channelsOf(reached.device, reached.fn)) {
        for (const key of keysOf(reached.fn, channel)) {
          const list = table.get(key) ?? [];
          if (list.at(-1) !== reached) list.push(reached);
          table.set(key, list);
        }
      }
    }
    ofWorld.set(portId, table);
  }
  return table;
}

const DRIVES = new WeakMap<World, Map<string, Map<number, Reached[]>>>();

const channelsOf = (device: Device, fn: ChartFunction): readonly number[] =>
  device.listens.kind === 'one' || device.listens.kind === 'parts'
    ? [functionChannel(device, fn)]
    : Array.from({ length: 16 }, (_, channel) => channel).filter((c) => answersOn(device, fn, c));

/** Keys of the messages that can complete what drives a function. */
function keysOf({ drive }: ChartFunction, channel: number): readonly number[] {
  const key = (message: object) => messageKey({ channel, ...message } as Message);
  const controllers = (...numbers: readonly number[]) =>
    numbers.map((number) => key({ kind: 'controller', controller: number }));
  switch (drive.kind) {
    case 'controller':
      return controllers(drive.controller);
    case 'controller-14':
      return controllers(drive.controller, drive.controller + 32);
    case 'parameter':
      return controllers(6, 38, 96, 97);
    case 'note':
      return [key({ kind: 'note-on', note: drive.note })];
    case 'program':
    case 'sound':
      return [key({ kind: 'program', program: 0 })];
    case 'pitch-bend':
      return [key({ kind: 'pitch-bend' })];
    case 'channel-pressure':
      return [key({ kind: 'channel-pressure' })];
    case 'sysex':
    case 'transport':
    case 'record-ready':
      return [SYSEX];
    default:
      return assertNever(drive);
  }
}
