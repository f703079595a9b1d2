import { feelOf, velocityOf, type Action, type BankTarget } from '../floor';
import { noteOff, parseBytes, type Message } from '../midi';
import { assertNever } from '../result';
import { armOnly, armStep, switchOneOf } from './arming';
import { turnClock } from './clocks';
import type { Origin } from './liveState';
import { goToScene, goToSong } from './navigate';
import { panic } from './panic';
import { plainMessage } from './plainMessage';
import { startRamp } from './ramps';
import { allDrivenBy } from './drivenBy';
import { switchRoute } from './routes';
import { takeTap } from './tempo';
import { send, setFunction, type Turn } from './turn';
import { bankIndex, pageIndex, placeOf, type WorldBank } from './world';

/** Does an action now, or puts it off for its delay. */
export function start(turn: Turn, from: Origin, action: Action): void {
  if (action.isOff) return;
  const { delay } = action;
  const beatMs = 60_000 / turn.state.tempo.bpm;
  const delayMs = !delay ? 0 : delay.unit === 'beats' ? delay.amount * beatMs : delay.amount;
  if (delayMs === 0) act(turn, from, action);
  else
    turn.state.delayed = [...turn.state.delayed, { atMs: turn.nowMs + delayMs, from, action }].sort(
      (a, b) => a.atMs - b.atMs,
    );
}

/** Actions whose delay is over. */
export function startDelayed(turn: Turn): void {
  for (let first = turn.state.delayed[0]; first && first.atMs <= turn.nowMs; first = turn.state.delayed[0]) {
    turn.state.delayed = turn.state.delayed.slice(1);
    act(turn, first.from, first.action);
  }
}

function act(turn: Turn, from: Origin, action: Action): void {
  switch (action.kind) {
    case 'set':
      setFunction(turn, action.functionId, action.value);
      return;
    case 'toggle':
      setFunction(turn, action.functionId, turn.value(action.functionId) === 1 ? 0 : 1);
      return;
    case 'arm-only':
      armOnly(turn, action.functionId);
      return;
    case 'arm-step':
      armStep(turn, action.deviceId, action.to);
      return;
    case 'one-of':
      switchOneOf(turn, from.boardId, action.functionId, action.circle);
      return;
    case 'momentary':
      setFunction(turn, action.functionId, action.down);
      return;
    case 'step':
      setFunction(turn, action.functionId, nextValue(action, turn.value(action.functionId)));
      return;
    case 'ramp':
      startRamp(turn, action);
      return;
    case 'message':
      sendPlain(turn, from, action);
      return;
    case 'tap':
      takeTap(turn);
      return;
    case 'raw':
      if (turn.world.portsOff.has(action.portId)) {
        turn.note({ code: 'port-off', portId: action.portId, functionId: null });
        return;
      }
      for (const message of parseBytes(action.bytes).messages) send(turn, action.portId, message, null);
      return;
    case 'route':
      switchRoute(turn, action);
      return;
    case 'clock':
      turnClock(turn, action);
      return;
    case 'bank':
      changeBank(turn, from.boardId, action.to);
      return;
    case 'page':
      changePage(turn, from.boardId, action.groupId, action.to);
      return;
    case 'scene':
      goToScene(turn, action.to);
      return;
    case 'song':
      goToSong(turn, placeOf(turn.world, turn.state).songIndex + (action.to === 'next' ? 1 : -1), 'first');
      return;
    case 'panic':
      panic(turn);
      return;
    default:
      assertNever(action);
  }
}

/**
 * A message by its number. A note sounds until its control goes up; when that is up already it ends at once, so that
 * none is left sounding.
 */
