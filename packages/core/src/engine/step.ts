import { hasActions, isPressed, type BankTarget } from '../floor';
import { readFunction } from '../gear';
import { NO_SEQUENCES, readSequence, type Message, type Sequence } from '../midi';
import { assertNever } from '../result';
import { isHeld, letsGo, moveGates } from '../routing';
import { changeBank, changePage } from './actions';
import type { Command, Effect, LiveEvent, PageTurn } from './events';
import type { LiveState } from './liveState';
import { hearCoarse, hearFine, hearMove, hearPressure, moveTo, turnEncoder } from './moves';
import { goToScene, goToSong, recallScene } from './navigate';
import { panic } from './panic';
import { losePort, moveModulations, switchRoute } from './routes';
import { hearSwitch } from './switches';
import { takeTap } from './tempo';
import { advance } from './advance';
import { finish } from './finish';
import { route, setFunction, Turn } from './turn';
import { messageKey, placeOf, sequenceKey, type World, type WorldControl } from './world';

/**
 * The one place where playing is computed: what an event changes, and what the host has to do about it.
 *
 * Pure: same world, state and event, same result. Time comes in with the event; an event of a time that is over
 * happens now. First everything that fell due since the last event is worked through in the order in which it was due,
 * each at its own time, so that it does not matter how often time is looked at.
 * @throws EndlessMoment where things fall due at one moment without end.
 */
export function step(
  world: World,
  state: LiveState,
  event: LiveEvent,
): { state: LiveState; effects: Effect[] } {
  const turn = new Turn(world, state, event.leavesMs);
  advance(turn, event.atMs);
  switch (event.kind) {
    case 'message':
      receive(turn, event.portId, event.message);
      break;
    case 'tick':
      return finish(turn);
    case 'command':
      command(turn, event.command);
      break;
    default:
      assertNever(event);
  }
  // What a note has just begun or ended is heard at once.
  moveModulations(turn);
  return finish(turn);
}

function receive(turn: Turn, portId: string, message: Message): void {
  if (turn.world.portsOff.has(portId)) {
    if (!PASSING.has(message.kind)) turn.note({ code: 'port-off', portId, functionId: null });
    return;
  }
  // While a control is learned what is pressed is only listened to; what began before ends all the same.
  if (turn.state.learning && turn.world.learningPorts.has(portId) && !endsHeld(turn, portId, message)) return;
  turn.state.routes = moveGates(turn.world.routes, turn.state.routes, portId, message);
  const sequence = turn.world.sequencedPorts.has(portId) ? remember(turn, portId, message) : null;
  if (receiveSequence(turn, portId, message, sequence)) return;
  const entry = turn.world.inputs.get(portId)?.get(messageKey(message));
  if (entry) {
    // A control that has nothing to do here lets its messages through, and what went through ends there too.
    const passes = hasNothingToDo(turn, entry) || isHeld(turn.state.routes, portId, message);
    if (isPressed(entry.control.kind)) hearSwitch(turn, entry, velocity(message));
    else hearMove(turn, entry, position(message));
    if (passes) routeArrived(turn, portId, message);
    return;
  }
  routeArrived(turn, portId, message);
  if (message.kind === 'poly-pressure' || message.kind === 'channel-pressure')
    hearPressure(turn, portId, message);
  for (const { device, fn } of turn.world.reports.get(portId) ?? []) {
    const value = readFunction(device, fn, message, sequence);
    if (value !== null && fn.shape.kind !== 'trigger') turn.know(fn.id, value);
  }
}

/** Whether a message lets go of what a route or a control holds. */
function endsHeld(turn: Turn, portId: string, message: Message): boolean {
  if (letsGo(message) && isHeld(turn.state.routes, portId, message)) return true;
  const control = turn.world.inputs.get(portId)?.get(messageKey(message))?.control;
  return control !== undefined && isDown(turn, control.id) && velocity(message) === 0;
}

const isDown = ({ state }: Turn, controlId: string): boolean =>
  state.held[controlId]?.gesture.isDown || state.contacts[controlId]?.isDown || false;

function routeArrived(turn: Turn, portId: string, message: Message): void {
  if (turn.world.routes.sources.has(portId) || isHeld(turn.state.routes, portId, message))
    route(turn, portId, message, null);
}

