import type { Action } from '@idle-step/core/floor';
import { actionWires, type LiveState, type World } from '@idle-step/core/engine';
import { shownText, type ChartFunction, type Device } from '@idle-step/core/gear';
import { hex, noteName } from '@idle-step/core/midi';
import { valueWords } from '../words/chartWords';

const ROUTE_WORDS = {
  route: { on: 'on', off: 'off', toggle: 'on or off' },
  gate: { on: 'open', off: 'closed', toggle: 'open or closed' },
} as const;

/** What an action is, in words. */
export type ActionWords = { readonly title: string; readonly value: string };

export function actionWords(world: World, action: Action): ActionWords {
  if ('functionId' in action) {
    const found = world.functions.get(action.functionId);
    if (!found) return { title: 'a function that is gone', value: '' };
    return {
      title: `${found.device.name} ${found.fn.name}`,
      value: movingWords(found.device, found.fn, action),
    };
  }
  switch (action.kind) {
    case 'message': {
      const device = world.ways.get(action.deviceId)?.device;
      return {
        title: device?.name ?? 'a device that is gone',
        value: `${messageWords(world, action)}${device ? `, channel ${(action.channel ?? device.channel) + 1}` : ''}`,
      };
    }
    case 'arm-step':
      return {
        title: world.ways.get(action.deviceId)?.device.name ?? 'a device that is gone',
        value: `arms the ${action.to} track`,
      };
    case 'route': {
      const found = world.routes.byId.get(action.routeId);
      const part = action.part === 'gate' ? 'Gate of ' : '';
      return {
        title: found ? `${part}${found.name}` : 'a route that is gone',
        value: ROUTE_WORDS[action.part][action.to],
      };
    }
    case 'raw':
      return { title: 'Raw bytes', value: '' };
    case 'clock':
      return { title: 'MIDI clock', value: action.to };
    case 'bank':
      return { title: 'Bank', value: targetWords(world, action.to) };
    case 'page': {
      const group = world.boards.flatMap((b) => b.groups).find((g) => g.group.id === action.groupId)?.group;
      return {
        title: group ? `Page of ${group.name}` : 'a group that is gone',
        value: targetWords(world, action.to),
      };
    }
    case 'scene':
      return {
        title: 'Scene',
        value: sceneWords(world, action.to),
      };
    case 'song':
      return {
        title: 'Song',
        value: typeof action.to === 'object' ? String(action.to.index + 1) : action.to,
      };
    case 'show':
      return { title: 'Set', value: SHOW_WORDS[action.to] };
    case 'view':
      return { title: 'View of the stage', value: action.to };
    case 'capture':
      return { title: 'Capture', value: 'into the scene' };
    case 'line':
      return { title: 'Time line', value: LINE_WORDS[action.to] };
    case 'cue':
      return {
        title: 'Cue',
        value: action.to.kind === 'at' ? String(action.to.index + 1) : action.to.kind,
      };
    case 'loop':
      return {
        title: 'Loop',
        value: action.to === 'toggle' ? 'on or off' : action.to,
      };
    case 'tap':
      return { title: 'Tap', value: 'tempo' };
    case 'panic':
      return { title: 'Panic', value: '' };
  }
}

/** The bytes that an action sends if its gesture is made next, or what it says through something else. */
export function actionBytes(world: World, action: Action, state: LiveState): string {
  const wires = actionWires(world, action, state);
  const bytes = wires.flatMap((wire) => wire.messages.map((m) => hex(m))).join('  ');
  if (action.kind === 'clock') return CLOCK_BYTES[action.to];
  if (bytes) return wires[0]?.unknown === 'asks' ? `${bytes}, asks first` : bytes;
  return NO_BYTES[action.kind] ?? notSent(world, action);
}

/** Why an action that says something of its own says nothing. */
function notSent(world: World, action: Action): string {
  const reached = 'functionId' in action ? world.functions.get(action.functionId) : undefined;
  if ('functionId' in action && !reached) return 'nothing is sent';
  const way = 'deviceId' in action ? world.ways.get(action.deviceId) : reached;
  if (way && !way.path) return 'not sent: no cable leads there';
  const portId = way?.path?.portId ?? ('portId' in action ? action.portId : '');
  return world.portsOff.has(portId) ? 'not sent: its port is not enabled for playing' : 'nothing is sent';
}

/** What is said of actions that have no bytes of their own. */
const NO_BYTES: Partial<Record<Action['kind'], string>> = {
  route: 'sends nothing itself',
  bank: 'turns the page',
  page: 'turns the page',
  scene: 'sends what the scene changes',
  song: 'sends its first scene',
  show: 'sends what comes',
  view: 'sends nothing',
  capture: 'sends nothing',
  line: 'sends what its cues say',
  cue: 'sends what the cue says',
  loop: 'sends nothing',
  tap: 'sends nothing',
  panic: 'silences everything',
};

const SHOW_WORDS = { begin: 'begin', end: 'end', next: 'go on', previous: 'go back' } as const;

const LINE_WORDS = {
  toggle: 'run or stop',
  start: 'start',
  continue: 'continue',
  stop: 'stop',
} as const;

function sceneWords(world: World, to: Extract<Action, { kind: 'scene' }>['to']): string {
  if (to.kind === 'at') return String(to.index + 1);
  if (to.kind !== 'is') return to.kind;
  return (
    world.songs.flatMap((s) => s.song.scenes).find((s) => s.id === to.sceneId)?.name ?? 'one that is gone'
  );
}

const CLOCK_BYTES = { start: 'FA, then F8 24 times a beat', continue: 'FB, then F8', stop: 'FC' } as const;

/** Example: `note 60 C3`, `CC 22 value 2`, `program 5`. */
export function messageWords(world: World, action: Action & { kind: 'message' }): string {
  switch (action.send) {
    case 'note':
      return `note ${action.number} ${noteName(action.number, world.show.rig.middleC)}`;
    case 'controller':
      return `CC ${action.number} value ${action.value}`;
    case 'program': {
      const from = world.ways.get(action.deviceId)?.device.programsShownFrom ?? 0;
      return `program ${action.number + from}`;
    }
  }
}

function targetWords(world: World, to: Extract<Action, { kind: 'bank' }>['to']): string {
  if (to.kind !== 'bank') return to.kind;
  const pages = world.boards.flatMap((b) => [...b.banks, ...b.groups.flatMap((g) => g.pages)]);
  return pages.find((p) => p.bank.id === to.bankId)?.bank.name ?? 'gone';
}

type Moving = Extract<Action, { functionId: string }>;

/** Example: `3 Full (sent 2)`, `toggle`, `127, up 0`, `1, 2, 3`, `to 100 in 4 beats`. */
function movingWords(device: Device, fn: ChartFunction, action: Moving): string {
  switch (action.kind) {
    case 'set':
      return valueWords(device, fn, action.value);
    case 'toggle':
      return 'toggle';
    case 'arm-only':
      return 'on, all others off';
    case 'one-of':
      return `on, others of “${action.circle}” off`;
    case 'momentary':
      return `${shownText(device, fn, action.down)}, up ${shownText(device, fn, action.up)}`;
    case 'step':
      return action.direction === 'reset'
        ? `back to ${shownText(device, fn, action.values[0]!)}`
        : action.values.map((v) => shownText(device, fn, v)).join(', ');
    case 'ramp': {
      const from = action.from === null ? '' : `${shownText(device, fn, action.from)} `;
      const time = `${action.time.amount} ${action.time.unit}`;
      return `${from}to ${shownText(device, fn, action.to)} in ${time}`;
    }
  }
}
