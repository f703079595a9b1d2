import { allDrivenBy, isRouteOn, placeOf, valueOf, type LiveState, type World } from '../../engine';
import {
  answersOn,
  channelsHeard,
  computerPorts,
  functionChannel,
  isInForce,
  shownText,
  takesValue,
  valueBounds,
  type ChartFunction,
  type Device,
  type RigPath,
  readValue,
} from '../../gear';
import { describeMessage, encode, hex, type Message } from '../../midi';
import type { Gate, Passage, Route } from '../../routing';
import { hop, lookIn, lost, type Hop, type Loss, type TraceWay } from './hops';
import type { TraceRig } from './traceRig';
import { got, nth, there } from '../../sure';

/** What one route did, as a hop, and as a loss where nothing came through. */
export function routeHop(rig: TraceRig, passage: Passage, atMs: number): { hop: Hop; loss: Loss | null } {
  const { world, state } = rig;
  const route = got(world.routes.byId, passage.routeId);
  const { middleC } = world.show.rig;
  const came = describeMessage(passage.message, middleC);
  const went = passage.sent.map((s) => `${rig.portName(s.portId)}: ${describeMessage(s.message, middleC)}`);
  const made = hop('route', route.name, went.length > 0 ? `${came} goes on as ${went.join('; ')}` : came, {
    atMs,
    message: passage.message,
    routeId: route.id,
  });
  return { hop: made, loss: passageLoss(world, state, route, passage, came) };
}

function passageLoss(
  world: World,
  state: LiveState,
  route: Route,
  passage: Passage,
  came: string,
): Loss | null {
  const look = lookIn('routes', route.id);
  switch (passage.outcome) {
    case 'modulated':
      return null;
    case 'passed':
      return route.to.length > 0
        ? null
        : lost(
            'route',
            'no-destination',
            `“${route.name}” sends nowhere: it has no destination. Add one in Routes.`,
            look,
          );
    case 'gate-closed':
      return lost(
        'route',
        'gate-closed',
        `The gate of “${route.name}” is closed: ${gateWords(world, state, there(route.gate))}.`,
        gateMend(route),
      );
    case 'kind-stopped':
      return lost(
        'route',
        'kind-stopped',
        `The gate of “${route.name}” stops ${came}: it lets through only ${there(route.gate).holds.join(', ')}. Say in Routes that the others pass.`,
        look,
      );
    case 'lost':
      return lost(
        'route',
        'out-of-range',
        `“${route.name}” can make nothing of ${came}: what it would become lies outside 0 to 127, or is another kind of message.`,
        look,
      );
    case 'loop':
      return lost(
        'route',
        'loop',
        `“${route.name}” was stopped: the same message keeps coming back to it. Take from another port, or send to another one.`,
        look,
      );
  }
}

/** Why a gate is as it is. */
function gateWords(world: World, state: LiveState, { by, startsOpen }: Gate): string {
  switch (by.kind) {
    case 'controller':
      return `controller ${by.controller} opens it from ${by.from} to ${by.to}${startsOpen ? '' : ', and it starts closed'}`;
    case 'function': {
      const reached = world.functions.get(by.functionId);
      if (!reached) return 'the function that opens it is gone';
      const value = valueOf(world, state, by.functionId);
      return `${reached.device.name} ${reached.fn.name} ${value === undefined ? 'is not known yet' : `is ${value}`}, and it opens from ${by.from} to ${by.to}`;
    }
    case 'scenes': {
      const { songIndex, sceneIndex } = placeOf(world, state);
      const scene = sceneIndex === null ? null : world.songs[songIndex]?.song.scenes[sceneIndex];
      return scene ? `it is not open in ${scene.name}` : 'no scene is in play yet, and it starts closed';
    }
    case 'switch':
      return startsOpen ? 'a switch closed it' : 'it starts closed until a switch opens it';
  }
}

const gateMend = (route: Route) =>
  route.gate?.by.kind === 'controller' || route.gate?.by.kind === 'switch'
    ? ({ kind: 'route', routeId: route.id, part: 'gate', text: 'Open the gate' } as const)
    : lookIn('routes', route.id);

