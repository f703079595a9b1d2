import {
  bankProgram,
  controller,
  endsNote,
  machineMessage,
  noteOff,
  noteOn,
  program,
  readMachineControl,
  ALL_MACHINES,
  type Message,
} from '../midi';
import { assertNever } from '../result';
import type { ChartFunction, FunctionShape } from './chartFunction';
import type { Device } from './rig';

/** Lowest and highest value that a function takes. Example: a switch, 0 and 1. */
export function valueBounds(shape: FunctionShape): { min: number; max: number } {
  switch (shape.kind) {
    case 'trigger':
      return { min: 0, max: 0 };
    case 'switch':
      return { min: 0, max: 1 };
    case 'range':
      return { min: shape.min, max: shape.max };
    case 'choice':
      return { min: shape.first, max: shape.first + shape.labels.length - 1 };
    case 'program':
      return { min: 0, max: 127 };
    default:
      return assertNever(shape);
  }
}

/** Whether a value is one that the function takes. */
export function takesValue(shape: FunctionShape, value: number): boolean {
  const { min, max } = valueBounds(shape);
  return Number.isInteger(value) && value >= min && value <= max;
}

/** The channel that a function listens on, 0–15. */
export const functionChannel = (device: Device, fn: ChartFunction): number => fn.channel ?? device.channel;

/**
 * The exact messages that set a function to a value, in the order in which they are sent.
 * @param value as `FunctionShape` says; outside its bounds is a bug and throws `RangeError`.
 * Example: Snapshot (CC 22, channel 3) to 2 is `B2 16 02`.
 */
export function messagesFor(device: Device, fn: ChartFunction, value: number): Message[] {
  if (!takesValue(fn.shape, value)) throw new RangeError(`${device.name} ${fn.name} does not take ${value}`);
  const ch = functionChannel(device, fn);
  const { drive } = fn;
  switch (drive.kind) {
    case 'controller':
      return [controller(ch, drive.controller, sentValue(fn.shape, value))];
    case 'note':
      if (fn.shape.kind === 'trigger')
        return [noteOn(ch, drive.note, fn.shape.sent), noteOff(ch, drive.note)];
      return value === 1 ? [noteOn(ch, drive.note, sentValue(fn.shape, 1))] : [noteOff(ch, drive.note)];
    case 'program':
      return drive.bank === null ? [program(ch, value)] : bankProgram(ch, drive.bank, value);
    case 'transport':
      return [machineMessage({ kind: 'transport', machine: ALL_MACHINES, command: drive.command })];
    case 'record-ready':
      return [
        machineMessage({
          kind: 'record-ready',
          machine: ALL_MACHINES,
          track: drive.track,
          armed: value === 1,
        }),
      ];
    default:
      return assertNever(drive);
  }
}

/**
 * The value that a message sets a function to, or `null` when it is not this function's message.
 * A value that no choice has gives `null`; a switch takes whichever of its two values is nearer.
 */
export function readFunction(device: Device, fn: ChartFunction, message: Message): number | null {
  const { drive } = fn;
  if ('channel' in message && message.channel !== functionChannel(device, fn)) return null;
  switch (drive.kind) {
    case 'controller':
      if (message.kind !== 'controller' || message.controller !== drive.controller) return null;
      return readValue(fn.shape, message.value);
    case 'note':
      if ((message.kind !== 'note-on' && message.kind !== 'note-off') || message.note !== drive.note)
        return null;
      if (fn.shape.kind === 'trigger') return endsNote(message) ? null : 0;
      return endsNote(message) ? 0 : 1;
    case 'program':
      return message.kind === 'program' ? message.program : null;
    case 'transport':
      return readMachineControl(message).some((c) => c.kind === 'transport' && c.command === drive.command)
        ? 0
        : null;
    case 'record-ready': {
      const found = readMachineControl(message).find(
        (c) => c.kind === 'record-ready' && c.track === drive.track,
      );
      return found?.kind === 'record-ready' ? (found.armed ? 1 : 0) : null;
    }
    default:
      return assertNever(drive);
  }
}

/** The data byte that stands for a value. */
export function sentValue(shape: FunctionShape, value: number): number {
  if (shape.kind === 'switch') return value === 1 ? shape.on : shape.off;
  return shape.kind === 'trigger' ? shape.sent : value;
}

function readValue(shape: FunctionShape, sent: number): number | null {
  if (shape.kind === 'trigger') return sent === shape.sent ? 0 : null;
  if (shape.kind === 'switch') return Math.abs(sent - shape.on) < Math.abs(sent - shape.off) ? 1 : 0;
  return takesValue(shape, sent) ? sent : null;
}
