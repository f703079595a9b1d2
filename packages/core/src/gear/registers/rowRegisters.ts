import { assertNever } from '../../result';
import type { ChartFunction } from '../charts/chartFunction';
import { BANK_HALVES, takesSysexValue } from '../charts/functionMessages';
import { functionChannel } from '../cabling/listening';
import type { Device } from '../rig';
import type { RegisterKey } from './register';

/** The registers of one row of a chart. */
export type RowRegisters = {
  /** What tells where the row stands, in the order of `writesOf`; none where there is nothing to remember. */
  readonly reads: readonly RegisterKey[];
  /** Every register that its messages write. Sending it replaces the value of any row that reads one of these. */
  readonly touches: readonly RegisterKey[];
  /** What its own message writes, halves in their order. */
  readonly own: readonly RegisterKey[];
  /**
   * The fine half of a pair that another row drives whole, where this row sends only the coarse half, which sets it
   * to 0.
   */
  readonly fine: RegisterKey | null;
};

/** The registers of a row. Worked out once for each row. */
export function registersOf(device: Device, fn: ChartFunction): RowRegisters {
  const known = FOUND.get(fn);
  if (known?.device === device) return known;
  const found = { device, ...find(device, fn) };
  FOUND.set(fn, found);
  return found;
}

const FOUND = new WeakMap<ChartFunction, RowRegisters & { readonly device: Device }>();

/** Whether telling one row replaces what another one says. */
export function replaces(told: RowRegisters, other: RowRegisters): boolean {
  for (const key of other.reads) if (told.touches.includes(key)) return true;
  return false;
}

/** Names of the registers that `keyOf` makes keys of. */
export const REGISTER = {
  controller: (number: number) => `cc ${number}`,
  bankMsb: 'bank msb',
  bankLsb: 'bank lsb',
  program: 'program',
  parameter: (registered: boolean, number: number) => `${registered ? 'rpn' : 'nrpn'} ${number}`,
  bend: 'bend',
  pressure: 'pressure',
  note: (number: number) => `note ${number}`,
  /** How hard a note was struck last. */
  strike: (number: number) => `strike ${number}`,
  sysex: (template: string) => `sysex ${template.trim().toUpperCase().replace(/\s+/g, ' ')}`,
  ready: (track: number) => `ready ${track}`,
} as const;

export const keyOf = (device: Device, channel: number, name: string): RegisterKey =>
  `${device.id}/${channel}/${name}`;

/** The register of a row by its name, on the channel that the row listens on. */
export const rowKey = (device: Device, fn: ChartFunction, name: string): RegisterKey =>
  keyOf(device, functionChannel(device, fn), name);

/** Whatever message arms it, a track is armed or not: that is what its host remembers. */
export const trackKey = (device: Device, track: string): RegisterKey => `${device.id}/track/${track}`;

/** Whether a 7-bit row drives the coarse half of a pair that another row of its device drives whole. */
function isCoarseHalf(device: Device, fn: ChartFunction): boolean {
  const { drive } = fn;
  if (drive.kind !== 'controller' || drive.controller > 31) return false;
  const channel = functionChannel(device, fn);
  for (const { drive: other, ...row } of device.chart)
    if (
      other.kind === 'controller-14' &&
      other.controller === drive.controller &&
      functionChannel(device, { drive: other, ...row }) === channel
    )
      return true;
  return false;
}

function find(device: Device, fn: ChartFunction): RowRegisters {
  const own = ownNames(device, fn).map((name) => rowKey(device, fn, name));
  const { drive } = fn;
  const fine =
    drive.kind === 'controller' && isCoarseHalf(device, fn)
      ? rowKey(device, fn, REGISTER.controller(drive.controller + 32))
      : null;
  const touches = fine === null ? own : [...own, fine];
  // A note that is struck and let go leaves nothing behind.
  if (fn.shape.kind === 'trigger')
    return { reads: [], touches: drive.kind === 'note' ? [] : touches, own, fine };
  if (fn.arms === null) return { reads: own, touches, own, fine };
  const track = trackKey(device, fn.arms);
  return { reads: [track], touches: [track, ...touches], own, fine };
}

function ownNames(device: Device, { drive, shape }: ChartFunction): readonly string[] {
  switch (drive.kind) {
    case 'controller':
      return [REGISTER.controller(drive.controller)];
    case 'controller-14':
      return [REGISTER.controller(drive.controller), REGISTER.controller(drive.controller + 32)];
    case 'program':
      return drive.bank === null ? [REGISTER.program] : soundNames(device);
    case 'sound':
      return soundNames(device);
    case 'parameter':
      return [REGISTER.parameter(drive.registered, drive.parameter)];
    case 'pitch-bend':
      return [REGISTER.bend];
    case 'channel-pressure':
      return [REGISTER.pressure];
    case 'note':
      return [shape.kind === 'range' ? REGISTER.strike(drive.note) : REGISTER.note(drive.note)];
    case 'sysex':
      return takesSysexValue(drive.template) ? [REGISTER.sysex(drive.template)] : [];
    case 'record-ready':
      return [REGISTER.ready(drive.track)];
    case 'transport':
      return [];
    default:
      return assertNever(drive);
  }
}

function soundNames({ bankSelect }: Device): readonly string[] {
  const { msb, lsb } = BANK_HALVES[bankSelect];
  return [...(msb ? [REGISTER.bankMsb] : []), ...(lsb ? [REGISTER.bankLsb] : []), REGISTER.program];
}