/** Why no route took a message in that arrived at a port. */
export function untakenLoss(rig: TraceRig, portId: string, message: Message): Loss {
  const { world, state } = rig;
  const source = world.routes.sources.get(portId);
  const words = describeMessage(message, world.show.rig.middleC);
  const off = source?.takersOf(message).find(({ route }) => !isRouteOn(state, route))?.route;
  if (off)
    return lost('route', 'route-off', `“${off.name}” would take this in, but it is switched off.`, {
      kind: 'route',
      routeId: off.id,
      part: 'route',
      text: `Switch ${off.name} on`,
    });
  const other = otherChannelControl(world, portId, message);
  if (other) return other;
  return lost(
    'route',
    'filtered',
    source
      ? `No route takes in ${words} at ${rig.portName(portId)}, and what none takes in ends there. Widen a route, or choose where the rest goes.`
      : `Nothing listens at ${rig.portName(portId)} for ${words}: no control sends it, no function reports with it, and no route takes from there.`,
    lookIn('routes'),
  );
}

/** A control that sends the same, but on another channel. */
function otherChannelControl(world: World, portId: string, message: Message): Loss | null {
  if (!('channel' in message)) return null;
  const number =
    message.kind === 'controller'
      ? message.controller
      : message.kind === 'note-on' || message.kind === 'note-off'
        ? message.note
        : null;
  const kind = message.kind === 'controller' ? 'controller' : 'note';
  for (const { board, device, path } of world.boards) {
    if (path?.portId !== portId) continue;
    const control = board.controls.find((c) => c.sends.kind === kind && c.sends.number === number);
    if (!control) continue;
    const wanted = (control.channel ?? device.channel) + 1;
    return lost(
      'message',
      'wrong-channel',
      `This came on channel ${message.channel + 1}; ${device.name} ${control.name} is written down on channel ${wanted}. Set the board, or its channel in Rig, so that both agree.`,
      lookIn('rig', device.id),
    );
  }
  return null;
}

/** The way of one message from the port it leaves by to what it does, or to where it is lost. */
export function sendWay(
  rig: TraceRig,
  send: { readonly portId: string; readonly message: Message; readonly functionId: string | null },
  atMs: number,
): TraceWay {
  const { world } = rig;
  const { portId, message } = send;
  const hops: Hop[] = [
    hop('message', describeMessage(message, world.show.rig.middleC), hex(encode(message)), { atMs, message }),
    hop('port', rig.portName(portId), rig.portDetail(portId), { atMs, portId }),
  ];
  const end = (loss: Loss | null): TraceWay => ({ hops, loss });
  const shut = rig.shutOut(portId);
  if (shut) return end(shut);
  const behind = world.devicesBehind.get(portId) ?? [];
  const target = targetOf(rig, send, behind);
  if (!target) return end(unheardLoss(rig, portId, message, behind));
  const { device, fn, value } = target;
  const at = { atMs, deviceId: device.id };
  const { cableIds, words } = cablesTo(rig, portId, device);
  const cables = cableIds.length === 1 ? 'one cable' : `${cableIds.length} cables`;
  if (cableIds.length > 0) hops.push(hop('cable', words, cables, { atMs, cableIds }));
  hops.push(hop('device', device.name, `channel ${functionChannelWords(device, fn, message)}`, at));
  const deaf = fn ? deafLoss(rig, device, atMs) : null;
  if (deaf) return end(deaf);
  if (!fn) {
    const lost = unarmed(rig, device, message) ?? unknownLoss(rig, device, message);
    if (!lost) hops.push(hop('effect', 'played', '', at));
    return end(lost);
  }
  hops.push(hop('function', fn.name, value === null ? '' : shownText(device, fn, value), at));
  const loss = functionLoss(device, fn, value) ?? rig.inversionOf(device, fn);
  if (loss || value === null) return end(loss);
  hops.push(hop('effect', `${device.name} ${fn.name}`, shownText(device, fn, value), at));
  return end(null);
}

