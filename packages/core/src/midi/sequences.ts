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
      /** How often it was moved since that value was told: up above 0, down below. Not there where it was not. */
      readonly steps?: number;
    }
  | {
      readonly kind: 'bank-program';
      readonly channel: number;
      readonly bank: number;
      readonly program: number;
    };

/** Parameter number 7F 7F: none selected. Source: MIDI 1.0 Detailed Specification, "RPN". */
export const NO_PARAMETER = 16383;

/**
 * Coarse then fine of a 14-bit controller pair (coarse number 0–31, fine is 32 above).
 * Source: MIDI 1.0 Detailed Specification, table III.
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

/** The parameter that data entry goes to; −1 for a half of its number that was not told: then it goes nowhere. */
type ChosenParameter = { readonly kind: 'rpn' | 'nrpn'; readonly msb: number; readonly lsb: number };

/** What was said on one channel before: halves of a bank number, the chosen parameter, coarse halves. */
export type ChannelMemory = {
  /** −1: not heard yet. */
  readonly bankMsb: number;
  readonly bankLsb: number;
  readonly parameter: ChosenParameter | null;
  readonly dataMsb: number;
  /** 0–127. */
  readonly dataLsb: number;
  /** Data increments less decrements since then. */
  readonly steps: number;
  readonly coarse: Readonly<Record<number, number>>;
};

/** What was heard so far, by channel: plain data that is never changed in place. */
export type SequenceMemory = Readonly<Record<number, ChannelMemory>>;

export const NO_SEQUENCES: SequenceMemory = {};
/** Nothing was heard yet. */
export const SILENT: ChannelMemory = {
  bankMsb: -1,
  bankLsb: -1,
  parameter: null,
  dataMsb: -1,
  dataLsb: 0,
  steps: 0,
  coarse: {},
};

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
      // A coarse half sets the fine one to 0.
      return { ...before, dataMsb: value, dataLsb: 0, steps: 0 };
    case CONTROLLER.dataLsb:
      return { ...before, dataLsb: value, steps: 0 };
    case CONTROLLER.dataIncrement:
    case CONTROLLER.dataDecrement:
      return before.dataMsb < 0 ? before : { ...before, steps: before.steps + stepOf(number) };
    // Source: RP-015, "Response to Reset All Controllers": no parameter is chosen after it.
    case CONTROLLER.resetControllers:
      return { ...before, parameter: null, dataMsb: -1, dataLsb: 0, steps: 0 };
  }
  if (number >= 32 || before.coarse[number] === value) return before;
  return { ...before, coarse: { ...before.coarse, [number]: value } };
}

/** What a controller completes after what is remembered of its channel. */
function completed(before: ChannelMemory, ch: number, number: number, value: number): Sequence | null {
  if (number === CONTROLLER.dataMsb) return parameterValue(ch, before, join14(value, 0));
  if (number === CONTROLLER.dataLsb)
    return parameterValue(ch, before, join14(Math.max(before.dataMsb, 0), value));
  if (number === CONTROLLER.dataIncrement || number === CONTROLLER.dataDecrement) {
    if (before.dataMsb < 0) return null;
    const steps = before.steps + stepOf(number);
    const moved = parameterValue(ch, before, join14(before.dataMsb, before.dataLsb));
    return moved && { ...moved, steps };
  }
  if (number < 32 || number >= 64 || number === CONTROLLER.bankLsb) return null;
  const coarse = before.coarse[number - 32];
  if (coarse === undefined) return null;
  return { kind: 'controller-14', channel: ch, controller: number - 32, value: join14(coarse, value) };
}

/**
 * Where a parameter stands, with what it was moved by since it was told: by ones of its 14 bits, or of the 7 that it has.
 * Source: RP-018, "Response to Data Increment and Decrement" names both for registered parameters.
 * @returns 0–16383, or 0–127.
 */
export function parameterNow(
  { value, steps = 0 }: { readonly value: number; readonly steps?: number },
  bits: 7 | 14,
): number {
  const [at, most] = bits === 14 ? [value, 16383] : [value >> 7, 127];
  return Math.min(most, Math.max(0, at + steps));
}

const stepOf = (number: number): 1 | -1 => (number === CONTROLLER.dataIncrement ? 1 : -1);

/** Choosing another parameter forgets the coarse half of the data entry. */
function selected(
  memory: ChannelMemory,
  kind: 'rpn' | 'nrpn',
  isMsb: boolean,
  value: number,
): Partial<ChannelMemory> {
  const before = memory.parameter?.kind === kind ? memory.parameter : { kind, msb: -1, lsb: -1 };
  const parameter = isMsb ? { ...before, msb: value } : { ...before, lsb: value };
  return { parameter, dataMsb: -1, dataLsb: 0, steps: 0 };
}

/** Whether data entry goes to a parameter, 0–16382. */
export const isParameterChosen = (
  { parameter }: ChannelMemory,
  registered: boolean,
  number: number,
): boolean =>
  parameter !== null &&
  isWhole(parameter) &&
  parameter.kind === (registered ? 'rpn' : 'nrpn') &&
  join14(parameter.msb, parameter.lsb) === number;

const isWhole = ({ msb, lsb }: ChosenParameter): boolean => msb >= 0 && lsb >= 0;

type ParameterValue = Sequence & { readonly kind: 'rpn' | 'nrpn' };

function parameterValue(ch: number, memory: ChannelMemory, value: number): ParameterValue | null {
  if (!memory.parameter || !isWhole(memory.parameter)) return null;
  const parameter = join14(memory.parameter.msb, memory.parameter.lsb);
  return parameter === NO_PARAMETER ? null : { kind: memory.parameter.kind, channel: ch, parameter, value };
}
