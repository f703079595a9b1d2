import {
  bankProgram,
  channelPressure,
  controller,
  controller14,
  CONTROLLER,
  endsNote,
  join14,
  machineMessage,
  noteOff,
  noteOn,
  parameterMessages,
  parameterNow,
  pitchBend,
  program,
  readMachineControl,
  sysex,
  ALL_MACHINES,
  type Message,
  type Sequence,
} from '../../midi';
import { assertNever } from '../../result';
import { SOUND_LIMIT, type ChartFunction, type FunctionShape } from './chartFunction';
import { answersOn, functionChannel } from '../cabling/listening';
import type { BankSelectHabit, Device } from '../rig';
import { fillTemplate, matchTemplate, parseTemplate, type TemplatePart } from './sysexTemplate';

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
    case 'sound':
      return { min: 0, max: SOUND_LIMIT };
    default:
      return assertNever(shape);
  }
}

/** Whether a value is one that the function takes. */
export function takesValue(shape: FunctionShape, value: number): boolean {
  const { min, max } = valueBounds(shape);
  return Number.isInteger(value) && value >= min && value <= max;
}

/**
 * The exact messages that set a function to a value, in the order in which they are sent.
 * @param value as `FunctionShape` says; outside its bounds is a bug and throws `RangeError`, as does a SysEx
 * template that does not parse.
 * Example: Snapshot (CC 22, channel 3) to 2 is `B2 16 02`.
 */
