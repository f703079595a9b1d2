import type { World } from '../world/world';
import type { Live } from './live';

/** How long before their time the ticks of a clock are handed to its port, in ms. What routes take there is not. */
export const clockAheadMs = ({ routes, aheadMs }: World, portId: string): number =>
  routes.sources.has(portId) ? 0 : aheadMs;

/**
 * How long before their time the values of a function that is moved are handed over, in ms. What routes take, and what its
 * device needs a while for, is done at its time.
 */
export function functionAheadMs(world: World, functionId: string): number {
  if (world.aheadMs === 0) return 0;
  const reached = world.functions.get(functionId);
  return reached?.path && reached.fn.settleMs === 0 ? clockAheadMs(world, reached.path.portId) : 0;
}

/**
 * Whether what is due at `dueMs` is handed over now: `aheadMs` before it is due.
 * @param nowMs the real time, where it is later than the moment that is worked through.
 */
export const isToHandOver = (live: Live, dueMs: number, aheadMs: number, nowMs: number): boolean =>
  dueMs - aheadMs <= (aheadMs > 0 ? nowMs : live.nowMs);

/** Runs something whose messages leave at `dueMs`, which is later than now where they are handed over early. */
export function handAhead(live: Live, dueMs: number, run: () => void): void {
  live.handedForMs = dueMs;
  run();
  live.handedForMs = -Infinity;
}
