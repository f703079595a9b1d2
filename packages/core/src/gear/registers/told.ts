import { split14 } from '../../midi';
import { assertNever } from '../../result';
import type { ChartFunction } from '../chartFunction';
import { BANK_HALVES, sentValue, takesSysexValue } from '../functionMessages';
import type { Device } from '../rig';
import type { RegisterWrite } from './register';
import { isCoarseHalf, REGISTER, rowKey, trackKey } from './rowRegisters';

/**
 * What setting a row to a value writes, as far as this row says.
 * @param value as `FunctionShape` says.
 * Example: bank 0/2, program 5 writes bank msb 0, bank lsb 2 and program 5.
 */
export function writesOf(device: Device, fn: ChartFunction, value: number): readonly RegisterWrite[] {
  const writes = ownWrites(device, fn, value).map((w) => ({
    key: rowKey(device, fn, w.name),
    value: w.value,
  }));
  if (fn.arms === null || fn.shape.kind === 'trigger') return writes;
  return [{ key: trackKey(device, fn.arms), value: value === 0 ? 0 : 1 }, ...writes];
}

type NamedWrite = { readonly name: string; readonly value: number };

function ownWrites(device: Device, fn: ChartFunction, value: number): readonly NamedWrite[] {
  const { drive, shape } = fn;
  const sent = sentValue(shape, value);
  switch (drive.kind) {
    case 'controller': {
      const own = { name: REGISTER.controller(drive.controller), value: sent };
      // A coarse half by itself sets the fine half to nothing.
      return isCoarseHalf(device, fn)
        ? [own, { name: REGISTER.controller(drive.controller + 32), value: 0 }]
        : [own];
    }
    case 'controller-14': {
      const { msb, lsb } = split14(sent);
      return [
        { name: REGISTER.controller(drive.controller), value: msb },
        { name: REGISTER.controller(drive.controller + 32), value: lsb },
      ];
    }
    case 'program':
      return [...bankWrites(device, drive.bank), { name: REGISTER.program, value }];
    case 'sound':
      return [...bankWrites(device, value >> 7), { name: REGISTER.program, value: value & 127 }];
    case 'parameter':
      return [
        {
          name: REGISTER.parameter(drive.registered, drive.parameter),
          value: drive.bits === 14 ? sent : sent << 7,
        },
      ];
    case 'pitch-bend':
      return [{ name: REGISTER.bend, value: sent }];
    case 'channel-pressure':
      return [{ name: REGISTER.pressure, value: sent }];
    case 'note':
      if (shape.kind === 'trigger') return [];
      if (shape.kind === 'range') return [{ name: REGISTER.strike(drive.note), value: sent }];
      return [{ name: REGISTER.note(drive.note), value: value === 1 ? sent : 0 }];
    case 'sysex':
      return takesSysexValue(drive.template) ? [{ name: REGISTER.sysex(drive.template), value: sent }] : [];
    case 'record-ready':
      return [{ name: REGISTER.ready(drive.track), value }];
    case 'transport':
      return [];
    default:
      return assertNever(drive);
  }
}

function bankWrites({ bankSelect }: Device, bank: number | null): readonly NamedWrite[] {
  if (bank === null) return [];
  const { msb, lsb } = split14(bank);
  const has = BANK_HALVES[bankSelect];
  return [
    ...(has.msb ? [{ name: REGISTER.bankMsb, value: msb }] : []),
    ...(has.lsb ? [{ name: REGISTER.bankLsb, value: lsb }] : []),
  ];
}
