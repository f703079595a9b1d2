import { sweepValue, type Action, type Assignment, type BankTarget } from '../floor';
import { readFunction } from '../gear';
import { NO_SEQUENCES, parseBytes, readSequence, type Message, type Sequence } from '../midi';
import { assertNever } from '../result';
import type { Command, Effect, LiveEvent } from './events';
import type { LiveState } from './liveState';
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
    else if (position(message) > 0) press(turn, control);
    else release(turn, control);
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

function press(turn: Turn, { boardIndex, control }: WorldControl): void {
  const assignment = turn.assignmentOf(boardIndex, control.id);
  turn.state.held = {
    ...turn.state.held,
    [control.id]: { assignment: assignment ?? null, atMs: turn.nowMs },
  };
  const label = labelOf(turn.world, assignment, turn.state.position.songIndex);
  turn.note({ code: 'pressed', controlId: control.id, label: label || control.name });
  if (!assignment || isEmpty(assignment)) turn.note({ code: 'nothing-assigned' });
  else for (const action of assignment.press) act(turn, boardIndex, action);
}

/** Does what was assigned when the switch went down, even if the bank has changed since. */
function release(turn: Turn, { boardIndex, control }: WorldControl): void {
  const held = turn.state.held[control.id];
  if (!held) return;
  turn.state.held = Object.fromEntries(Object.entries(turn.state.held).filter(([id]) => id !== control.id));
  for (const action of held.assignment?.release ?? []) act(turn, boardIndex, action);
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

const isEmpty = (a: Assignment): boolean => a.press.length === 0 && a.release.length === 0;
