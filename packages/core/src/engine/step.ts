import {
  gestureDueMs,
  GESTURES,
  moveSwitch,
  passTime,
  sweepValue,
  type Action,
  type Assignment,
  type BankTarget,
  type Gesture,
} from '../floor';
import { isUsable, readFunction } from '../gear';
import { NO_SEQUENCES, parseBytes, readSequence, type Message, type Sequence } from '../midi';
import { assertNever } from '../result';
import type { Command, Effect, LiveEvent } from './events';
import type { HeldPress, LiveState } from './liveState';
import { goToScene, goToSong, recallScene } from './navigate';
import { panic } from './panic';
import { tap } from './tapTempo';
import { Turn } from './turn';
import { labelOf, messageKey, type World, type WorldControl } from './world';

/**
 * The one place where playing is computed: what an event changes, and what the host has to do about it.
 * Pure: same world, state and event, same result. Time comes in with the event; events come in order of time.
 */
export function step(
  world: World,
  state: LiveState,
  event: LiveEvent,
): { state: LiveState; effects: Effect[] } {
  const turn = new Turn(world, state, event.atMs);
  turn.flush();
  passGestures(turn);
  startDelayed(turn);
  switch (event.kind) {
    case 'message':
      receive(turn, event.portId, event.message);
      break;
    case 'tick':
      break;
    case 'command':
      command(turn, event.command);
      break;
    default:
      assertNever(event);
  }
  return turn.finish();
}

function receive(turn: Turn, portId: string, message: Message): void {
  if (turn.world.portsOff.has(portId)) {
    if (!PASSING.has(message.kind)) turn.note({ code: 'port-off', portId, functionId: null });
    return;
  }
  const control = turn.world.inputs.get(portId)?.get(messageKey(message));
  if (control) {
    if (control.control.kind === 'expression-pedal') movePedal(turn, control, position(message));
    else moveFootswitch(turn, control, position(message) > 0);
    return;
  }
  const sequence = turn.world.sequencedPorts.has(portId) ? remember(turn, portId, message) : null;
  for (const { device, fn } of turn.world.reports.get(portId) ?? []) {
    const value = readFunction(device, fn, message, sequence);
    if (value !== null && fn.shape.kind !== 'trigger') turn.learn(fn.id, value);
  }
}

/** Kinds that come by themselves all the time: nothing is said about each of them. */
const PASSING: ReadonlySet<Message['kind']> = new Set(['clock', 'active-sensing', 'quarter-frame']);

function remember(turn: Turn, portId: string, message: Message): Sequence | null {
  const before = turn.state.sequences[portId] ?? NO_SEQUENCES;
  const { memory, sequence } = readSequence(before, message);
  if (memory !== before) turn.state.sequences = { ...turn.state.sequences, [portId]: memory };
  return sequence;
}

/** 0–127: a controller's value, a note's velocity, 0 for a note-off. */
function position(message: Message): number {
  if (message.kind === 'controller') return message.value;
  return message.kind === 'note-on' ? message.velocity : 0;
}

/** A switch goes down or up: its gestures fire as far as they can tell themselves apart now. */
function moveFootswitch(turn: Turn, { boardIndex, control }: WorldControl, isDown: boolean): void {
  const now = turn.assignmentOf(boardIndex, control.id) ?? null;
  let held = turn.state.held[control.id];
  if (isDown) {
    const label = labelOf(turn.world, now ?? undefined, turn.state.position.songIndex);
    turn.note({ code: 'pressed', controlId: control.id, label: label || control.name });
    if (!now || isEmpty(now)) turn.note({ code: 'nothing-assigned' });
    // Another bank means another thing: a press that still waited for its second one fires as what it was.
    if (held && held.assignment !== now) held = finishGesture(turn, control.id, held);
  }
  const assignment = held ? held.assignment : now;
  const wants = held?.wants ?? turn.wantsOf(boardIndex, control.id);
  const outcome = moveSwitch(held?.gesture ?? null, isDown, turn.nowMs, wants);
  const fresh = isDown || !held ? [] : held.fired;
  settleGesture(turn, control.id, { assignment, wants, boardIndex, fired: fresh }, outcome);
}

