import { counted } from '../../words/counted';
import {
  type FullRig,
  type Route,
  portName,
  numbersText,
  numberTableText,
  type RouteKind,
} from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';

import { noteLabel, type MiddleC } from '@idle-step/core/midi';
import { there } from '@idle-step/core/sure';

/** The parts of a route as they stand in its sentence. */

export const KIND_WORDS: Record<RouteKind, string> = {
  note: 'notes',
  'poly-pressure': 'key pressure',
  controller: 'controllers',
  program: 'programs',
  'channel-pressure': 'channel pressure',
  'pitch-bend': 'pitch bend',
  sysex: 'SysEx',
  time: 'clock and position',
  system: 'other system messages',
};

/** Example: `notes, pitch bend and controllers`. */
export function listed(words: readonly string[]): string {
  const last = words.at(-1);
  return words.length < 2 ? (last ?? '') : `${words.slice(0, -1).join(', ')} and ${there(last)}`;
}

export function fromWords(rig: FullRig, { from }: Route): string {
  if (from.portIds.length === 0) return 'any input';
  return listed(from.portIds.map((id) => portName(rig, id)));
}

export function whatWords({ from }: Route, middleC: MiddleC): string {
  const kinds = from.kinds.length === 0 ? 'everything' : listed(from.kinds.map((k) => KIND_WORDS[k]));
  const onlyNotes = from.kinds.length > 0 && from.kinds.every((k) => k === 'note' || k === 'poly-pressure');
  const numbers =
    from.numbers.length === 0
      ? ''
      : ` ${
          onlyNotes
            ? from.numbers
                .map((s) =>
                  s.from === s.to
                    ? noteLabel(s.from, middleC)
                    : `${noteLabel(s.from, middleC)} to ${noteLabel(s.to, middleC)}`,
                )
                .join(', ')
            : numbersText(from.numbers)
        }`;
  const channels =
    from.channels.length === 0
      ? ''
      : ` on channel ${listed([...from.channels].sort((a, b) => a - b).map((c) => String(c + 1)))}`;
  const values = from.values ? ` from ${from.values.from} to ${from.values.to}` : '';
  return `${kinds}${numbers}${values}${channels}`;
}

export function changeWords({ change, modulation }: Route, middleC: MiddleC): string {
  if (modulation)
    return `a swell of CC ${modulation.controller} from ${modulation.rest} to ${modulation.peak}`;
  const { numbers, transpose, programShift, channel, as, value } = change;
  const parts = [
    numbers.length > 3 ? `${numbers.length} numbers changed` : numberTableText(numbers, middleC),
    transpose === 0 ? '' : `${transpose > 0 ? 'up' : 'down'} ${Math.abs(transpose)} semitones`,
    programShift === 0 ? '' : `programs ${programShift > 0 ? '+' : '−'}${Math.abs(programShift)}`,
    as ? `as ${AS_WORDS[as.kind]}${as.number === null ? '' : ` ${as.number}`}` : '',
    value.fixed !== null
      ? `always ${value.fixed}`
      : value.from !== 0 || value.to !== 127
        ? `${value.from > value.to ? 'inverted, ' : ''}values ${value.from} to ${value.to}`
        : '',
    value.fixed === null && value.curve !== 'linear' ? `${value.curve} curve` : '',
    channel.kind === 'force'
      ? `on channel ${channel.channel + 1}`
      : channel.kind === 'shift'
        ? `${Math.abs(channel.by)} channels ${channel.by > 0 ? 'up' : 'down'}`
        : '',
  ].filter((p) => p !== '');
  return parts.length === 0 ? 'as it is' : parts.join('; ');
}

const AS_WORDS = {
  note: 'note',
  controller: 'CC',
  program: 'program',
  'channel-pressure': 'channel pressure',
  'pitch-bend': 'pitch bend',
} as const;

export function gateWords(rig: FullRig, songs: readonly Song[], { gate }: Route): string {
  if (!gate) return 'always';
  const { by } = gate;
  switch (by.kind) {
    case 'controller':
      return `while CC ${by.controller} is ${by.from} to ${by.to}`;
    case 'function': {
      const device = rig.devices.find((d) => d.chart.some((f) => f.id === by.functionId));
      const fn = device?.chart.find((f) => f.id === by.functionId);
      return `while ${fn ? `${there(device).name} ${fn.name}` : 'a function that is gone'} is ${by.from} to ${by.to}`;
    }
    case 'scenes': {
      const names = songs.flatMap((s) => {
        const scenes = s.scenes.filter((x) => by.sceneIds.includes(x.id)).map((x) => x.name);
        return scenes.length > 0 ? [`${listed(scenes)} of ${s.name}`] : [];
      });
      // Songs outside the set in play need not be in the page.
      const here = new Set(songs.flatMap((s) => s.scenes.map((x) => x.id)));
      const others = by.sceneIds.filter((id) => !here.has(id)).length;
      if (others > 0) names.push(`${counted(others, 'scene')} of other songs`);
      return names.length === 0 ? 'in no scene' : `in ${names.join('; ')}`;
    }
    case 'switch':
      return 'while a switch has it open';
  }
}

export function toWords(rig: FullRig, { to }: Route): string {
  if (to.length === 0) return 'nowhere';
  return listed(
    to.map((t) => `${portName(rig, t.portId)}${t.channel === null ? '' : ` channel ${t.channel + 1}`}`),
  );
}
