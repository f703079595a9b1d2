import { hasActions, isPressed, type BankTarget } from '../floor';
import { writesOf } from '../gear';
import { NO_SEQUENCES, parameterNow, readSequence, type Message, type Sequence } from '../midi';
import { assertNever } from '../result';
import { hasBegun, letsGo, moveGates } from '../routing';
import { reportsOf } from './heard/drivenBy';
import { answered } from './heard/asking';
import { changeBank, changePage } from './actions/pages';
import type { Command, Effect, LiveEvent, PageTarget } from './state/events';
import type { LiveState } from './state/liveState';
import { hearCoarse, hearFine, hearMove, hearPressure, moveTo, turnEncoder } from './controls/moves';
import { switchHere } from './actions/here';
import { goToCue, hearClock, locate, runLine, switchLoop } from './time/line';
import { goToScene, goToSong, goToSongAt, recallScene } from './song/navigate';
import { panic } from './actions/panic';
import { findPort, losePort } from './heard/plugs';
import { moveModulations, switchRoute } from './heard/routes';
import { resume } from './state/resume';
import { turnView, walkSet } from './song/setRun';
import { hearSwitch } from './controls/switches';
import { takeTap } from './time/tempo';
import { advance } from './time/advance';
import { finish } from './finish';
import { route, setFunction } from './live/sending';
import { takeReport, takeTurn } from './live/takeIn';
import { Live } from './live/live';
import { messageKey, sequenceKey } from './world/inputKeys';
import { type World, type WorldControl } from './world/world';
import { nth } from '../sure';

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
  const live = new Live(world, state, event.leavesMs);
  advance(live, event.atMs);
  switch (event.kind) {
    case 'message':
      receive(live, event.portId, event.message);
      break;
    case 'tick':
      return finish(live);
    case 'command':
      command(live, event.command);
      break;
    default:
      assertNever(event);
  }
  // What a note has just begun or ended is heard at once.
  moveModulations(live);
  return finish(live);
}

function receive(live: Live, portId: string, message: Message): void {
  if (live.world.portsOff.has(portId)) {
    if (!PASSING.has(message.kind)) live.note({ code: 'port-off', portId, functionId: null });
    return;
  }
  // While a control is learned what is pressed is only listened to; what began before ends all the same.
  if (live.state.learning && live.world.learningPorts.has(portId) && !endsHeld(live, portId, message)) return;
  if (live.world.clockPorts.has(portId)) hearClock(live, portId, message);
  live.state.routes = moveGates(live.world.routes, live.state.routes, portId, message);
  const sequence = live.world.sequencedPorts.has(portId) ? remember(live, portId, message) : null;
  if (receiveSequence(live, portId, message, sequence)) return;
  const entry = live.world.inputs.get(portId)?.get(messageKey(message));
  if (entry) {
    // A control that has nothing to do here lets its messages through, and what went through ends there too.
    const passes = hasNothingToDo(live, entry) || hasBegun(live.state.routes, portId, message);
    if (isPressed(entry.control.kind)) hearSwitch(live, entry, velocity(message));
    else hearMove(live, entry, position(message));
    if (passes) routeArrived(live, portId, message);
    return;
  }
  if (callsSong(live, portId, message)) return;
  routeArrived(live, portId, message);
  if (message.kind === 'poly-pressure' || message.kind === 'channel-pressure')
    hearPressure(live, portId, message);
  for (const { reached, value } of reportsOf(live.world, portId, message, sequence))
    if (reached.fn.shape.kind === 'trigger') takeTurn(live, reached.fn.id);
    else {
      takeReport(live, reached, writesOf(reached.device, reached.fn, value));
      answered(live, reached.fn.id);
    }
}

/** A program that calls a song of the running order, from `base` on. @returns whether it was one. */
function callsSong(live: Live, portId: string, message: Message): boolean {
  const { calls } = live.world.show;
  if (!calls || message.kind !== 'program' || portId !== calls.portId || message.channel !== calls.channel)
    return false;
  const songIndex = message.program - calls.base;
  if (!live.world.songs[songIndex]) return false;
  goToSong(live, songIndex, 'first');
  return true;
}

/** Whether a message lets go of what a route or a control holds. */
function endsHeld(live: Live, portId: string, message: Message): boolean {
  if (letsGo(message) && hasBegun(live.state.routes, portId, message)) return true;
  const control = live.world.inputs.get(portId)?.get(messageKey(message))?.control;
  return control !== undefined && isDown(live, control.id) && velocity(message) === 0;
}

const isDown = ({ state }: Live, controlId: string): boolean =>
  state.held[controlId]?.gesture.isDown || state.contacts[controlId]?.isDown || false;