/** Holds, and presses whose second one never came: what is due by now, on every switch, in order of time. */
function passGestures(turn: Turn): void {
  for (const controlId of Object.keys(turn.state.held)) {
    const held = turn.state.held[controlId]!;
    const due = gestureDueMs(held.gesture, held.wants);
    if (due !== null && due <= turn.nowMs)
      settleGesture(turn, controlId, held, passTime(held.gesture, turn.nowMs, held.wants));
  }
}

/** Fires the press that a switch still owes, and lets it go. */
function finishGesture(turn: Turn, controlId: string, held: HeldPress): undefined {
  const owed = held.gesture.isPending ? (['press', 'release'] as const) : [];
  const fired = owed.map((gesture) => ({ gesture, atMs: turn.nowMs }));
  settleGesture(turn, controlId, held, { state: null, fired });
  return undefined;
}

function settleGesture(
  turn: Turn,
  controlId: string,
  held: Omit<HeldPress, 'gesture'>,
  { state, fired }: ReturnType<typeof moveSwitch>,
): void {
  const names = fired.length === 0 ? held.fired : [...held.fired, ...fired.map((f) => f.gesture)];
  const { assignment, wants, boardIndex } = held;
  if (state) {
    const next: HeldPress = { assignment, wants, boardIndex, gesture: state, fired: names };
    turn.state.held = { ...turn.state.held, [controlId]: next };
  } else if (turn.state.held[controlId]) {
    const { [controlId]: _before, ...others } = turn.state.held;
    turn.state.held = others;
  }
  for (const { gesture } of fired) {
    for (const action of held.assignment?.[gesture] ?? []) start(turn, held.boardIndex, action);
    if (gesture === 'release') endMomentary(turn, held.assignment, names);
  }
}

/** What a momentary action sent down goes up again when its switch does. */
function endMomentary(turn: Turn, assignment: Assignment | null, fired: readonly Gesture[]): void {
  for (const gesture of new Set(fired))
    for (const action of assignment?.[gesture] ?? [])
      if (action.kind === 'momentary' && !action.isOff) {
        turn.state.delayed = turn.state.delayed.filter((d) => d.action.id !== action.id);
        turn.set(action.functionId, action.up);
      }
}

/** Does an action now, or puts it off for its delay. */
function start(turn: Turn, boardIndex: number, action: Action): void {
  if (action.isOff) return;
  const { delay } = action;
  const beatMs = 60_000 / turn.state.tempo.bpm;
  const delayMs = !delay ? 0 : delay.unit === 'beats' ? delay.amount * beatMs : delay.amount;
  if (delayMs === 0) act(turn, boardIndex, action);
  else
    turn.state.delayed = [...turn.state.delayed, { atMs: turn.nowMs + delayMs, boardIndex, action }].sort(
      (a, b) => a.atMs - b.atMs,
    );
}

/** Actions whose delay is over. */
function startDelayed(turn: Turn): void {
  for (let first = turn.state.delayed[0]; first && first.atMs <= turn.nowMs; first = turn.state.delayed[0]) {
    turn.state.delayed = turn.state.delayed.slice(1);
    act(turn, first.boardIndex, first.action);
  }
}

function movePedal(turn: Turn, { boardIndex, control }: WorldControl, at: number): void {
  if (turn.state.pedals[control.id] === at) return;
  turn.state.pedals = { ...turn.state.pedals, [control.id]: at };
  for (const sweep of turn.assignmentOf(boardIndex, control.id)?.sweeps ?? []) {
    const value = sweepValue(sweep, at);
    if (turn.value(sweep.functionId) !== value) turn.set(sweep.functionId, value);
  }
}

