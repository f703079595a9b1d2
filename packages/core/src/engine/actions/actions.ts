import { touchOf, velocityOf, type Action } from '../../floor';
import { keepsNumber, type Device } from '../../gear';
import { noteOff, parseBytes, type Message } from '../../midi';
import { assertNever } from '../../result';
import { armOnly, armStep, switchOneOf } from './arming';
import { switchClock } from '../time/clocks';
import { asks, awaitAnswer } from '../heard/asking';
import { delayMsOf, putOff } from '../live/delayed';
import type { LiveNote } from '../state/events';
import type { Origin } from '../state/liveState';
import { goToCue, runLine, switchLoop } from '../time/line';
import { goToScene, goToSongAt } from '../song/navigate';
import { panic } from './panic';
import { plainMessage } from './plainMessage';
import { startRamp } from '../time/ramps';
import { allDrivenBy } from '../heard/drivenBy';
import { switchRoute } from '../heard/routes';
import { isDoubled } from '../controls/stepGuard';
import { takeTap } from '../time/tempo';
import { send, setFunction } from '../live/sending';
import { type Live } from '../live/live';
import { changeBank, changePage } from './pages';
import { turnView, walkSet, wantCapture } from '../song/setRun';

/** Does an action now, or puts it off for its delay. */
export function start(live: Live, from: Origin, action: Action): void {
  if (action.isOff || isDoubled(live, action)) return;
  if (delayMsOf(live, action) === 0) act(live, from, action);
  else putOff(live, from, action);
}

/** Actions whose delay is over. */
export function startDelayed(live: Live): void {
  for (let first = live.state.delayed[0]; first && first.atMs <= live.nowMs; first = live.state.delayed[0]) {
    live.state.delayed = live.state.delayed.slice(1);
    act(live, first.from, first.action);
  }
}

function act(live: Live, from: Origin, action: Action): void {
  switch (action.kind) {
    case 'set':
      setFunction(live, action.functionId, action.value);
      return;
    case 'toggle':
      toggle(live, from, action);
      return;
    case 'arm-only':
      armOnly(live, action.functionId);
      return;
    case 'arm-step':
      armStep(live, action.deviceId, action.to);
      return;
    case 'one-of':
      switchOneOf(live, from.boardId, action.functionId, action.circle);
      return;
    case 'momentary':
      setFunction(live, action.functionId, action.down);
      return;
    case 'step':
      takeStep(live, action);
      return;
    case 'ramp':
      startRamp(live, action);
      return;
    case 'message':
      sendPlain(live, from, action);
      return;
    case 'tap':
      takeTap(live);
      return;
    case 'raw':
      if (live.world.portsOff.has(action.portId)) {
        live.note({ code: 'port-off', portId: action.portId, functionId: null });
        return;
      }
      for (const message of parseBytes(action.bytes).messages) send(live, action.portId, message, null);
      return;
    case 'route':
      switchRoute(live, action);
      return;
    case 'clock':
      switchClock(live, action);
      return;
    case 'bank':
      changeBank(live, from.boardId, action.to);
      return;
    case 'page':
      changePage(live, from.boardId, action.groupId, action.to);
      return;
    case 'scene':
      goToScene(live, action.to);
      return;
    case 'song':
      goToSongAt(live, action.to);
      return;
    case 'show':
      walkSet(live, action.to);
      return;
    case 'view':
      turnView(live, action.to);
      return;
    case 'capture':
      wantCapture(live);
      return;
    case 'line':
      runLine(live, action.to);
      return;
    case 'cue':
      goToCue(live, action.to);
      return;
    case 'loop':
      switchLoop(live, action.to);
      return;
    case 'panic':
      panic(live);
      return;
    default:
      assertNever(action);
  }
}

/**
 * Turns a function over. Where nothing tells whether it is on, its device is asked; one that cannot be asked, or does not
 * answer, is told off: "on" would do nothing where it is on already, and from off on it is known.
 */
function toggle(live: Live, from: Origin, action: Action & { kind: 'toggle' }): void {
  const { functionId } = action;
  const now = live.assumed(functionId);
  if (now === undefined && live.world.functions.has(functionId)) {
    if (asks(live, functionId, from.controlId)) {
      awaitAnswer(live, from, action);
      return;
    }
    live.note({ code: 'switched-off-unknown', functionId });
  }
  setFunction(live, functionId, now === 0 ? 1 : 0);
}