function routeArrived(live: Live, portId: string, message: Message): void {
  if (live.world.routes.sources.has(portId) || hasBegun(live.state.routes, portId, message))
    route(live, portId, message, null);
}

function hasNothingToDo(live: Live, { boardIndex, control }: WorldControl): boolean {
  const assignment = live.assignmentOf(nth(live.world.boards, boardIndex), control.id);
  return !assignment || (!hasActions(assignment) && assignment.sweeps.length === 0);
}

/** Places of controls that take several messages. @returns whether the message was part of one. */
function receiveSequence(live: Live, portId: string, message: Message, sequence: Sequence | null): boolean {
  const table = live.world.sequencedInputs.get(portId);
  if (!table || message.kind !== 'controller') return false;
  if (sequence && sequence.kind !== 'bank-program') {
    const number = sequence.kind === 'controller-14' ? sequence.controller : sequence.parameter;
    const entry = table.get(sequenceKey(sequence.kind, sequence.channel, number));
    if (!entry) return false;
    const isCoarse = sequence.kind !== 'controller-14' && message.controller === DATA_MSB;
    hearHalf(live, entry, (parameterNow(sequence, 14) * 127) / 16383, isCoarse);
    return true;
  }
  const coarse = table.get(sequenceKey('controller-14', message.channel, message.controller));
  if (!coarse) return false;
  hearHalf(live, coarse, ((message.value << 7) * 127) / 16383, true);
  return true;
}

const DATA_MSB = 6;

function hearHalf(live: Live, entry: WorldControl, raw: number, isCoarse: boolean): void {
  if (isPressed(entry.control.kind)) hearSwitch(live, entry, Math.round(raw));
  else if (isCoarse) hearCoarse(live, entry, raw);
  else hearFine(live, entry, raw);
}

/** Kinds that come by themselves all the time: nothing is said about each of them. */
const PASSING: ReadonlySet<Message['kind']> = new Set(['clock', 'active-sensing', 'quarter-frame']);

function remember(live: Live, portId: string, message: Message): Sequence | null {
  const before = live.state.sequences[portId] ?? NO_SEQUENCES;
  const { memory, sequence } = readSequence(before, message);
  if (memory !== before) live.state.sequences = { ...live.state.sequences, [portId]: memory };
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

/** What each command does. */
const COMMANDS: { readonly [K in Command['kind']]: (live: Live, given: Command & { kind: K }) => void } = {
  scene: (live, { to }) => goToScene(live, { kind: to }),
  go: (live, { songIndex, sceneIndex }) => recallScene(live, songIndex, sceneIndex),
  song: (live, { to }) => goToSongAt(live, to),
  show: (live, { to }) => walkSet(live, to),
  view: (live, { to }) => turnView(live, to),
  here: switchHere,
  key(live, { number, isDown }) {
    const pressed = live.world.keys.get(number);
    if (pressed) hearSwitch(live, pressed, isDown ? 127 : 0);
  },
  bank: (live, { boardId, to }) => changeBank(live, boardId, bankTarget(to)),
  page: (live, { boardId, groupId, to }) => changePage(live, boardId, groupId, bankTarget(to)),
  switch: (live, { controlId, velocity }) =>
    withControl(live, controlId, (entry) => hearSwitch(live, entry, velocity)),
  move: (live, { controlId, travel }) => withControl(live, controlId, (entry) => moveTo(live, entry, travel)),
  turn: (live, { controlId, detents }) =>
    withControl(live, controlId, (entry) => turnEncoder(live, entry, detents)),
  lamps(live) {
    live.tellsLamps = true;
  },
  set: (live, { functionId, value }) => setFunction(live, functionId, value),
  tap: takeTap,
  line: (live, { to }) => runLine(live, to),
  cue: (live, { index }) => goToCue(live, { kind: 'at', index }),
  locate: (live, { beat }) => locate(live, beat),
  loop: (live, { to }) => switchLoop(live, to),
  route: switchRoute,
  learn(live, { on }) {
    live.state.learning = on;
  },
  'port-lost': (live, { portId }) => losePort(live, portId),
  'port-found': (live, { portId, isToldAgain }) => findPort(live, portId, isToldAgain),
  resume: (live, { bookmark, awayMs }) => resume(live, bookmark, awayMs),
  panic,
};

function withControl(live: Live, controlId: string, act: (entry: WorldControl) => void): void {
  const entry = live.world.controls.get(controlId);
  if (entry) act(entry);
}

function command<K extends Command['kind']>(live: Live, given: Command & { kind: K }): void {
  COMMANDS[given.kind](live, given);
}

const bankTarget = (to: PageTarget): BankTarget =>
  typeof to === 'string' ? { kind: to } : { kind: 'bank', bankId: to.bankId };
