import {
  ACTION_LISTS,
  alternates,
  feelsStrikes,
  isDoneBy,
  moveSwitch,
  PLAIN_TIMING,
  type Action,
  type ActionListName,
  type Assignment,
} from '../../floor';
import type { Device } from '../../gear';
import { encode, wireTimeMs, type LinkKind } from '../../midi';
import { start } from './start';
import { traitsOf } from './table';
import { delayMsOf } from '../live/delayed';
import type { Effect } from '../state/events';
import type { LiveState } from '../state/liveState';
import { Live } from '../live/live';
import { sendPending, setFunction } from '../live/sending';
import { isEvenNext } from '../lamps/turns';
import type { World } from '../world/world';
import { got, there } from '../../sure';

/**
 * What one action puts on the wire of a port. `value` is where its function then stands, `null` where that is not known
 * or no function is moved. `ms` is how long its bytes take there; 0 on links that are not slow.
 */
export type ActionWire = {
  readonly portId: string;
  readonly device: Device | null;
  readonly functionId: string | null;
  readonly value: number | null;
  /** Where nothing tells whether it is on: the first press asks the device, or sends off. */
  readonly unknown: 'asks' | 'off' | null;
  readonly link: LinkKind;
  readonly messages: readonly (readonly number[])[];
  readonly ms: number;
};

/** Longer than any delay, settle time or guard of steps, in ms. */
const QUIET_MS = 60_000;

function isStruckBy(world: World, at: Place): boolean {
  const preset = world.boardById.get(at.boardId)?.preset;
  const { kind } = got(world.controls, at.controlId).control;
  return preset ? feelsStrikes(preset, kind, at.assignment) : false;
}

/**
 * The exact bytes that an action sends if its gesture is made next, by port in the order in which they begin: it is done
 * as a step does it, by the control that it stands at, struck as hard as the action says, once what is on its way has
 * arrived and what stands before it in its list is done. Empty when the action sends nothing of its own, or what it
 * points at is gone, unreachable or does not take the value.
 */
export function actionWires(world: World, action: Action, state: LiveState): readonly ActionWire[] {
  if (!traitsOf(action).isOwn) return [];
  const at = placesOf(world).get(action.id);
  const live = new Live(world, at ? downState(state, at) : state);
  const struck =
    at && isStruckBy(world, at) ? Math.max(1, 'value' in action ? Math.min(127, action.value) : 127) : 0;
  const from = { boardId: at?.boardId ?? '', controlId: at?.controlId ?? '', struck };
  const doNow = ({ delay: _none, ...now }: Action): void => start(live, from, { ...now, isOff: false });
  // While an action is edited it is a copy; the one in the list is found by its id.
  const own = at?.assignment[at.list].find((a) => a.id === action.id);
  for (const before of at && own ? doneBefore(live, at, own) : []) {
    doNow(before);
    arrive(live);
  }
  arrive(live);
  const first = live.effects.length;
  doNow(action);
  // Where the list is done as the control goes up, a momentary action ends at once.
  if (at && action.kind === 'momentary' && isDoneUp(at)) setFunction(live, action.functionId, action.up);
  arrive(live);
  return wiresOf(live, action, live.effects.slice(first));
}

/** Lets enough time pass that everything waiting has been sent and every device listens again. */
function arrive(live: Live): void {
  live.nowMs += QUIET_MS;
  sendPending(live);
}

/** The actions of its list that are done before an action: those earlier in the list whose delay is not longer. */
function doneBefore(live: Live, { list, assignment }: Place, action: Action): readonly Action[] {
  const { every } = action;
  const actions = assignment[list];
  const isEven = every === undefined ? isEvenNext(live.world, live.state, actions) : every === 'even';
  const done = inOrder(live, actions, isEven, action);
  return done.slice(0, done.indexOf(action));
}

/** The actions that a list does at an odd or even turn, and `also`, ordered by delay. */
function inOrder(live: Live, actions: readonly Action[], isEven: boolean, also?: Action): readonly Action[] {
  return actions
    .filter((a) => a === also || (!a.isOff && isDoneBy(a, isEven)))
    .sort((a, b) => delayMsOf(live, a) - delayMsOf(live, b));
}

