import { actionWires, type LiveState, type World } from '@idle-step/core/engine';
import type { Action } from '@idle-step/core/floor';
import { hex } from '@idle-step/core/midi';
import type { ActionWords } from './entry';
import { entryOf } from './table';

export const actionWords = (world: World, action: Action): ActionWords =>
  entryOf(action).words(action, world);

/** The bytes that an action sends if its gesture is made next, or what it says through something else. */
export function actionBytes(world: World, action: Action, state: LiveState): string {
  const instead = entryOf(action).instead(action);
  if (instead !== null) return instead;
  const wires = actionWires(world, action, state);
  const bytes = wires.flatMap((wire) => wire.messages.map((m) => hex(m))).join('  ');
  if (bytes) return wires[0]?.unknown === 'asks' ? `${bytes}, asks first` : bytes;
  return notSent(world, action);
}

/** Why an action that says something of its own says nothing. */
function notSent(world: World, action: Action): string {
  const reached = 'functionId' in action ? world.functions.get(action.functionId) : undefined;
  if ('functionId' in action && !reached) return 'nothing is sent';
  const way = 'deviceId' in action ? world.ways.get(action.deviceId) : reached;
  if (way && !way.path) return 'not sent: no cable leads there';
  const portId = way?.path?.portId ?? ('portId' in action ? action.portId : '');
  return world.portsOff.has(portId) ? 'not sent: its port is not enabled for playing' : 'nothing is sent';
}
