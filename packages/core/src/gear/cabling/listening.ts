import type { ChartFunction } from '../charts/chartFunction';
import type { Device } from '../rig';

/** The channel on which a function is driven, 0–15. */
export function functionChannel(device: Device, fn: ChartFunction): number {
  if (fn.extraChannel !== null) {
    const extra = device.extraChannels.find((e) => e.name === fn.extraChannel);
    if (extra) return extra.channel;
  }
  return fn.channel ?? device.channel;
}

/** Whether a function answers on a channel, 0–15: its own, or any that the device listens on. */
export function answersOn(device: Device, fn: ChartFunction, channel: number): boolean {
  if (channel === functionChannel(device, fn)) return true;
  if (fn.channel !== null || fn.extraChannel !== null) return false;
  const { listens } = device;
  return listens.kind === 'omni' || (listens.kind === 'several' && listens.channels.includes(channel));
}

/** Every channel that a device hears, 0–15, in order. */
export function channelsHeard(device: Device): readonly number[] {
  const all = Array.from({ length: 16 }, (_, i) => i);
  const { listens } = device;
  if (listens.kind === 'omni') return all;
  const heard = new Set([device.channel, ...device.extraChannels.map((e) => e.channel)]);
  if (listens.kind === 'several') for (const channel of listens.channels) heard.add(channel);
  if (listens.kind === 'parts') for (const channel of partChannels(device)) heard.add(channel);
  for (const fn of device.chart) if (fn.channel !== null) heard.add(fn.channel);
  return all.filter((channel) => heard.has(channel));
}

/** The channels of the parts of a device, one a part; empty when it has none. Parts beyond channel 16 are left out. */
export function partChannels(device: Device): readonly number[] {
  if (device.listens.kind !== 'parts') return [];
  const { count } = device.listens;
  return Array.from({ length: count }, (_, i) => device.channel + i).filter((channel) => channel <= 15);
}

/** Whether a row of the chart holds under the device's setting as it is now. */
export const isInForce = (device: Device, fn: ChartFunction): boolean =>
  fn.under === null || fn.under === device.setting?.inForce;

/** Whether something may be assigned to a row: it holds now, and the device does not keep it for itself. */
export const isUsable = (device: Device, fn: ChartFunction): boolean => !fn.reserved && isInForce(device, fn);
