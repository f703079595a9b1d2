import { touchOf, velocityOf, type Action } from '../../../floor';
import { functionChannel, keepsNumber, readValue, type Device } from '../../../gear';
import { isReservedByStandard, noteOff, parseBytes, type Message } from '../../../midi';
import { allDrivenBy } from '../../heard/drivenBy';
import type { Live } from '../../live/live';
import { send } from '../../live/sending';
import type { LiveNote } from '../../state/events';
import type { Origin } from '../../state/liveState';
import { switchClock } from '../../time/clocks';
import { plainMessage } from '../plainMessage';
import { beyond, noMessage, type OddWord, type SentRow } from '../sentRow';
import { GOES_NOWHERE, lit, LIT_WHILE_DOWN, startsOrStops, type ActionTraits } from '../traits';

const PLAIN = {
  ...GOES_NOWHERE,
  isInCues: true,
  leadsAway: false,
} satisfies Partial<ActionTraits>;

/** One message by its number, whether or not a chart names it. */
export const MESSAGE: ActionTraits<'message'> = {
  ...PLAIN,
  ...LIT_WHILE_DOWN,
  act: (live, action, from) => sendPlain(live, from, action),
  isOwn: true,
  label: ({ send: sent, number }) => `${MESSAGE_WORDS[sent]} ${number}`,
  deed: ({ send: sent, number }) => `send ${sent} ${number}`,
  row(action, { devices }) {
    const device = devices.get(action.deviceId);
    return device
      ? messageRow(action, device)
      : noMessage('a message', 'The device that this goes to is gone from the rig.');
  },
  byBoard: ({ send: sent }) => sent,
};

const MESSAGE_WORDS = { note: 'Note', controller: 'CC', program: 'Program' } as const;

function messageRow(action: Action & { kind: 'message' }, device: Device): SentRow {
  const channel = action.channel ?? device.channel;
  const { send, number } = action;
  const words = { note: 'note', controller: 'CC', program: 'program' }[send];
  const message = `${words} ${number}`;
  const marks: OddWord[] = [];
  if (send === 'controller' && isReservedByStandard(number))
    marks.push({ code: 'reserved', sentence: `CC ${number} has a meaning of its own in the standard.` });
  if (send === 'controller' && keepsNumber(device, number))
    marks.push({
      code: 'reserved',
      sentence: `${device.name} keeps ${message} for its own hardware, so nothing will happen.`,
    });
  for (const fn of device.chart) {
    const isSame =
      functionChannel(device, fn) === channel &&
      ((send === 'controller' && fn.drive.kind === 'controller' && fn.drive.controller === number) ||
        (send === 'note' && fn.drive.kind === 'note' && fn.drive.note === number));
    if (!isSame) continue;
    if (fn.reserved)
      marks.push({
        code: 'reserved',
        sentence: `${device.name} keeps ${message} for its own hardware, so nothing will happen.`,
      });
    else if (fn.shape.kind === 'choice' && readValue(fn.shape, action.value) === null)
      marks.push(beyond({ device, fn }, action.value));
  }
  const value = send === 'program' ? null : action.value;
  return { does: `sends ${message}`, message, channel, number, value, deviceName: device.name, marks };
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

/** Complete MIDI messages as typed. */
export const RAW: ActionTraits<'raw'> = {
  ...PLAIN,
  ...LIT_WHILE_DOWN,
  act(live, { portId, bytes }) {
    if (live.world.portsOff.has(portId)) live.note({ code: 'port-off', portId, functionId: null });
    else for (const message of parseBytes(bytes).messages) send(live, portId, message, null);
  },
  isOwn: true,
  label: () => 'Raw',
  deed: () => 'send raw bytes',
  row: ({ bytes }) => ({ ...noMessage('raw bytes'), message: `${bytes.length} raw bytes` }),
  byBoard: ({ bytes }) => (bytes[0] === 0xf0 ? 'sysex' : null),
};

/** MIDI clock at the tempo in play. */
export const CLOCK: ActionTraits<'clock'> = {
  ...PLAIN,
  act: switchClock,
  isOwn: false,
  label: ({ to }) => `Clock ${to}`,
  deed: ({ to }) => `${to} the clock`,
  row: ({ to }) => ({ ...noMessage(`clock ${to}`), message: 'clock' }),
  byBoard: () => 'clock',
  light: ({ state, down }, { to, portId }) => lit(to === 'stop' ? down : portId in state.clocks),
  follows: ({ to }) => (to === 'stop' ? 'held' : 'clocks'),
  stands: (_world, state, first, second) =>
    first.portId === second.portId ? startsOrStops(first.to, second.to, first.portId in state.clocks) : null,
};
