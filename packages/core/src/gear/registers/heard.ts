import { CONTROLLER, isParameterChosen, join14, type ChannelMemory, type Message } from '../../midi';
import { assertNever } from '../../result';
import type { ChartFunction, Drive } from '../charts/chartFunction';
import { readFunction, sysexValue, takesSysexValue } from '../charts/functionMessages';
import type { Device } from '../rig';
import type { RegisterAt, RegisterWrite } from './register';
import { REGISTER, registersOf, rowKey } from './rowRegisters';
import { nth } from '../../sure';

/**
 * What a message writes into the registers of a row that it drives, as a receiver takes it that knows the standard alone.
 * @param heard what was said on that channel before: halves of a bank number and the chosen parameter.
 * @param at what the registers hold until now.
 * Source: MIDI 1.0 Detailed Specification: bank select counts from the next program change on, a coarse half sets the fine
 * half to 0, data entry goes to the parameter that was chosen last.
 */
export function writesHeard(
  device: Device,
  fn: ChartFunction,
  message: Message,
  heard: ChannelMemory,
  at: RegisterAt,
): readonly RegisterWrite[] {
  const writes = ownWrites(device, fn, message, heard, at);
  if (fn.arms === null || fn.shape.kind === 'trigger') return writes;
  const value = readFunction(device, fn, message, null);
  return value === null
    ? writes
    : [...writes, { key: nth(registersOf(device, fn).reads, 0), value: value === 0 ? 0 : 1 }];
}

const NOTHING: readonly RegisterWrite[] = [];

function ownWrites(
  device: Device,
  fn: ChartFunction,
  message: Message,
  heard: ChannelMemory,
  at: RegisterAt,
): readonly RegisterWrite[] {
  const { drive } = fn;
  const write = (name: string, value: number | null): RegisterWrite => ({
    key: rowKey(device, fn, name),
    value,
  });
  switch (drive.kind) {
    case 'controller':
    case 'controller-14': {
      if (message.kind !== 'controller') return NOTHING;
      const { value } = message;
      const { own, fine } = registersOf(device, fn);
      if (message.controller !== drive.controller) return [{ key: nth(own, 1), value }];
      const reset = drive.kind === 'controller-14' ? nth(own, 1) : fine;
      const first = { key: nth(own, 0), value };
      return reset === null ? [first] : [first, { key: reset, value: 0 }];
    }
    case 'program':
    case 'sound': {
      if (message.kind !== 'program') return NOTHING;
      return [
        ...(heard.bankMsb >= 0 ? [write(REGISTER.bankMsb, heard.bankMsb)] : []),
        ...(heard.bankLsb >= 0 ? [write(REGISTER.bankLsb, heard.bankLsb)] : []),
        write(REGISTER.program, message.program),
      ];
    }
    case 'parameter':
      return parameterWrites(device, fn, drive, message, heard, at);
    case 'pitch-bend':
      return message.kind === 'pitch-bend' ? [write(REGISTER.bend, message.value)] : NOTHING;
    case 'channel-pressure':
      return message.kind === 'channel-pressure' ? [write(REGISTER.pressure, message.pressure)] : NOTHING;
    case 'note':
      return noteWrites(device, fn, drive.note, message, at);
    case 'sysex': {
      if (message.kind !== 'sysex' || !takesSysexValue(drive.template)) return NOTHING;
      const value = sysexValue(device, fn, drive.template, message.data);
      return value === null ? NOTHING : [write(REGISTER.sysex(drive.template), value)];
    }
    case 'record-ready': {
      const armed = readFunction(device, fn, message, null);
      return armed === null ? NOTHING : [write(REGISTER.ready(drive.track), armed)];
    }
    case 'transport':
      return NOTHING;
    default:
      return assertNever(drive);
  }
}

function noteWrites(
  device: Device,
  fn: ChartFunction,
  note: number,
  message: Message,
  at: RegisterAt,
): readonly RegisterWrite[] {
  if (message.kind !== 'note-on' && message.kind !== 'note-off') return NOTHING;
  const struck = message.kind === 'note-on' ? message.velocity : 0;
  const down = rowKey(device, fn, REGISTER.note(note));
  // A note-off keeps the velocity of its strike; where nothing was struck it counts as a strike of 0.
  const isStrike = fn.shape.kind === 'range' && (struck > 0 || (at(down) ?? 0) === 0);
  const strike = { key: rowKey(device, fn, REGISTER.strike(note)), value: struck };
  return [{ key: down, value: struck }, ...(isStrike ? [strike] : [])];
}

function parameterWrites(
  device: Device,
  fn: ChartFunction,
  { registered, parameter }: Drive & { kind: 'parameter' },
  message: Message,
  heard: ChannelMemory,
  at: RegisterAt,
): readonly RegisterWrite[] {
  if (message.kind !== 'controller' || !isParameterChosen(heard, registered, parameter)) return NOTHING;
  const key = rowKey(device, fn, REGISTER.parameter(registered, parameter));
  if (message.controller === CONTROLLER.dataMsb) return [{ key, value: join14(message.value, 0) }];
  // Data increment and decrement move it by steps of the device's own.
  if (message.controller !== CONTROLLER.dataLsb) return [{ key, value: null }];
  const before = at(key);
  return [{ key, value: typeof before !== 'number' ? null : (before & ~127) | message.value }];
}