/** A device that still loads what its program change called hears nothing. */
function deafLoss({ state, pressedAtMs, isPlanned }: TraceRig, device: Device, atMs: number): Loss | null {
  const leftMs = (state.listensFromMs[device.id] ?? 0) - pressedAtMs - atMs;
  if (leftMs <= 0 || isPlanned) return null;
  return lost(
    'device',
    'deaf',
    `${device.name} is deaf for another ${Math.ceil(leftMs)} ms after its program change. Send it later, or in a scene, which waits.`,
  );
}

/** What is played is heard whether or not a chart names it; nothing else is. */
function unknownLoss({ world }: TraceRig, device: Device, message: Message): Loss | null {
  if (PLAYED.has(message.kind)) return null;
  return lost(
    'function',
    'no-function',
    `${device.name} has no function for ${describeMessage(message, world.show.rig.middleC)} in its chart.`,
    lookIn('rig', device.id),
  );
}

/** Why a device does not take a value for a function. */
function functionLoss(device: Device, fn: ChartFunction, value: number | null): Loss | null {
  if (fn.reserved)
    return lost(
      'function',
      'reserved',
      `${device.name} keeps ${fn.name} for its own hardware: nothing else may send it. Take a free number.`,
      lookIn('rig', device.id),
    );
  if (!isInForce(device, fn))
    return lost(
      'function',
      'other-mode',
      `${device.name} has ${fn.name} only while ${device.setting?.name ?? 'its setting'} is “${fn.under}”; now it is “${device.setting?.inForce ?? ''}”.`,
      fn.under === null
        ? null
        : { kind: 'setting', deviceId: device.id, option: fn.under, text: `Set it to ${fn.under}` },
    );
  if (value === null || !takesValue(fn.shape, value))
    return lost(
      'function',
      'value-refused',
      `${device.name} ${fn.name} does not take ${value ?? 'this'}: ${boundsWords(fn)}.`,
      lookIn('rig', device.id),
    );
  return null;
}

/** What an instrument plays without having it in its chart. */
const PLAYED: ReadonlySet<Message['kind']> = new Set([
  'note-on',
  'note-off',
  'pitch-bend',
  'channel-pressure',
  'poly-pressure',
]);

type Target = { readonly device: Device; readonly fn: ChartFunction | null; readonly value: number | null };

/** The device that hears a message, with the function that it drives there. */
function targetOf(
  { world }: TraceRig,
  { portId, message, functionId }: { portId: string; message: Message; functionId: string | null },
  behind: readonly Device[],
): Target | null {
  const known = functionId === null ? undefined : world.functions.get(functionId);
  const all = allDrivenBy(world, portId, message);
  const found = known ? all.find((d) => d.reached.fn.id === known.fn.id) : all[0];
  if (found) return { ...found.reached, value: found.value };
  if (known) return { device: known.device, fn: known.fn, value: valueIn(known.fn, message) };
  if (!('channel' in message)) return null;
  for (const device of behind) {
    // A row that does not hold now, or whose value is out of its choice, is still what was meant.
    const fn = device.chart.find((f) => answersOn(device, f, message.channel) && isSameNumber(f, message));
    if (fn) return { device, fn, value: valueIn(fn, message) };
  }
  const device = behind.find((d) => channelsHeard(d).includes(message.channel));
  return device ? { device, fn: null, value: null } : null;
}

/** What a message would set a function to, whether it takes that or not. */
function valueIn(fn: ChartFunction, message: Message): number | null {
  const raw =
    message.kind === 'controller'
      ? message.value
      : message.kind === 'program'
        ? message.program
        : message.kind === 'note-on'
          ? message.velocity
          : null;
  if (raw === null) return valueBounds(fn.shape).min;
  if (fn.shape.kind === 'switch')
    return raw === fn.shape.on ? 1 : raw === fn.shape.off ? 0 : raw >= 64 ? 1 : 0;
  if (fn.shape.kind === 'trigger') return 0;
  return fn.shape.kind === 'choice' && fn.shape.sent ? readValue(fn.shape, raw) : raw;
}

