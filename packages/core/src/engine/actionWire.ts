import { functionOfAction, type Action } from '../floor';
import { plainMessage } from './plainMessage';
import { messagesFor, takesValue, type Device } from '../gear';
import { encode, parseBytes, wireTimeMs, type LinkKind } from '../midi';
import type { World } from './world';

/** What one action puts on the wire. `ms` is how long its bytes take there; 0 on links that are not slow. */
export type ActionWire = {
  readonly portId: string;
  readonly device: Device | null;
  readonly functionId: string | null;
  readonly link: LinkKind;
  readonly messages: readonly (readonly number[])[];
  readonly ms: number;
};

/**
 * The exact bytes of an action, or `null` when it sends none of its own (scenes, songs, banks, panic) or what it
 * points at is gone, unreachable or does not take the value. A toggle is shown as it switches on.
 */
export function actionWire(world: World, action: Action): ActionWire | null {
  if (action.kind === 'raw') {
    const messages = parseBytes(action.bytes).messages.map(encode);
    const device = world.devicesBehind.get(action.portId)?.[0] ?? null;
    const link =
      world.show.rig.devices.flatMap((d) => d.ports).find((p) => p.id === action.portId)?.link ?? 'usb';
    return { portId: action.portId, device, functionId: null, link, messages, ms: timeOf(messages, link) };
  }
  if (action.kind === 'message') {
    const way = world.ways.get(action.deviceId);
    if (!way?.path) return null;
    const { portId, link } = way.path;
    const messages = [encode(plainMessage(action, action.channel ?? way.device.channel, action.value))];
    return { portId, device: way.device, functionId: null, link, messages, ms: timeOf(messages, link) };
  }
  const value = firstValueOf(action);
  const reached = world.functions.get(functionOfAction(action) ?? '');
  if (value === null) return null;
  if (!reached?.path || !takesValue(reached.fn.shape, value)) return null;
  const messages = messagesFor(reached.device, reached.fn, value).map(encode);
  const { portId, link } = reached.path;
  return {
    portId,
    device: reached.device,
    functionId: reached.fn.id,
    link,
    messages,
    ms: timeOf(messages, link),
  };
}

/** The value that an action sends when its gesture fires first; a toggle is taken as it switches on. */
function firstValueOf(action: Action): number | null {
  switch (action.kind) {
    case 'set':
      return action.value;
    case 'toggle':
    case 'arm-only':
    case 'one-of':
      return 1;
    case 'ramp':
      return action.from ?? action.to;
    case 'momentary':
      return action.down;
    case 'step':
      return action.values[0] ?? null;
    default:
      return null;
  }
}

const timeOf = (messages: readonly (readonly number[])[], link: LinkKind): number =>
  wireTimeMs(
    messages.reduce((n, m) => n + m.length, 0),
    link,
  );