function hasNothingToDo(turn: Turn, { boardIndex, control }: WorldControl): boolean {
  const assignment = turn.assignmentOf(turn.world.boards[boardIndex]!, control.id);
  return !assignment || (!hasActions(assignment) && assignment.sweeps.length === 0);
}

/** Places of controls that take several messages. @returns whether the message was part of one. */
function receiveSequence(turn: Turn, portId: string, message: Message, sequence: Sequence | null): boolean {
  const table = turn.world.sequencedInputs.get(portId);
  if (!table || message.kind !== 'controller') return false;
  if (sequence && sequence.kind !== 'bank-program') {
    const number = sequence.kind === 'controller-14' ? sequence.controller : sequence.parameter;
    const entry = table.get(sequenceKey(sequence.kind, sequence.channel, number));
    if (!entry) return false;
    const isCoarse = sequence.kind !== 'controller-14' && message.controller === DATA_MSB;
    hearHalf(turn, entry, (sequence.value * 127) / 16383, isCoarse);
    return true;
  }
  const coarse = table.get(sequenceKey('controller-14', message.channel, message.controller));
  if (!coarse) return false;
  hearHalf(turn, coarse, ((message.value << 7) * 127) / 16383, true);
  return true;
}

const DATA_MSB = 6;

function hearHalf(turn: Turn, entry: WorldControl, raw: number, isCoarse: boolean): void {
  if (isPressed(entry.control.kind)) hearSwitch(turn, entry, Math.round(raw));
  else if (isCoarse) hearCoarse(turn, entry, raw);
  else hearFine(turn, entry, raw);
}

/** Kinds that come by themselves all the time: nothing is said about each of them. */
const PASSING: ReadonlySet<Message['kind']> = new Set(['clock', 'active-sensing', 'quarter-frame']);

function remember(turn: Turn, portId: string, message: Message): Sequence | null {
  const before = turn.state.sequences[portId] ?? NO_SEQUENCES;
  const { memory, sequence } = readSequence(before, message);
  if (memory !== before) turn.state.sequences = { ...turn.state.sequences, [portId]: memory };
  return sequence;
}

/** 0 up, 1–127 down: a controller's value, a note's velocity; a program is always a press. */
const velocity = (message: Message): number => (message.kind === 'program' ? 127 : position(message));

/** 0–127, fractions for pitch bend. */
function position(message: Message): number {
  switch (message.kind) {
    case 'controller':
      return message.value;
    case 'note-on':
      return message.velocity;
    case 'channel-pressure':
      return message.pressure;
    case 'pitch-bend':
      return (message.value * 127) / 16383;
    default:
      return 0;
  }
}

function command(turn: Turn, given: Command): void {
  const { songIndex, sceneIndex } = placeOf(turn.world, turn.state);
  const entry = 'controlId' in given ? turn.world.controls.get(given.controlId) : undefined;
  switch (given.kind) {
    case 'scene':
      if (given.to !== 'again') goToScene(turn, { kind: given.to });
      else if (sceneIndex !== null) recallScene(turn, songIndex, sceneIndex, 'all');
      return;
    case 'go':
      recallScene(turn, given.songIndex, given.sceneIndex);
      return;
    case 'song':
      goToSong(turn, songIndex + (given.to === 'next' ? 1 : -1), 'first');
      return;
    case 'bank':
      changeBank(turn, given.boardId, turnedTo(given.to));
      return;
    case 'page':
      changePage(turn, given.boardId, given.groupId, turnedTo(given.to));
      return;
    case 'switch':
      if (entry) hearSwitch(turn, entry, given.velocity);
      return;
    case 'move':
      if (entry) moveTo(turn, entry, given.travel);
      return;
    case 'turn':
      if (entry) turnEncoder(turn, entry, given.detents);
      return;
    case 'lamps':
      turn.tellsLamps = true;
      return;
    case 'set':
      setFunction(turn, given.functionId, given.value);
      return;
    case 'tap':
      takeTap(turn);
      return;
    case 'route':
      switchRoute(turn, given);
      return;
    case 'learn':
      turn.state.learning = given.on;
      return;
    case 'port-lost':
      losePort(turn, given.portId);
      return;
    case 'panic':
      panic(turn);
      return;
    default:
      assertNever(given);
  }
}

const turnedTo = (to: PageTurn): BankTarget =>
  typeof to === 'string' ? { kind: to } : { kind: 'bank', bankId: to.bankId };