function act(turn: Turn, boardIndex: number, action: Action): void {
  switch (action.kind) {
    case 'set':
      turn.set(action.functionId, action.value);
      return;
    case 'toggle':
      turn.set(action.functionId, turn.value(action.functionId) === 1 ? 0 : 1);
      return;
    case 'arm-only':
      armOnly(turn, action.functionId);
      return;
    case 'momentary':
      turn.set(action.functionId, action.down);
      return;
    case 'step':
      turn.set(action.functionId, nextValue(action, turn.value(action.functionId)));
      return;
    case 'tap':
      Object.assign(turn.state, tap(turn.state, turn.nowMs));
      return;
    case 'raw':
      if (turn.world.portsOff.has(action.portId)) {
        turn.note({ code: 'port-off', portId: action.portId, functionId: null });
        return;
      }
      for (const message of parseBytes(action.bytes).messages) turn.send(action.portId, message, null);
      return;
    case 'bank':
      changeBank(turn, boardIndex, action.to);
      return;
    case 'scene':
      goToScene(turn, action.to);
      return;
    case 'song':
      goToSong(turn, turn.state.position.songIndex + (action.to === 'next' ? 1 : -1), 'first');
      return;
    case 'panic':
      panic(turn);
      return;
    default:
      assertNever(action);
  }
}

function command(turn: Turn, given: Command): void {
  const { songIndex, sceneIndex } = turn.state.position;
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
    case 'bank': {
      const index = turn.world.boards.findIndex((b) => b.board.id === given.boardId);
      if (index >= 0) changeBank(turn, index, { kind: given.to });
      return;
    }
    case 'set':
      turn.set(given.functionId, given.value);
      return;
    case 'tap':
      Object.assign(turn.state, tap(turn.state, turn.nowMs));
      return;
    case 'panic':
      panic(turn);
      return;
    default:
      assertNever(given);
  }
}

function changeBank(turn: Turn, boardIndex: number, to: BankTarget): void {
  const { board, banks } = turn.world.boards[boardIndex]!;
  const now = turn.state.banks[board.id] ?? 0;
  const next =
    to.kind === 'bank'
      ? banks.findIndex((b) => b.bank.id === to.bankId)
      : (now + (to.kind === 'up' ? 1 : -1) + banks.length) % Math.max(1, banks.length);
  if (!banks[next]) turn.note({ code: 'bank-gone' });
  else turn.state.banks = { ...turn.state.banks, [board.id]: next };
}

/**
 * The track is armed first and the others let go after it, so that there is no moment without sound; only what is not
 * so already is sent.
 */
function armOnly(turn: Turn, functionId: string): void {
  const chosen = turn.world.functions.get(functionId);
  if (!chosen) {
    turn.note({ code: 'function-gone', functionId });
    return;
  }
  const others = chosen.device.chart.flatMap((fn) => {
    const reached = fn.arms !== null && fn.id !== functionId ? turn.world.functions.get(fn.id) : undefined;
    // One track may be armed by two messages: the other one is not let go again.
    return reached && fn.arms !== chosen.fn.arms && isUsable(reached.device, fn)
      ? [{ reached, value: 0 }]
      : [];
  });
  turn.recall([{ reached: chosen, value: 1 }, ...others], 'changes');
}

/** The value after the one in force; from outside the list its first, or its last when it goes back. */
function nextValue({ values, direction, atEnd }: Action & { kind: 'step' }, now: number | undefined): number {
  const at = now === undefined ? -1 : values.indexOf(now);
  const last = values.length - 1;
  if (at < 0) return values[direction === 'forward' ? 0 : last]!;
  const next = at + (direction === 'forward' ? 1 : -1);
  if (next >= 0 && next <= last) return values[next]!;
  return atEnd === 'stop' ? values[at]! : values[next < 0 ? last : 0]!;
}

const isEmpty = (a: Assignment): boolean => GESTURES.every((gesture) => a[gesture].length === 0);