const isSameNumber = ({ drive }: ChartFunction, message: Message): boolean =>
  (drive.kind === 'controller' && message.kind === 'controller' && drive.controller === message.controller) ||
  (drive.kind === 'note' && message.kind === 'note-on' && drive.note === message.note) ||
  (drive.kind === 'program' && message.kind === 'program');

function unheardLoss(rig: TraceRig, portId: string, message: Message, behind: readonly Device[]): Loss {
  const { middleC } = rig.world.show.rig;
  if (behind.length === 0)
    return lost(
      'cable',
      'no-cable',
      `Nothing that answers hangs on ${rig.portName(portId)}. Draw a cable from it in Rig.`,
      lookIn('rig'),
    );
  if (!('channel' in message))
    return lost(
      'device',
      'no-function',
      `${behind.map((d) => d.name).join(' and ')} would not answer to ${describeMessage(message, middleC)}.`,
      lookIn('rig', nth(behind, 0).id),
    );
  const meant = behind.find((d) => d.chart.some((f) => isSameNumber(f, message))) ?? nth(behind, 0);
  const fn = meant.chart.find((f) => isSameNumber(f, message));
  const wanted = (fn ? functionChannel(meant, fn) : meant.channel) + 1;
  return lost(
    'device',
    'wrong-channel',
    `This is on channel ${message.channel + 1}, and nothing behind ${rig.portName(portId)} hears that; ${meant.name} listens on ${wanted}.`,
    lookIn('rig', meant.id),
  );
}

/** A note for a device of which no track is armed is silence. */
function unarmed({ world, state }: TraceRig, device: Device, message: Message): Loss | null {
  if (message.kind !== 'note-on') return null;
  const arms = device.chart.filter((f) => f.arms !== null);
  if (arms.length === 0 || arms.some((f) => valueOf(world, state, f.id) === 1)) return null;
  return lost(
    'effect',
    'not-armed',
    `No track of ${device.name} is armed, so it hears the note and is silent. Arm one.`,
    { kind: 'set', functionId: nth(arms, 0).id, value: 1, text: `Arm ${nth(arms, 0).arms}` },
  );
}

const functionChannelWords = (device: Device, fn: ChartFunction | null, message: Message): string =>
  String(('channel' in message ? message.channel : fn ? functionChannel(device, fn) : device.channel) + 1);

const boundsWords = (fn: ChartFunction): string => {
  const { min, max } = valueBounds(fn.shape);
  if (fn.shape.kind === 'choice' && fn.shape.sent) return `its choices are ${fn.shape.sent.join(', ')}`;
  return fn.shape.kind === 'choice'
    ? `its choices are ${min} to ${max}, shown from ${fn.shape.shownFrom}`
    : `it takes ${min} to ${max}`;
};

/** The cables between a port at the computer and a device, with the boxes on the way. */
function cablesTo({ paths, world }: TraceRig, portId: string, device: Device) {
  const found = paths().find((p) => leadsFrom(p, portId, device));
  const own = new Set(device.ports.map((p) => p.id));
  if (!found || own.has(portId)) return { cableIds: [], words: '' };
  const start = found.stops.findIndex((s) => s.kind === 'computer');
  const names = found.stops.slice(start + 1).flatMap((s) => (s.kind === 'device' ? s.device.name : []));
  const carried = computerPorts(world.show.rig);
  const cableIds = found.cableIds.filter((id) => carried.get(id) === portId);
  return { cableIds, words: names.join(' → ') };
}

const leadsFrom = ({ stops }: RigPath, portId: string, device: Device): boolean => {
  const last = stops.at(-1);
  const start = stops.findIndex((s) => s.kind === 'computer');
  const first = stops[start + 1];
  return (
    start >= 0 &&
    last?.kind === 'device' &&
    last.device.id === device.id &&
    first?.kind === 'device' &&
    (first.leaves?.id === portId || first.enters?.id === portId)
  );
};
