import { type Action, functionOfAction } from '@idle-step/core/floor';
import {
  portWords,
  outputsAtComputer,
  soundValue,
  valueBounds,
  type ChartFunction,
} from '@idle-step/core/gear';

import type { World } from '@idle-step/core/engine';
import { firstValue, newAction } from '../edits/presetEdits';

/** What an action can be, in the order in which it is offered. */
export const ACTION_KINDS: readonly { value: Action['kind']; text: string }[] = [
  { value: 'set', text: 'set a function' },
  { value: 'toggle', text: 'toggle a switch' },
  { value: 'momentary', text: 'hold a value while down' },
  { value: 'step', text: 'step through values' },
  { value: 'ramp', text: 'glide to a value' },
  { value: 'one-of', text: 'switch on one of several' },
  { value: 'message', text: 'send a note, CC or program' },
  { value: 'raw', text: 'send raw bytes' },
  { value: 'arm-only', text: 'arm only this track' },
  { value: 'arm-step', text: 'arm the next track' },
  { value: 'tap', text: 'tap the tempo' },
  { value: 'clock', text: 'run MIDI clock' },
  { value: 'route', text: 'switch a route, layer or gate' },
  { value: 'scene', text: 'go to a scene' },
  { value: 'song', text: 'go to a song' },
  { value: 'show', text: 'begin, walk or end the set' },
  { value: 'line', text: 'run the time line' },
  { value: 'cue', text: 'go to a cue' },
  { value: 'loop', text: 'switch the loop' },
  { value: 'bank', text: 'turn the bank' },
  { value: 'page', text: 'turn the page of a group' },
  { value: 'capture', text: 'capture into the scene' },
  { value: 'view', text: 'turn the view of the stage' },
  { value: 'panic', text: 'panic' },
];

export const armsTrack = (fn: ChartFunction): boolean => fn.shape.kind === 'switch' && fn.arms !== null;

/** Toe and heel of a function: the highest while down, the lowest when up. */
export const endsOf = (fn: ChartFunction): { down: number; up: number } => {
  const { min, max } = valueBounds(fn.shape);
  return { down: max, up: min };
};

/** Values for a list to step through: all that have a name, as programs and choices do, else the first few. */
export const firstValues = (fn: ChartFunction): number[] => {
  const { min, max } = valueBounds(fn.shape);
  if (fn.shape.kind === 'program' && fn.shape.names.length > 0)
    return fn.shape.names.map((n) => n.program).sort((a, b) => a - b);
  if (fn.shape.kind === 'sound' && fn.shape.names.length > 0) return fn.shape.names.map(soundValue);
  if (fn.shape.kind === 'choice') return fn.shape.labels.map((_, i) => min + i);
  return Array.from({ length: Math.min(4, max - min + 1) }, (_, i) => min + i);
};

/** Ports at the computer by which something can be sent. */
export const outputs = (world: World): { value: string; text: string }[] =>
  outputsAtComputer(world.show.rig).map(({ device, port }) => ({
    value: port.id,
    text: portWords(device, port),
  }));

/** Devices that can be told something: the reachable ones first. */
export const receivers = (world: World): { value: string; text: string }[] =>
  [...world.ways.values()]
    .filter(({ device }) => device.role === 'receiver')
    .sort((a, b) => Number(b.path !== null) - Number(a.path !== null))
    .map(({ device, path }) => ({
      value: device.id,
      text: path ? device.name : `${device.name} (no cable)`,
    }));

/** The action turned into another kind; what both have stays. `null` when the rig has nothing for that kind. */
export function withKind(world: World, boardIndex: number, action: Action, kind: Action['kind']) {
  const made = madeAs(world, boardIndex, action, kind);
  if (!made) return null;
  const { id, delay, isOff, every } = action;
  return {
    ...made,
    id,
    ...(delay ? { delay } : {}),
    ...(isOff ? { isOff } : {}),
    ...(every ? { every } : {}),
  };
}

