import { type Message } from '../../midi';
import type { RouteTable } from './routeTable';
import type { Begun, RouteMemory } from './routeMemory';
import { find, begunKey } from './begun';
import { Way } from './way';
import type { Passage, RouteConditions, RoutedSend } from './passage';

/**
 * Sends one message through the routes of the port it comes by.
 *
 * A note-off goes where its note-on went. A pedal that goes up, and a bend that returns to its centre, also go where they
 * went before. That holds even if the routes have changed since. Where several sources hold the same thing, the last one
 * ends it.
 * Pure: the memory that comes back is the one to use next; `sends` are in order.
 */
export function passRoutes(
  table: RouteTable,
  memory: RouteMemory,
  conditions: RouteConditions,
  portId: string,
  message: Message,
  nowMs: number,
): {
  readonly memory: RouteMemory;
  readonly sends: readonly RoutedSend[];
  readonly passages: readonly Passage[];
} {
  // The gates of the message itself are moved first: what opens a gate by its own message goes through it.
  const way = new Way(table, moveGates(table, memory, portId, message), conditions, nowMs);
  way.take(portId, message);
  return { memory: way.memory, sends: way.sends, passages: way.passages };
}

/** Whether a message ends something that came in earlier, however the routes were then. */
export function hasBegun(memory: RouteMemory, portId: string, message: Message): boolean {
  const { begun } = memory;
  return begun.length > 0 && find(begun, portId, begunKey(message)) !== undefined;
}

/** The gates that a message moves, whether a route takes it in or not. The same memory where it moves none. */
export function moveGates(
  table: RouteTable,
  memory: RouteMemory,
  portId: string,
  message: Message,
): RouteMemory {
  if (message.kind !== 'controller' || table.controllerGates.size === 0) return memory;
  let { gates } = memory;
  for (const { routeId, by } of table.controllerGates.get(message.controller) ?? []) {
    if (by.portId !== null && by.portId !== portId) continue;
    if (by.channel !== null && by.channel !== message.channel) continue;
    const isOpen = message.value >= by.from && message.value <= by.to;
    if (gates[routeId] !== isOpen) gates = { ...gates, [routeId]: isOpen };
  }
  return gates === memory.gates ? memory : { ...memory, gates };
}

/** Sends what was held back as a possible echo. @param leavesMs the real time at which it leaves. */
export function releaseEchoes(
  table: RouteTable,
  memory: RouteMemory,
  conditions: RouteConditions,
  nowMs: number,
  leavesMs: number,
): {
  readonly memory: RouteMemory;
  readonly sends: readonly RoutedSend[];
  readonly passages: readonly Passage[];
} {
  const way = new Way(table, memory, conditions, nowMs);
  way.release(leavesMs);
  return { memory: way.memory, sends: way.sends, passages: way.passages };
}

/** Ends some of what is held where it began: its port is gone, or everything has to be silent. */
export function endBegun(
  table: RouteTable,
  memory: RouteMemory,
  conditions: RouteConditions,
  cut: readonly Begun[],
  nowMs: number,
): { readonly memory: RouteMemory; readonly sends: readonly RoutedSend[] } {
  const way = new Way(table, memory, conditions, nowMs);
  for (const begun of cut) way.cut(begun);
  return { memory: way.memory, sends: way.sends };
}
