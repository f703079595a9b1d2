import { split14 } from '../../midi';
import { assertNever } from '../../result';
import type { ChartFunction } from '../charts/chartFunction';
import { BANK_HALVES, sentValue, takesSysexValue } from '../charts/functionMessages';
import type { Device } from '../rig';
import type { RegisterWrite } from './register';
import { registersOf } from './rowRegisters';
import { nth } from '../../sure';

/**
 * What setting a row to a value writes, as far as this row says.
 * @param value as `FunctionShape` says.
 * Example: bank 0/2, program 5 writes bank msb 0, bank lsb 2 and program 5.
 */
export function writesOf(device: Device, fn: ChartFunction, value: number): readonly RegisterWrite[] {
  const { own, fine, reads } = registersOf(device, fn);
  const numbers = ownNumbers(device, fn, value);
  const writes = numbers.map((number, i): RegisterWrite => ({ key: nth(own, i), value: number }));
  // A coarse half by itself sets the fine half to nothing.
  if (fine !== null) writes.push({ key: fine, value: 0 });
  if (fn.arms === null || fn.shape.kind === 'trigger') return writes;
  return [{ key: nth(reads, 0), value: value === 0 ? 0 : 1 }, ...writes];
}

/** What each of a row's own registers is told, in their order; none where nothing is left behind. */
export function ownNumbers(
  device: Device,
  { drive, shape }: ChartFunction,
  value: number,
): readonly number[] {
  const sent = sentValue(shape, value);
  switch (drive.kind) {
    case 'controller':
    case 'pitch-bend':
    case 'channel-pressure':
      return [sent];
    case 'controller-14': {
      const { msb, lsb } = split14(sent);
      return [msb, lsb];
    }
    case 'program':
      return drive.bank === null ? [value] : soundNumbers(device, drive.bank, value);
    case 'sound':
      return soundNumbers(device, value >> 7, value & 127);
    case 'parameter':
      return [drive.bits === 14 ? sent : sent << 7];
    case 'note':
      if (shape.kind === 'trigger') return [];
      return [shape.kind === 'range' || value === 1 ? sent : 0];
    case 'sysex':
      return takesSysexValue(drive.template) ? [sent] : [];
    case 'record-ready':
      return [value];
    case 'transport':
      return [];
    default:
      return assertNever(drive);
  }
}

function soundNumbers({ bankSelect }: Device, bank: number, program: number): readonly number[] {
  const { msb, lsb } = split14(bank);
  const has = BANK_HALVES[bankSelect];
  if (has.msb) return has.lsb ? [msb, lsb, program] : [msb, program];
  return has.lsb ? [lsb, program] : [program];
}
