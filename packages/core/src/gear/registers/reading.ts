import { join14, split14 } from '../../midi';
import type { ChartFunction } from '../chartFunction';
import { BANK_HALVES, readValue } from '../functionMessages';
import type { Device } from '../rig';
import type { RegisterAt } from './register';
import { REGISTER, registersOf, rowKey } from './rowRegisters';
import { writesOf } from './told';

/**
 * The value of a row that its registers hold, or `undefined` where they are not known, or hold what the row has no value
 * for: another bank, or a number that none of its choices has.
 */
export function readRegisters(device: Device, fn: ChartFunction, at: RegisterAt): number | undefined {
  const { drive, shape } = fn;
  const { reads } = registersOf(device, fn);
  if (reads.length === 0) return undefined;
  const first = at(reads[0]!);
  if (typeof first !== 'number') return undefined;
  if (fn.arms !== null) return first;
  switch (drive.kind) {
    case 'controller-14': {
      const fine = at(reads[1]!);
      return typeof fine !== 'number' ? undefined : (readValue(shape, join14(first, fine)) ?? undefined);
    }
    case 'program':
    case 'sound':
      return readSound(device, fn, at);
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
  for (const write of writesOf(device, fn, value))
    if (reads.includes(write.key) && at(write.key) !== write.value) return false;
  return true;
}

function readSound(device: Device, fn: ChartFunction, at: RegisterAt): number | undefined {
  const program = at(rowKey(device, fn, REGISTER.program));
  if (typeof program !== 'number') return undefined;
  const { drive } = fn;
  if (drive.kind === 'program' && drive.bank === null) return program;
  const has = BANK_HALVES[device.bankSelect];
  const msb = has.msb ? at(rowKey(device, fn, REGISTER.bankMsb)) : 0;
  const lsb = has.lsb ? at(rowKey(device, fn, REGISTER.bankLsb)) : 0;
  if (typeof msb !== 'number' || typeof lsb !== 'number') return undefined;
  if (drive.kind !== 'program') return (join14(msb, lsb) << 7) | program;
  const wanted = split14(drive.bank ?? 0);
  return (!has.msb || wanted.msb === msb) && (!has.lsb || wanted.lsb === lsb) ? program : undefined;
}
