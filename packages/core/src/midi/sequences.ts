import { CONTROLLER } from './controllers';
import { controller, program, type Message } from './message';
import { data7, join14, split14 } from './numbers';

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

type ChannelMemory = {
  bankMsb: number;
  bankLsb: number;
  parameter: { kind: 'rpn' | 'nrpn'; msb: number; lsb: number } | null;
  dataMsb: number;
  coarse: Map<number, number>;
};

/**
 * Reads sequences back from single messages, channel by channel. A 14-bit value is reported when its fine half
 * arrives (the coarse half alone is an ordinary 7-bit controller); a parameter at each data entry.
 */
export class SequenceReader {
  private readonly channels = new Map<number, ChannelMemory>();

  /** @returns what this message completes, or `null`. */
  read(message: Message): Sequence | null {
    if (message.kind === 'program') {
      const memory = this.memory(message.channel);
      if (memory.bankMsb < 0 && memory.bankLsb < 0) return null;
      const bank = join14(Math.max(memory.bankMsb, 0), Math.max(memory.bankLsb, 0));
      return { kind: 'bank-program', channel: message.channel, bank, program: message.program };
    }
    if (message.kind !== 'controller') return null;
    return this.readController(message.channel, message.controller, message.value);
  }

  private readController(ch: number, number: number, value: number): Sequence | null {
    const memory = this.memory(ch);
    switch (number) {
      case CONTROLLER.bankMsb:
        memory.bankMsb = value;
        return null;
      case CONTROLLER.bankLsb:
        memory.bankLsb = value;
        return null;
      case CONTROLLER.rpnMsb:
      case CONTROLLER.rpnLsb:
        selectParameter(memory, 'rpn', number === CONTROLLER.rpnMsb, value);
        return null;
      case CONTROLLER.nrpnMsb:
      case CONTROLLER.nrpnLsb:
        selectParameter(memory, 'nrpn', number === CONTROLLER.nrpnMsb, value);
        return null;
      case CONTROLLER.dataMsb:
        memory.dataMsb = value;
        return parameterValue(ch, memory, join14(value, 0));
      case CONTROLLER.dataLsb:
        return parameterValue(ch, memory, join14(Math.max(memory.dataMsb, 0), value));
    }
    if (number < 32) {
      memory.coarse.set(number, value);
      return null;
    }
    const coarse = number < 64 ? memory.coarse.get(number - 32) : undefined;
    if (coarse === undefined) return null;
    return {
      kind: 'controller-14',
      channel: ch,
      controller: number - 32,
      value: join14(coarse, data7(value)),
    };
  }

  private memory(ch: number): ChannelMemory {
    let memory = this.channels.get(ch);
    if (!memory) {
      memory = { bankMsb: -1, bankLsb: -1, parameter: null, dataMsb: -1, coarse: new Map() };
      this.channels.set(ch, memory);
    }
    return memory;
  }
}

function selectParameter(memory: ChannelMemory, kind: 'rpn' | 'nrpn', isMsb: boolean, value: number): void {
  const before = memory.parameter?.kind === kind ? memory.parameter : { kind, msb: 127, lsb: 127 };
  memory.parameter = isMsb ? { ...before, msb: value } : { ...before, lsb: value };
  memory.dataMsb = -1;
}

function parameterValue(ch: number, memory: ChannelMemory, value: number): Sequence | null {
  if (!memory.parameter) return null;
  const parameter = join14(memory.parameter.msb, memory.parameter.lsb);
  return parameter === NO_PARAMETER ? null : { kind: memory.parameter.kind, channel: ch, parameter, value };
}
