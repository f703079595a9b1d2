import { messageKey, step } from '../../engine';
import { isPressed } from '../../floor';
import { describeMessage, encode, hex, type Message } from '../../midi';
import { hop } from './hops';
import type { TraceRig } from './traceRig';
import { untakenLoss } from './traceSend';
import type { Trace, TraceStart } from './traceStart';
import { traceControl } from './traceControl';
import { playOut, waysOf, WAYS_AT_MOST } from './playOut';
import { nth } from '../../sure';

/** A message that arrives: the control that sends it, the function that reports with it, the routes that take it in. */
export function traceMessage(
  rig: TraceRig,
  { portId, message }: { portId: string; message: Message },
): Trace {
  const { world } = rig;
  const stem = [
    hop('message', describeMessage(message, world.show.rig.middleC), hex(encode(message)), { message }),
    hop('port', rig.portName(portId), rig.portDetail(portId), { portId }),
  ];
  const shut = rig.shutOut(portId);
  if (shut) return { stem, loss: shut, ways: [] };
  const entry = world.inputs.get(portId)?.get(messageKey(message));
  const effects = playOut(
    world,
    rig.state,
    [{ kind: 'message', atMs: rig.pressedAtMs, portId, message }],
    rig.pressedAtMs,
  );
  if (entry) {
    const { device } = nth(world.boards, entry.boardIndex);
    stem.push(hop('control', `${device.name} ${entry.control.name}`, '', { deviceId: device.id }));
  }
  const ways = waysOf(rig, effects);
  if (ways.length > 0) return { stem, loss: null, ways: ways.slice(0, WAYS_AT_MOST) };
  if (effects.some((e) => e.effect.kind === 'routed')) return { stem, loss: null, ways: [] };
  if (entry) {
    const start: TraceStart = isPressed(entry.control.kind)
      ? { kind: 'gesture', controlId: entry.control.id, gesture: isEnd(message) ? 'release' : 'press' }
      : { kind: 'sweep', controlId: entry.control.id, travel: 64 };
    const traced = traceControl(rig, start);
    return { ...traced, stem: [...stem, ...traced.stem.slice(1)] };
  }
  if (world.reports.has(portId) && reports(rig, portId, message))
    return { stem: [...stem, hop('effect', 'a report, taken over')], loss: null, ways: [] };
  return { stem, loss: untakenLoss(rig, portId, message), ways: [] };
}

const isEnd = (message: Message): boolean =>
  message.kind === 'note-off' ||
  (message.kind === 'note-on' && message.velocity === 0) ||
  (message.kind === 'controller' && message.value === 0);

/** Whether a message changes what is known of a function. */
const reports = ({ world, state, pressedAtMs }: TraceRig, portId: string, message: Message): boolean =>
  step(world, state, { kind: 'message', atMs: pressedAtMs, portId, message }).state.registers !==
  state.registers;
