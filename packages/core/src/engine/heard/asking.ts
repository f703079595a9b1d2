import type { Action } from '../../floor';
import { parseBytes, parseTypedBytes } from '../../midi';
import { send } from '../live/sending';
import { type Live } from '../live/live';
import type { Origin } from '../state/liveState';

/** How long a device that was asked for a value has to answer, in ms. */
export const ANSWER_WITHIN_MS = 300;
/** One that did not answer is asked again only after this long, in ms. */
export const ASK_AGAIN_MS = 5000;

/**
 * Asks a device for the value of a function, where its chart says how.
 * @param controlId what was pressed or turned.
 * @returns whether its answer may still come.
 */
export function asks(live: Live, functionId: string, controlId: string): boolean {
  const reached = live.world.functions.get(functionId);
  if (!reached?.path || reached.fn.request === '' || live.world.portsOff.has(reached.path.portId))
    return false;
  const asked = live.state.askedAtMs[functionId];
  if (asked !== undefined && live.nowMs - asked < ASK_AGAIN_MS) return live.nowMs - asked < ANSWER_WITHIN_MS;
  const bytes = parseTypedBytes(reached.fn.request);
  if (typeof bytes === 'string') return false;
  live.state.askedAtMs = { ...live.state.askedAtMs, [functionId]: live.nowMs };
  for (const message of parseBytes(bytes).messages) send(live, reached.path.portId, message, null);
  live.note({ code: 'value-asked', controlId, functionId });
  return true;
}

/** What was pressed waits for the answer of its device, and is done without it once that would have come. */
export function awaitAnswer(
  live: Live,
  from: Origin,
  action: Action & { readonly functionId: string },
): void {
  const asked = live.state.askedAtMs[action.functionId] ?? live.nowMs;
  const waiting = { atMs: asked + ANSWER_WITHIN_MS, from, action, isForAnswer: true };
  live.state.delayed = [...live.state.delayed, waiting].sort((a, b) => a.atMs - b.atMs);
}

/** A device has said where a function stands: what waited for that is done now. */
export function answered(live: Live, functionId: string): void {
  const isDue = ({ isForAnswer, action }: (typeof live.state.delayed)[number]): boolean =>
    isForAnswer === true && 'functionId' in action && action.functionId === functionId;
  if (!live.state.delayed.some(isDue)) return;
  live.state.delayed = live.state.delayed
    .map((d) => (isDue(d) ? { ...d, atMs: live.nowMs } : d))
    .sort((a, b) => a.atMs - b.atMs);
}
