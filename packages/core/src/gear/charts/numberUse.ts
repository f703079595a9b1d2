import { controllerName, isReservedByStandard } from '../../midi';
import type { ChartFunction } from './chartFunction';
import { channelsHeard, functionChannel, isInForce } from '../cabling/listening';
import type { Device, Rig } from '../rig';
import { nth } from '../../sure';

/** How a controller number stands. `by` names what uses or keeps it. */
export type NumberUse = {
  readonly number: number;
  readonly state: 'in-use' | 'kept-by-device' | 'kept-by-standard' | 'free';
  readonly by: readonly { readonly device: Device; readonly fn: ChartFunction }[];
  /** The standard's name, or `null` where the number is undefined there: those are the best free ones. */
  readonly standardName: string | null;
};

/**
 * All 128 controller numbers as they stand for one device under its setting as it is now.
 * Source for those the standard keeps: MIDI 1.0 Detailed Specification.
 */
export const numbersOfDevice = (device: Device): readonly NumberUse[] =>
  useOf(
    device.chart.filter((fn) => isInForce(device, fn)).map((fn) => ({ device, fn })),
    [device],
  );

/** Whether a device keeps a controller number for its own hardware, whatever its chart says. */
export const keepsNumber = ({ keptNumbers }: Pick<Device, 'keptNumbers'>, number: number): boolean =>
  keptNumbers.some((r) => number >= r.from && number <= r.to);

/** The ranges with a number kept, or given back: in order, and joined where they touch. */
export function withNumberKept(
  kept: Device['keptNumbers'],
  number: number,
  isKept: boolean,
): { from: number; to: number }[] {
  const ranges: { from: number; to: number }[] = [];
  for (let n = 0; n < 128; n++) {
    if (n === number ? !isKept : !keepsNumber({ keptNumbers: kept }, n)) continue;
    const last = ranges.at(-1);
    if (last?.to === n - 1) last.to = n;
    else ranges.push({ from: n, to: n });
  }
  return ranges;
}

/** All 128 controller numbers as they stand on one channel (0–15) of the rig, over all devices that hear it. */
export function numbersOfChannel(rig: Rig, channel: number): readonly NumberUse[] {
  const heard = rig.devices.filter((d) => d.role !== 'carrier' && channelsHeard(d).includes(channel));
  return useOf(
    heard.flatMap((device) =>
      device.chart
        .filter((fn) => isInForce(device, fn) && heardOn(device, fn, channel))
        .map((fn) => ({ device, fn })),
    ),
    heard,
  );
}

/**
 * The next free number from `from` on, going round after 127; numbers that the standard leaves undefined are
 * preferred to those that it names. `null` when none is free.
 */
export function nextFree(numbers: readonly NumberUse[], from = 20): number | null {
  const order = [...numbers.slice(from), ...numbers.slice(0, from)].filter((n) => n.state === 'free');
  return (order.find((n) => n.standardName === null) ?? order[0])?.number ?? null;
}

/** An omni device hears its rows on every channel; any other on the channel of each row. */
const heardOn = (device: Device, fn: ChartFunction, channel: number): boolean =>
  functionChannel(device, fn) === channel || (device.listens.kind === 'omni' && fn.channel === null);

function useOf(
  rows: readonly { device: Device; fn: ChartFunction }[],
  keepers: readonly Device[],
): readonly NumberUse[] {
  const by: { device: Device; fn: ChartFunction }[][] = Array.from({ length: 128 }, () => []);
  for (const row of rows) for (const number of controllersOf(row.fn)) nth(by, number).push(row);
  return by.map((users, number) => ({
    number,
    state: isReservedByStandard(number)
      ? 'kept-by-standard'
      : users.some((u) => u.fn.reserved) || keepers.some((d) => keepsNumber(d, number))
        ? 'kept-by-device'
        : users.length > 0
          ? 'in-use'
          : 'free',
    by: users,
    standardName: controllerName(number),
  }));
}

/** The controller numbers that a function takes up: a 14-bit pair takes two. */
function controllersOf({ drive }: ChartFunction): readonly number[] {
  if (drive.kind === 'controller') return [drive.controller];
  return drive.kind === 'controller-14' ? [drive.controller, drive.controller + 32] : [];
}
