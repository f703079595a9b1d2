import { ACTION_LISTS, feelsStrikes, moveSwitch, PLAIN_TIMING, type Action, type Assignment } from '../floor';
import { writesOf, type Device } from '../gear';
import { encode, wireTimeMs, type LinkKind } from '../midi';
import { start } from './actions';
import { initialState, type HeldPress, type LiveState } from './liveState';
import { Live } from './live';
import type { World } from './world';

/** What one action puts on the wire of a port. `ms` is how long its bytes take there; 0 on links that are not slow. */
export type ActionWire = {
  readonly portId: string;
  readonly device: Device | null;
  readonly functionId: string | null;
  readonly link: LinkKind;
  readonly messages: readonly (readonly number[])[];
  readonly ms: number;
};

/** Actions that say something of their own; what goes to a scene, a song or a bank says what that says. */
const OWN: ReadonlySet<Action['kind']> = new Set([
  'set',
  'toggle',
  'arm-only',
  'one-of',
  'momentary',
  'step',
  'ramp',
  'message',
  'raw',
]);

/**
 * The exact bytes that an action sends when its gesture fires, by port in the order in which they begin: it is done as a
 * step does it, by the control that it stands at, struck as hard as the action says. Whatever can be switched is taken as
 * off, so that a toggle is shown as it switches on. Empty when the action sends nothing of its own, or what it points at is
 * gone, unreachable or does not take the value.
 */
export function actionWires(world: World, action: Action): readonly ActionWire[] {
  if (!OWN.has(action.kind)) return [];
  const at = placesOf(world).get(action.id);
  const live = new Live(world, restingState(world, at));
  const { delay: _none, ...now } = action;
  const struck =
    at && feelsStrikes(world.controls.get(at.controlId)!.control.kind, at.assignment)
      ? Math.max(1, 'value' in action ? Math.min(127, action.value) : 127)
      : 0;
  const from = { boardId: at?.boardId ?? '', controlId: at?.controlId ?? '', struck };
  start(live, from, { ...now, isOff: false });
  const ports = new Map<string, { functionId: string | null; messages: number[][] }>();
  for (const effect of live.effects) {
    if (effect.kind !== 'send') continue;
    const { portId, functionId, message } = effect;
    const port = ports.get(portId) ?? { functionId, messages: [] };
    ports.set(portId, port);
    port.messages.push(encode(message));
  }
  return [...ports].map(([portId, { functionId, messages }]) => {
    const link = world.show.rig.devices.flatMap((d) => d.ports).find((p) => p.id === portId)?.link ?? 'usb';
    const bytes = messages.reduce((n, m) => n + m.length, 0);
    const device = deviceOf(world, action, functionId, portId);
    return { portId, device, functionId, link, messages, ms: wireTimeMs(bytes, link) };
  });
}

function deviceOf(world: World, action: Action, functionId: string | null, portId: string): Device | null {
  if (action.kind === 'message') return world.ways.get(action.deviceId)?.device ?? null;
  const driven = functionId === null ? undefined : world.functions.get(functionId)?.device;
  return driven ?? world.devicesBehind.get(portId)?.[0] ?? null;
}

type Place = { readonly boardId: string; readonly controlId: string; readonly assignment: Assignment };

const PLACES = new WeakMap<World, ReadonlyMap<string, Place>>();

/** The control that each action stands at, by action. */
function placesOf(world: World): ReadonlyMap<string, Place> {
  let places = PLACES.get(world);
  if (!places) {
    const found = new Map<string, Place>();
    for (const { board, banks, groups } of world.boards)
      for (const { assignments } of [...banks, ...groups.flatMap((g) => g.pages)])
        for (const [controlId, assignment] of assignments)
          if (world.controls.has(controlId))
            for (const list of ACTION_LISTS)
              for (const { id } of assignment[list])
                found.set(id, { boardId: board.id, controlId, assignment });
    PLACES.set(world, (places = found));
  }
  return places;
}

/** Everything that can be switched is off, and the control is down. */
function restingState(world: World, at: Place | undefined): LiveState {
  const state = initialState(world, 0);
  const registers: Record<string, number | null> = {};
  for (const { device, fn } of world.functions.values())
    if (fn.shape.kind === 'switch')
      for (const write of writesOf(device, fn, 0)) registers[write.key] = write.value;
  if (!at) return { ...state, registers };
  const wants = { ...PLAIN_TIMING, hold: false, doublePress: false };
  const held: HeldPress = {
    assignment: at.assignment,
    wants,
    boardId: at.boardId,
    gesture: moveSwitch(null, true, 0, wants).state!,
    struck: 0,
    fired: [],
  };
  return { ...state, registers, held: { [at.controlId]: held } };
}
