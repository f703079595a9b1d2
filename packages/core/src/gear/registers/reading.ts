import { join14, split14 } from '../../midi';
import type { ChartFunction } from '../charts/chartFunction';
import { BANK_HALVES, readValue, sentValue } from '../charts/functionMessages';
import type { Device } from '../rig';
import type { RegisterAt } from './register';
import { registersOf, type RowRegisters } from './rowRegisters';
import { ownNumbers } from './told';
import { nth } from '../../sure';

/**
 * The value of a row that its registers hold, or `undefined` where they are not known, or hold what the row has no value
 * for: another bank, or a number that none of its choices has.
 */
export function readRegisters(device: Device, fn: ChartFunction, at: RegisterAt): number | undefined {
  const { drive, shape } = fn;
  const { reads } = registersOf(device, fn);
  if (reads.length === 0) return undefined;
  const first = at(nth(reads, 0));
  if (typeof first !== 'number') return undefined;
  if (fn.arms !== null) return first;
  switch (drive.kind) {
    case 'controller-14': {
      const fine = at(nth(reads, 1));
      return typeof fine !== 'number' ? undefined : (readValue(shape, join14(first, fine)) ?? undefined);
    }
    case 'program':
    case 'sound':
      return readSound(device, fn, reads, at);
    case 'parameter':
      return readValue(shape, drive.bits === 14 ? first : first >> 7) ?? undefined;
    case 'note':
      return shape.kind === 'switch' ? (first > 0 ? 1 : 0) : (readValue(shape, first) ?? undefined);
    case 'record-ready':
      return first;
    default:
      return readValue(shape, first) ?? undefined;
  }
}

/** Whether the registers of a row hold exactly what setting it to a value would write. A trigger never does. */
export function standsAt(device: Device, fn: ChartFunction, value: number, at: RegisterAt): boolean {
  const { reads } = registersOf(device, fn);
  if (reads.length === 0) return false;
  if (fn.arms !== null) return at(nth(reads, 0)) === (value === 0 ? 0 : 1);
  const { drive, shape } = fn;
  // Asked of every value of a scene, and nearly always of a controller.
  if (drive.kind === 'controller') return at(nth(reads, 0)) === sentValue(shape, value);
  const numbers = ownNumbers(device, fn, value);
  for (let i = 0; i < reads.length; i++) if (at(nth(reads, i)) !== numbers[i]) return false;
  return true;
}

/** Its registers are the halves of a bank that its device wants, then the program. */
function readSound(
  { bankSelect }: Device,
  { drive }: ChartFunction,
  reads: RowRegisters['reads'],
  at: RegisterAt,
): number | undefined {
  const program = at(nth(reads, reads.length - 1));
  if (typeof program !== 'number') return undefined;
  if (drive.kind === 'program' && drive.bank === null) return program;
  const has = BANK_HALVES[bankSelect];
  const msb = has.msb ? at(nth(reads, 0)) : 0;
  const lsb = has.lsb ? at(reads[has.msb ? 1 : 0]!) : 0;
  if (typeof msb !== 'number' || typeof lsb !== 'number') return undefined;
  if (drive.kind !== 'program') return (join14(msb, lsb) << 7) | program;
  const wanted = split14(drive.bank ?? 0);
  return (!has.msb || wanted.msb === msb) && (!has.lsb || wanted.lsb === lsb) ? program : undefined;
}
