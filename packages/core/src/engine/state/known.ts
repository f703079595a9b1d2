import { readRegisters, registersOf, standsAt, type RegisterKey } from '../../gear';
import type { Reached } from '../../show';
import type { LiveState } from './liveState';
import type { World } from '../world/world';

/** What of the live state tells where the gear stands: what it was told, and what is on its way to it. */
export type Known = Pick<LiveState, 'registers' | 'pending'>;

/**
 * What a register of a device holds once everything is sent that waits: `null` where that is not known, `undefined` where
 * it was never told.
 */
function registerNow(state: Known, deviceId: string, key: RegisterKey): number | null | undefined {
  let value = state.registers[key];
  for (const { deviceId: of, loads, writes } of state.pending) {
    if (of !== deviceId) continue;
    const own = writes.find((w) => w.key === key);
    if (own) value = own.value;
    else if (loads) value = null;
  }
  return value;
}

const lookUp =
  (state: Known, deviceId: string) =>
  (key: RegisterKey): number | null | undefined =>
    state.pending.length === 0 ? state.registers[key] : registerNow(state, deviceId, key);

/** The value that a function stands at, or `undefined` where that is not known or the function has no value for it. */
export function valueOf(world: World, state: Known, functionId: string): number | undefined {
  const reached = world.functions.get(functionId);
  return reached && valueAt(state, reached);
}

export const valueAt = (state: Known, { device, fn }: Reached): number | undefined =>
  readRegisters(device, fn, lookUp(state, device.id));

/** Whether a function stands exactly at a value. */
export const stands = (state: Known, { device, fn }: Reached, value: number): boolean =>
  standsAt(device, fn, value, lookUp(state, device.id));

/**
 * The value that a function stands at, as long as nothing was told of it where its chart says that it stands at
 * power-on.
 */
export function assumedValue(world: World, state: Known, functionId: string): number | undefined {
  const reached = world.functions.get(functionId);
  return reached && assumedAt(state, reached);
}

export function assumedAt(state: Known, { device, fn }: Reached): number | undefined {
  const at = lookUp(state, device.id);
  const known = readRegisters(device, fn, at);
  if (known !== undefined || fn.powerOn === null) return known;
  return registersOf(device, fn).reads.every((key) => at(key) === undefined) ? fn.powerOn : undefined;
}

/**
 * Whether some register of a function is not known. A register with a number that the row has no value for is known.
 */
export function isNotKnown(state: Known, { device, fn }: Reached): boolean {
  const at = lookUp(state, device.id);
  return registersOf(device, fn).reads.some((key) => typeof at(key) !== 'number');
}