export function messagesFor(device: Device, fn: ChartFunction, value: number): Message[] {
  if (!takesValue(fn.shape, value)) throw new RangeError(`${device.name} ${fn.name} does not take ${value}`);
  const ch = functionChannel(device, fn);
  const { drive } = fn;
  const sent = sentValue(fn.shape, value);
  switch (drive.kind) {
    case 'controller':
      return [controller(ch, drive.controller, sent)];
    case 'controller-14':
      return controller14(ch, drive.controller, sent);
    case 'note':
      if (fn.shape.kind === 'switch')
        return value === 1 ? [noteOn(ch, drive.note, sent)] : [noteOff(ch, drive.note)];
      return sent === 0 ? [noteOff(ch, drive.note)] : [noteOn(ch, drive.note, sent), noteOff(ch, drive.note)];
    case 'program':
      return drive.bank === null
        ? [program(ch, value)]
        : bankMessages(device.bankSelect, bankProgram(ch, drive.bank, value));
    case 'sound':
      return bankMessages(device.bankSelect, bankProgram(ch, value >> 7, value & 127));
    case 'parameter': {
      const kind = drive.registered ? 'rpn' : 'nrpn';
      const messages = parameterMessages(kind, ch, drive.parameter, drive.bits === 14 ? sent : sent << 7);
      if (drive.bits === 14) return messages;
      return messages.filter((m) => m.kind !== 'controller' || m.controller !== CONTROLLER.dataLsb);
    }
    case 'pitch-bend':
      return [pitchBend(ch, sent)];
    case 'channel-pressure':
      return [channelPressure(ch, sent)];
    case 'sysex':
      return [sysex(fillTemplate(templateOf(drive.template), sent, ch))];
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
 * @param sequence what the message completes together with those before it (`SequenceReader`), where that is known:
 * parameter numbers, the fine half of 14-bit values and banks can be read with it only.
 */
export function readFunction(
  device: Device,
  fn: ChartFunction,
  message: Message,
  sequence: Sequence | null = null,
): number | null {
  const { drive, shape } = fn;
  if ('channel' in message && !answersOn(device, fn, message.channel)) return null;
  switch (drive.kind) {
    case 'controller':
      if (message.kind !== 'controller' || message.controller !== drive.controller) return null;
      return readValue(shape, message.value);
    case 'controller-14':
      if (sequence?.kind === 'controller-14' && sequence.controller === drive.controller)
        return readValue(shape, sequence.value);
      if (message.kind !== 'controller' || message.controller !== drive.controller) return null;
      // A coarse half by itself sets the fine half to nothing.
      return readValue(shape, join14(message.value, 0));
    case 'note':
      return readNote(shape, drive.note, message);
    case 'program':
      if (message.kind !== 'program') return null;
      return drive.bank === null || sequence?.kind !== 'bank-program'
        ? message.program
        : isSameBank(device.bankSelect, drive.bank, sequence.bank)
          ? message.program
          : null;
    case 'sound':
      if (message.kind !== 'program' || sequence?.kind !== 'bank-program') return null;
      return (keptHalves(device.bankSelect, sequence.bank) << 7) | message.program;
    case 'parameter':
      if (sequence?.kind !== (drive.registered ? 'rpn' : 'nrpn') || sequence.parameter !== drive.parameter)
        return null;
      return readValue(shape, parameterNow(sequence, drive.bits));
    case 'pitch-bend':
      return message.kind === 'pitch-bend' ? readValue(shape, message.value) : null;
    case 'channel-pressure':
      return message.kind === 'channel-pressure' ? readValue(shape, message.pressure) : null;
    case 'sysex': {
      if (message.kind !== 'sysex') return null;
      const sent = sysexValue(device, fn, drive.template, message.data);
      if (sent === null) return null;
      return takesSysexValue(drive.template) ? readValue(shape, sent) : 0;
    }
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

function readNote(shape: FunctionShape, note: number, message: Message): number | null {
  if ((message.kind !== 'note-on' && message.kind !== 'note-off') || message.note !== note) return null;
  if (shape.kind === 'range') return message.kind === 'note-on' ? readValue(shape, message.velocity) : null;
  if (shape.kind === 'trigger') return endsNote(message) ? null : 0;
  return endsNote(message) ? 0 : 1;
}

/** Whether a function can be read back only with the messages before the last one. */
export const needsSequence = ({ drive }: ChartFunction): boolean =>
  drive.kind === 'parameter' ||
  drive.kind === 'controller-14' ||
  drive.kind === 'sound' ||
  (drive.kind === 'program' && drive.bank !== null);

/** The number that stands for a value: a data byte, or both halves of one with 14 bits. */
export function sentValue(shape: FunctionShape, value: number): number {
  if (shape.kind === 'switch') return value === 1 ? shape.on : shape.off;
  if (shape.kind === 'choice') return shape.sent?.[value] ?? value;
  return shape.kind === 'trigger' ? shape.sent : value;
}

/** The value that a number as sent stands for, or `null` where the function has none for it. */
export function readValue(shape: FunctionShape, sent: number): number | null {
  if (shape.kind === 'trigger') return sent === shape.sent ? 0 : null;
  if (shape.kind === 'switch') return Math.abs(sent - shape.on) < Math.abs(sent - shape.off) ? 1 : 0;
  const value = shape.kind === 'choice' && shape.sent ? shape.sent.indexOf(sent) : sent;
  return takesValue(shape, value) ? value : null;
}

/** Which halves of bank select a device wants. */
export const BANK_HALVES: Readonly<
  Record<BankSelectHabit, { readonly msb: boolean; readonly lsb: boolean }>
> = {
  both: { msb: true, lsb: true },
  msb: { msb: true, lsb: false },
  lsb: { msb: false, lsb: true },
  none: { msb: false, lsb: false },
};

/** A bank number, 0–16383, of which only the halves are left that a device wants. */
function keptHalves(habit: BankSelectHabit, bank: number): number {
  const { msb, lsb } = BANK_HALVES[habit];
  return (msb ? bank & ~127 : 0) | (lsb ? bank & 127 : 0);
}

/** Bank select reduced to the halves that the device wants. */
function bankMessages(habit: BankSelectHabit, messages: readonly Message[]): Message[] {
  const { msb, lsb } = BANK_HALVES[habit];
  return messages.filter((m) => m.kind !== 'controller' || (m.controller === CONTROLLER.bankMsb ? msb : lsb));
}

const isSameBank = (habit: BankSelectHabit, wanted: number, got: number): boolean =>
  keptHalves(habit, wanted) === keptHalves(habit, got);

/** Whether a template has a place for a value. */
export function takesSysexValue(template: string): boolean {
  const read = readTemplate(template);
  return read.ok && read.value.some((p) => p.kind === 'value');
}

/** The value that SysEx data has in the places of a function's template, or `null` when it does not fit. */
export function sysexValue(
  device: Device,
  fn: ChartFunction,
  template: string,
  data: ArrayLike<number>,
): number | null {
  const read = readTemplate(template);
  return read.ok ? matchTemplate(read.value, data, functionChannel(device, fn)) : null;
}

function templateOf(text: string): readonly TemplatePart[] {
  const template = readTemplate(text);
  if (!template.ok) throw new RangeError(template.error.sentence);
  return template.value;
}

/** Templates are read once: they are asked for at every message that could be theirs. */
const READ = new Map<string, ReturnType<typeof parseTemplate>>();
const READ_AT_MOST = 2000;

function readTemplate(text: string): ReturnType<typeof parseTemplate> {
  let template = READ.get(text);
  if (!template) {
    template = parseTemplate(text);
    if (READ.size >= READ_AT_MOST) READ.clear();
    READ.set(text, template);
  }
  return template;
}