function sendPlain(turn: Turn, from: Origin, action: Action & { kind: 'message' }): void {
  const way = turn.world.ways.get(action.deviceId);
  if (!way) {
    turn.note({ code: 'device-gone' });
    return;
  }
  const portId = way.path?.portId;
  if (portId === undefined) {
    turn.note({ code: 'no-way', deviceId: action.deviceId, functionId: '' });
    return;
  }
  if (turn.world.portsOff.has(portId)) {
    turn.note({ code: 'port-off', portId, functionId: null });
    return;
  }
  const channel = action.channel ?? way.device.channel;
  if (action.send !== 'note') {
    sendKnown(turn, portId, plainMessage(action, channel, action.value));
    return;
  }
  send(turn, portId, plainMessage(action, channel, struckVelocity(turn, from, action.value)), null);
  const isDown =
    turn.state.held[from.controlId]?.gesture.isDown || turn.state.ends[from.controlId] !== undefined;
  if (!isDown) send(turn, portId, noteOff(channel, action.number), null);
  else {
    const playing = turn.state.playing[from.controlId] ?? [];
    const note = { portId, channel, note: action.number };
    turn.state.playing = { ...turn.state.playing, [from.controlId]: [...playing, note] };
  }
}

/** What a pad or key is struck with, as it feels in its preset; a switch has the velocity that it is told. */
function struckVelocity(turn: Turn, { boardId, controlId, struck }: Origin, told: number): number {
  const preset = turn.world.boardById.get(boardId)?.preset;
  const kind = turn.world.controls.get(controlId)?.control.kind;
  if (!preset || !kind || struck === 0) return told;
  return velocityOf(feelOf(preset, kind), struck);
}

/** Sends, and takes note of the functions that it moves, so that toggles and lamps know. */
function sendKnown(turn: Turn, portId: string, message: Message): void {
  let known: string | null = null;
  for (const { reached, value } of allDrivenBy(turn.world, portId, message)) {
    known ??= reached.fn.id;
    if (reached.fn.shape.kind !== 'trigger') turn.know(reached.fn.id, value);
  }
  send(turn, portId, message, known);
}

/** The notes that a control plays end where they began, whatever has changed since. */
export function endNotes(turn: Turn, controlId: string): void {
  const notes = turn.state.playing[controlId];
  if (!notes) return;
  const { [controlId]: _ended, ...others } = turn.state.playing;
  turn.state.playing = others;
  for (const { portId, channel, note } of notes) send(turn, portId, noteOff(channel, note), null);
}

export function changeBank(turn: Turn, boardId: string, to: BankTarget): void {
  const board = turn.world.boardById.get(boardId);
  const next = board ? turnedPage(board.banks, bankIndex(board, turn.state), to) : null;
  if (next === null) turn.note({ code: 'bank-gone' });
  else {
    turn.state.banks = { ...turn.state.banks, [boardId]: next };
    turn.tellsLamps = true;
  }
}

export function changePage(turn: Turn, boardId: string, groupId: string, to: BankTarget): void {
  const group = turn.world.boardById.get(boardId)?.groups.find((g) => g.group.id === groupId);
  const next = group ? turnedPage(group.pages, pageIndex(group, turn.state), to) : null;
  if (next === null) turn.note({ code: 'page-gone' });
  else {
    turn.state.pages = { ...turn.state.pages, [groupId]: next };
    turn.tellsLamps = true;
  }
}

/** Id of the page that is turned to, or `null` when there is none. */
function turnedPage(pages: readonly WorldBank[], now: number, to: BankTarget): string | null {
  if (to.kind === 'bank') return pages.some((p) => p.bank.id === to.bankId) ? to.bankId : null;
  const next = (now + (to.kind === 'up' ? 1 : -1) + pages.length) % Math.max(1, pages.length);
  return pages[next]?.bank.id ?? null;
}

/** The value after the one in force; from outside the list its first, or its last when it goes back. */
function nextValue({ values, direction, atEnd }: Action & { kind: 'step' }, now: number | undefined): number {
  const at = now === undefined ? -1 : values.indexOf(now);
  const last = values.length - 1;
  if (direction === 'reset') return values[0]!;
  if (at < 0) return values[direction === 'forward' ? 0 : last]!;
  const next = at + (direction === 'forward' ? 1 : -1);
  if (next >= 0 && next <= last) return values[next]!;
  return atEnd === 'stop' ? values[at]! : values[next < 0 ? last : 0]!;
}
