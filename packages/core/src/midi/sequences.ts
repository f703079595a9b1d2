import { CONTROLLER } from './controllers';
import { controller, program, type Message } from './message';
import { join14, split14 } from './numbers';

/** Something that the standard spreads over several controller messages. Numbers and values 0–16383. */
export type Sequence =
  | {
      readonly kind: 'controller-14';
      readonly channel: number;
      readonly controller: number;
      readonly value: number;
    }
  | {
      readonly kind: 'rpn' | 'nrpn';
      readonly channel: number;
      readonly parameter: number;
      readonly value: number;
    }
  | {
      readonly kind: 'bank-program';
      readonly channel: number;
      readonly bank: number;
      readonly program: number;
    };

/** Parameter number 7F 7F: none selected. Source: MIDI 1.0 Detailed Specification, "RPN" (from memory). */
export const NO_PARAMETER = 16383;

/**
 * Coarse then fine of a 14-bit controller pair (coarse number 0–31, fine is 32 above).
 * Source: MIDI 1.0 Detailed Specification, table III (from memory).
 */
export function controller14(ch: number, coarse: number, value: number): Message[] {
  if (!Number.isInteger(coarse) || coarse < 0 || coarse > 31)
    throw new RangeError(`controller ${coarse} has no fine partner: pairs are 0–31 with 32–63`);
  const { msb, lsb } = split14(value);
  return [controller(ch, coarse, msb), controller(ch, coarse + 32, lsb)];
}

/**
 * The messages that set a registered or non-registered parameter: number, data entry, and, unless `keepOpen`,
 * the null number that keeps later data entry from changing it by accident.
 */
export function parameterMessages(
  kind: 'rpn' | 'nrpn',
  ch: number,
  parameter: number,
  value: number,
  keepOpen = false,
): Message[] {
  const p = split14(parameter);
  const v = split14(value);
  const [msbNumber, lsbNumber] =
    kind === 'rpn' ? [CONTROLLER.rpnMsb, CONTROLLER.rpnLsb] : [CONTROLLER.nrpnMsb, CONTROLLER.nrpnLsb];
  const out = [
    controller(ch, msbNumber, p.msb),
    controller(ch, lsbNumber, p.lsb),
    controller(ch, CONTROLLER.dataMsb, v.msb),
    controller(ch, CONTROLLER.dataLsb, v.lsb),
  ];
  if (!keepOpen) out.push(controller(ch, msbNumber, 127), controller(ch, lsbNumber, 127));
  return out;
}

/** Bank select MSB, LSB, then the program. `bank` 0–16383, `number` 0–127. */
export function bankProgram(ch: number, bank: number, number: number): Message[] {
  const { msb, lsb } = split14(bank);
  return [
    controller(ch, CONTROLLER.bankMsb, msb),
    controller(ch, CONTROLLER.bankLsb, lsb),
    program(ch, number),
  ];
}

/** What was said on one channel before: halves of a bank number, the chosen parameter, coarse halves. */
export type ChannelMemory = {
  /** −1: not heard yet. */
  readonly bankMsb: number;
  readonly bankLsb: number;
  readonly parameter: { readonly kind: 'rpn' | 'nrpn'; readonly msb: number; readonly lsb: number } | null;
  readonly dataMsb: number;
  readonly coarse: Readonly<Record<number, number>>;
};

/** What was heard so far, by channel: plain data that is never changed in place. */
export type SequenceMemory = Readonly<Record<number, ChannelMemory>>;

export const NO_SEQUENCES: SequenceMemory = {};
/** Nothing was heard yet. */
export const SILENT: ChannelMemory = { bankMsb: -1, bankLsb: -1, parameter: null, dataMsb: -1, coarse: {} };

/**
 * Reads one message after those in `memory`. A 14-bit value is reported when its fine half arrives (the coarse half
 * alone is an ordinary 7-bit controller); a parameter at each data entry.
 * @returns the new memory, the same object when nothing is to be remembered, and what the message completes.
 */