/** How long a port is busy with a press, each of its messages, and when it is done, in ms from the press. */
export type PressLane = {
  readonly portId: string;
  readonly wires: readonly ActionWire[];
  readonly doneMs: number;
};

/**
 * How busy each port is with a press, or with another list of an assignment, in the order in which the ports begin. Ports
 * send at the same time; an action with a delay begins after its delay.
 */
export function pressLanes(world: World, actions: readonly Action[], state: LiveState): readonly PressLane[] {
  const live = new Live(world, state);
  const lanes = new Map<string, { wires: ActionWire[]; doneMs: number }>();
  const isEven = alternates(actions) && isEvenNext(world, state, actions);
  for (const action of inOrder(live, actions, isEven))
    for (const wire of actionWires(world, action, state)) {
      const lane = lanes.get(wire.portId) ?? { wires: [], doneMs: 0 };
      lanes.set(wire.portId, lane);
      lane.wires.push(wire);
      lane.doneMs = Math.max(lane.doneMs, delayMsOf(live, action)) + wire.ms;
    }
  return [...lanes].map(([portId, lane]) => ({ portId, ...lane }));
}

function wiresOf(live: Live, action: Action, effects: readonly Effect[]): readonly ActionWire[] {
  const { world } = live;
  const ports = new Map<string, { functionId: string | null; messages: number[][] }>();
  let unknown: ActionWire['unknown'] = null;
  for (const effect of effects) {
    if (effect.kind === 'note' && effect.note.code === 'value-asked') unknown = 'asks';
    if (effect.kind === 'note' && effect.note.code === 'switched-off-unknown') unknown = 'off';
    if (effect.kind !== 'send') continue;
    const functionId = effect.functionId ?? ('functionId' in action ? action.functionId : null);
    const port = ports.get(effect.portId) ?? { functionId, messages: [] };
    ports.set(effect.portId, port);
    port.messages.push(encode(effect.message));
  }
  return [...ports].map(([portId, { functionId, messages }]) => {
    const link = world.show.rig.devices.flatMap((d) => d.ports).find((p) => p.id === portId)?.link ?? 'usb';
    const bytes = messages.reduce((n, m) => n + m.length, 0);
    const device = deviceOf(world, action, functionId, portId);
    const value = functionId === null ? null : (live.value(functionId) ?? null);
    return { portId, device, functionId, value, unknown, link, messages, ms: wireTimeMs(bytes, link) };
  });
}

function deviceOf(world: World, action: Action, functionId: string | null, portId: string): Device | null {
  if (action.kind === 'message') return world.ways.get(action.deviceId)?.device ?? null;
  const driven = functionId === null ? undefined : world.functions.get(functionId)?.device;
  return driven ?? world.devicesBehind.get(portId)?.[0] ?? null;
}

type Place = {
  readonly boardId: string;
  readonly controlId: string;
  readonly assignment: Assignment;
  readonly list: ActionListName;
};

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
                found.set(id, { boardId: board.id, controlId, assignment, list });
    PLACES.set(world, (places = found));
  }
  return places;
}

/** Whether a list is done when its control has gone up. */
const isDoneUp = ({ assignment, list }: Place): boolean =>
  list === 'release' ||
  (list === 'press' && assignment.timing.holdCancelsPress && assignment.hold.length > 0);

/** A control that was just moved so that the list of an action is done. */
function downState(state: LiveState, place: Place): LiveState {
  const { boardId, controlId, assignment } = place;
  const { [controlId]: _before, ...others } = state.held;
  if (isDoneUp(place)) return { ...state, held: others };
  const wants = { ...PLAIN_TIMING, hold: false, doublePress: false };
  const gesture = there(moveSwitch(null, true, 0, wants).state);
  return {
    ...state,
    held: { ...others, [controlId]: { assignment, wants, boardId, gesture, struck: 0, fired: [] } },
  };
}