function madeAs(world: World, boardIndex: number, action: Action, kind: Action['kind']): Action | null {
  const all = world.rows;
  const kept = world.functions.get(functionOfAction(action) ?? '');
  const deviceNow = kept?.device.id ?? ('deviceId' in action ? action.deviceId : undefined);
  // The same function where it can be, else one of the same device.
  const first = (accepts: (fn: ChartFunction) => boolean) =>
    kept && accepts(kept.fn)
      ? kept.fn
      : ((
          all.find(({ device, fn }) => device.id === deviceNow && accepts(fn)) ??
          all.find(({ fn }) => accepts(fn))
        )?.fn ?? null);
  const isSwitch = (fn: ChartFunction) => fn.shape.kind === 'switch';
  const isValued = (fn: ChartFunction) => fn.shape.kind !== 'trigger';
  const using = (fn: ChartFunction | null, make: (fn: ChartFunction) => Action) => fn && make(fn);
  const deviceId = deviceNow ?? receivers(world)[0]?.value;
  const port = 'portId' in action ? action.portId : outputs(world)[0]?.value;
  switch (kind) {
    case 'set':
      return using(
        first(() => true),
        (fn) => newAction({ kind, functionId: fn.id, value: firstValue(fn) }),
      );
    case 'toggle':
      return using(first(isSwitch), (fn) => newAction({ kind, functionId: fn.id }));
    case 'one-of':
      return using(first(isSwitch), (fn) => newAction({ kind, functionId: fn.id, circle: 'one of these' }));
    case 'arm-only':
      return using(first(armsTrack), (fn) => newAction({ kind, functionId: fn.id }));
    case 'route': {
      const found = world.routes.routing.routes[0];
      return found
        ? newAction({
            kind,
            routeId: found.id,
            part: found.gate?.by.kind === 'switch' ? 'gate' : 'route',
            to: 'toggle',
          })
        : null;
    }
    case 'arm-step': {
      const found = all.find(({ device, fn }) => armsTrack(fn) && (!deviceNow || device.id === deviceNow));
      const any = found ?? all.find(({ fn }) => armsTrack(fn));
      return any ? newAction({ kind, deviceId: any.device.id, to: 'next' }) : null;
    }
    case 'momentary':
      return using(first(isValued), (fn) => newAction({ kind, functionId: fn.id, ...endsOf(fn) }));
    case 'step':
      return using(first(isValued), (fn) =>
        newAction({
          kind,
          functionId: fn.id,
          values: firstValues(fn),
          direction: 'forward',
          atEnd: 'round',
        }),
      );
    case 'ramp':
      return using(
        first((fn) => fn.shape.kind === 'range'),
        (fn) =>
          newAction({
            kind,
            functionId: fn.id,
            from: null,
            to: endsOf(fn).down,
            time: { amount: 4, unit: 'beats' },
            curve: 'linear',
          }),
      );
    case 'message':
      return deviceId === undefined
        ? null
        : newAction({ kind, deviceId, channel: null, send: 'note', number: 60, value: 100 });
    case 'raw':
      return port === undefined ? null : newAction({ kind, portId: port, bytes: [] });
    case 'clock':
      return port === undefined ? null : newAction({ kind, portId: port, to: 'start' });
    case 'scene':
      return newAction({ kind, to: { kind: 'next' } });
    case 'song':
    case 'show':
    case 'view':
      return newAction({ kind, to: 'next' });
    case 'line':
    case 'loop':
      return newAction({ kind, to: 'toggle' });
    case 'cue':
      return newAction({ kind, to: { kind: 'next' } });
    case 'bank':
      return newAction({ kind, to: { kind: 'up' } });
    case 'page': {
      const group = world.boards[boardIndex]?.groups[0]?.group;
      return group ? newAction({ kind, groupId: group.id, to: { kind: 'up' } }) : null;
    }
    case 'tap':
    case 'capture':
    case 'panic':
      return newAction({ kind });
  }
}
