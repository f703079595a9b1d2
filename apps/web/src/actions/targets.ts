import type { World } from '@idle-step/core/engine';
import { outputsAtComputer, portWords } from '@idle-step/core/gear';

/** Ports at the computer by which something can be sent. */
export const outputs = (world: World): { value: string; text: string }[] =>
  outputsAtComputer(world.show.rig).map(({ device, port }) => ({
    value: port.id,
    text: portWords(device, port),
  }));

/** Devices that can be told something: the reachable ones first. */
export const receivers = (world: World): { value: string; text: string }[] =>
  [...world.ways.values()]
    .filter(({ device }) => device.role === 'receiver')
    .sort((a, b) => Number(b.path !== null) - Number(a.path !== null))
    .map(({ device, path }) => ({
      value: device.id,
      text: path ? device.name : `${device.name} (no cable)`,
    }));