export function readSequence(
  memory: SequenceMemory,
  message: Message,
): { memory: SequenceMemory; sequence: Sequence | null } {
  if (message.kind === 'program') {
    const heard = memory[message.channel];
    if (!heard || (heard.bankMsb < 0 && heard.bankLsb < 0)) return { memory, sequence: null };
    const bank = join14(Math.max(heard.bankMsb, 0), Math.max(heard.bankLsb, 0));
    return {
      memory,
      sequence: { kind: 'bank-program', channel: message.channel, bank, program: message.program },
    };
  }
  if (message.kind !== 'controller') return { memory, sequence: null };
  const { channel: ch, controller: number, value } = message;
  const before = memory[ch] ?? SILENT;
  const after = remembered(before, number, value);
  return {
    memory: after === before ? memory : { ...memory, [ch]: after },
    sequence: completed(before, ch, number, value),
  };
}

/** `readSequence` with its memory kept: for reading a stream message by message. */
export class SequenceReader {
  private memory = NO_SEQUENCES;

  /** @returns what this message completes, or `null`. */
  read(message: Message): Sequence | null {
    const { memory, sequence } = readSequence(this.memory, message);
    this.memory = memory;
    return sequence;
  }
}

/** What is remembered of a channel after a controller; the same object when that is nothing new. */
function remembered(before: ChannelMemory, number: number, value: number): ChannelMemory {
  switch (number) {
    case CONTROLLER.bankMsb:
      return { ...before, bankMsb: value };
    case CONTROLLER.bankLsb:
      return { ...before, bankLsb: value };
    case CONTROLLER.rpnMsb:
    case CONTROLLER.rpnLsb:
      return { ...before, ...selected(before, 'rpn', number === CONTROLLER.rpnMsb, value) };
    case CONTROLLER.nrpnMsb:
    case CONTROLLER.nrpnLsb:
      return { ...before, ...selected(before, 'nrpn', number === CONTROLLER.nrpnMsb, value) };
    case CONTROLLER.dataMsb:
      return { ...before, dataMsb: value };
  }
  if (number >= 32 || before.coarse[number] === value) return before;
  return { ...before, coarse: { ...before.coarse, [number]: value } };
}

/** What a controller completes after what is remembered of its channel. */
function completed(before: ChannelMemory, ch: number, number: number, value: number): Sequence | null {
  if (number === CONTROLLER.dataMsb) return parameterValue(ch, before, join14(value, 0));
  if (number === CONTROLLER.dataLsb)
    return parameterValue(ch, before, join14(Math.max(before.dataMsb, 0), value));
  if (number < 32 || number >= 64 || number === CONTROLLER.bankLsb) return null;
  const coarse = before.coarse[number - 32];
  if (coarse === undefined) return null;
  return { kind: 'controller-14', channel: ch, controller: number - 32, value: join14(coarse, value) };
}

/** Choosing another parameter forgets the coarse half of the data entry. */
function selected(
  memory: ChannelMemory,
  kind: 'rpn' | 'nrpn',
  isMsb: boolean,
  value: number,
): Partial<ChannelMemory> {
  const before = memory.parameter?.kind === kind ? memory.parameter : { kind, msb: 127, lsb: 127 };
  return { parameter: isMsb ? { ...before, msb: value } : { ...before, lsb: value }, dataMsb: -1 };
}

/** Whether data entry goes to a parameter, 0–16382. */
export const isParameterChosen = (
  { parameter }: ChannelMemory,
  registered: boolean,
  number: number,
): boolean =>
  parameter !== null &&
  parameter.kind === (registered ? 'rpn' : 'nrpn') &&
  join14(parameter.msb, parameter.lsb) === number;

function parameterValue(ch: number, memory: ChannelMemory, value: number): Sequence | null {
  if (!memory.parameter) return null;
  const parameter = join14(memory.parameter.msb, memory.parameter.lsb);
  return parameter === NO_PARAMETER ? null : { kind: memory.parameter.kind, channel: ch, parameter, value };
}
