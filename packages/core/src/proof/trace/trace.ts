import { type LiveState, type World } from '../../engine';
import { type Loss } from './hops';
import { TraceRig, type PortNow } from './traceRig';
import type { Trace, TraceStart } from './traceStart';
import { traceControl } from './traceControl';
import { traceMessage } from './traceMessage';

/**
 * Follows a press through the rig as it is now, to its effect or to where it is lost. What happens is computed by the
 * same `step` that plays; nothing is sent and nothing changes.
 * @param portNow what each port of the computer is at this moment.
 */
export function trace(
  world: World,
  state: LiveState,
  start: TraceStart,
  nowMs: number,
  portNow: (portId: string) => PortNow = () => 'open',
): Trace {
  const rig = new TraceRig(world, state, nowMs, portNow);
  return start.kind === 'message' ? traceMessage(rig, start) : traceControl(rig, start);
}

/** Every loss of a trace, the ways' in their order. */
export const lossesOf = (found: Trace): readonly Loss[] => [
  ...(found.loss ? [found.loss] : []),
  ...found.ways.flatMap((w) => w.loss ?? []),
];
