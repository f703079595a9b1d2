import {
  answersOn,
  functionChannel,
  isInForce,
  readFunction,
  type ChartFunction,
  type Device,
} from '../gear';
import type { Channel, Message } from '../midi';
import type { Reached } from '../show';
import { messageKey, type World } from './world';

/** The function that a single message sent by a port drives, with its value, or `null`. */
export function drivenBy(
  world: World,
  portId: string,
  message: Message,
): { readonly reached: Reached; readonly value: number } | null {
  for (const reached of driveTable(world, portId).get(messageKey(message)) ?? []) {
    const value = readFunction(reached.device, reached.fn, message, null);
    if (value !== null) return { reached, value };
  }
  return null;
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
          list.push(reached);
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

/** Keys of the messages that drive a function by themselves; none where several belong together. */
function keysOf({ drive }: ChartFunction, channel: number): readonly number[] {
  const key = (message: object) => messageKey({ channel: channel as Channel, ...message } as Message);
  switch (drive.kind) {
    case 'controller':
      return [key({ kind: 'controller', controller: drive.controller })];
    case 'note':
      return [key({ kind: 'note-on', note: drive.note })];
    case 'program':
      return drive.bank === null
        ? Array.from({ length: 128 }, (_, program) => key({ kind: 'program', program }))
        : [];
    case 'pitch-bend':
      return [key({ kind: 'pitch-bend' })];
    case 'channel-pressure':
      return [key({ kind: 'channel-pressure' })];
    default:
      return [];
  }
}