/**
 * A message by its number. A note sounds until its control goes up; when that is up already it ends at once, so that
 * none is left sounding.
 */
function sendPlain(live: Live, from: Origin, action: Action & { kind: 'message' }): void {
  const way = live.world.ways.get(action.deviceId);
  if (!way) {
    live.note({ code: 'device-gone' });
    return;
  }
  const portId = way.path?.portId;
  if (portId === undefined) {
    live.note({ code: 'no-way', deviceId: action.deviceId, functionId: '' });
    return;
  }
  if (live.world.portsOff.has(portId)) {
    live.note({ code: 'port-off', portId, functionId: null });
    return;
  }
  const channel = action.channel ?? way.device.channel;
  const kept = keptBy(live, portId, way.device, plainMessage(action, channel, action.value));
  if (kept) {
    live.note(kept);
    return;
  }
  if (action.send !== 'note') {
    sendKnown(live, portId, plainMessage(action, channel, action.value));
    return;
  }
  send(live, portId, plainMessage(action, channel, struckVelocity(live, from, action.value)), null);
  const isDown =
    live.state.held[from.controlId]?.gesture.isDown || live.state.ends[from.controlId] !== undefined;
  if (!isDown) send(live, portId, noteOff(channel, action.number), null);
  else {
    const playing = live.state.playing[from.controlId] ?? [];
    const note = { portId, channel, note: action.number };
    live.state.playing = { ...live.state.playing, [from.controlId]: [...playing, note] };
  }
}

/** What says that the device which is meant keeps a number for its own hardware, or `null`. */
function keptBy({ world }: Live, portId: string, device: Device, message: Message): LiveNote | null {
  for (const { reached } of allDrivenBy(world, portId, message))
    if (reached.device.id === device.id && reached.fn.reserved)
      return { code: 'function-reserved', functionId: reached.fn.id };
  return message.kind === 'controller' && keepsNumber(device, message.controller)
    ? { code: 'number-kept', deviceId: device.id, number: message.controller }
    : null;
}

/** What a pad or key is struck with, as it feels in its preset; a switch has the velocity that it is told. */
function struckVelocity(live: Live, { boardId, controlId, struck }: Origin, told: number): number {
  const board = live.world.boardById.get(boardId);
  const kind = live.world.controls.get(controlId)?.control.kind;
  if (!board?.preset || !kind || struck === 0) return told;
  // What a finger holds is what it pressed, also when the bank has changed since.
  const assignment = live.state.held[controlId]?.assignment ?? live.assignmentOf(board, controlId);
  return velocityOf(touchOf(board.preset, kind, assignment), struck);
}

/** Sends, and says which function it moves. */
function sendKnown(live: Live, portId: string, message: Message): void {
  let known: string | null = null;
  for (const { reached } of allDrivenBy(live.world, portId, message)) known ??= reached.fn.id;
  send(live, portId, message, known);
}

/** The notes that a control plays end where they began, whatever has changed since. */
export function endNotes(live: Live, controlId: string): void {
  const notes = live.state.playing[controlId];
  if (!notes) return;
  const { [controlId]: _ended, ...others } = live.state.playing;
  live.state.playing = others;
  for (const { portId, channel, note } of notes) send(live, portId, noteOff(channel, note), null);
}

/** Sets the value of the next step of a list; where one value stands in it several times, by the place it stood at. */
function takeStep(live: Live, action: Action & { kind: 'step' }): void {
  const now = live.assumed(action.functionId);
  const place = nextPlace(action, now, live.state.steps[action.id]);
  live.state.steps = { ...live.state.steps, [action.id]: place };
  setFunction(live, action.functionId, action.values[place]!);
}

/** The place after the one in force, from 0; from outside the list its first, or its last when it goes back. */
function nextPlace(
  { values, direction, atEnd }: Action & { kind: 'step' },
  now: number | undefined,
  stoodAt: number | undefined,
): number {
  const last = values.length - 1;
  if (direction === 'reset') return 0;
  const isThere = stoodAt !== undefined && now !== undefined && values[stoodAt] === now;
  const at = isThere ? stoodAt : now === undefined ? -1 : values.indexOf(now);
  if (at < 0) return direction === 'forward' ? 0 : last;
  const next = at + (direction === 'forward' ? 1 : -1);
  if (next >= 0 && next <= last) return next;
  return atEnd === 'stop' ? at : next < 0 ? last : 0;
}
