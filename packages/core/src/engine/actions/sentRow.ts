import type { World } from '../world/world';
import {
  functionChannel,
  isInForce,
  keepsNumber,
  sentValue,
  takesValue,
  valueBounds,
  type ChartFunction,
  type Device,
  type Drive,
} from '../../gear';

/** What is odd about a message. */
export type SentCode = 'double' | 'reserved' | 'off-by-one' | 'gone' | 'beyond-board' | 'lamp-turned-round';

/** One thing that is odd, before it is known at which control it stands. */
export type OddWord = { readonly code: SentCode; readonly sentence: string };

/** What an action sends, as a row of all that a preset sends. */
export type SentRow = {
  /** What it does, in words. */
  readonly does: string;
  /** What is sent, in words: `CC 22`, `note 36`, `parameter 12`. Empty when nothing can be. */
  readonly message: string;
  /** 0–15, `null` for what has no channel. */
  readonly channel: number | null;
  readonly number: number | null;
  /** As sent; `null` for what goes through many values. */
  readonly value: number | null;
  readonly deviceName: string;
  readonly marks: readonly OddWord[];
};

export type SentFunction = { readonly device: Device; readonly fn: ChartFunction };

/** What of a rig and a preset tells what is sent. */
export type SentKnown = {
  readonly functions: ReadonlyMap<string, SentFunction>;
  readonly devices: ReadonlyMap<string, Device>;
  readonly pages: ReadonlySet<string>;
  readonly groups: ReadonlySet<string>;
  /** Scenes of the song with the most of them, `null` when there are no songs to tell. */
  readonly scenesAtMost: number | null;
};

/** What a world knows, for the rows of single actions. */
export const knownIn = (world: World): SentKnown => ({
  functions: world.functions,
  devices: new Map([...world.ways].map(([id, { device }]) => [id, device])),
  pages: new Set(world.pageNames.keys()),
  groups: new Set(world.boards.flatMap((b) => b.groups.map((g) => g.group.id))),
  scenesAtMost:
    world.songs.length === 0 ? null : Math.max(...world.songs.map(({ song }) => song.scenes.length)),
});

/** The row of what sends no message of its own. @param sentence what it points at and is gone, or `null`. */
export const noMessage = (does: string, sentence: string | null = null): SentRow => ({
  does,
  message: '',
  channel: null,
  number: null,
  value: null,
  deviceName: '',
  marks: sentence === null ? [] : [{ code: 'gone', sentence }],
});

/** The row of what moves a function. @param value as sent is reckoned from it; `null` for many values. */
export function functionRow(found: SentFunction | undefined, value: number | null, does: string): SentRow {
  if (!found) return noMessage(does, 'The function that this moves is gone from its chart.');
  const { device, fn } = found;
  const { message, number } = driveWords(fn.drive);
  const marks: OddWord[] = [];
  const isKept = fn.drive.kind === 'controller' && keepsNumber(device, fn.drive.controller);
  if (fn.reserved || isKept)
    marks.push({
      code: 'reserved',
      sentence: `${device.name} keeps ${message} for its own hardware, so nothing will happen.`,
    });
  else if (!isInForce(device, fn))
    marks.push({
      code: 'gone',
      sentence: `${device.name} does not have ${fn.name} under its setting as it is now.`,
    });
  if (value !== null && !takesValue(fn.shape, value)) marks.push(beyond(found, value));
  const sent = value === null || fn.drive.kind === 'transport' ? null : sentValue(fn.shape, value);
  return {
    does,
    message,
    number,
    channel: functionChannel(device, fn),
    value: sent,
    deviceName: device.name,
    marks,
  };
}

/** A value that no choice has: one too many when the person typed what the device shows. */
export function beyond({ device, fn }: SentFunction, value: number): OddWord {
  const { min, max } = valueBounds(fn.shape);
  const isNear = value === max + 1 || value === min - 1;
  return {
    code: isNear ? 'off-by-one' : 'gone',
    sentence: isNear
      ? `${device.name} ${fn.name} has no value ${value} as sent; it goes from ${min} to ${max}. What is shown is one more than what is sent.`
      : `${device.name} ${fn.name} does not take ${value} as sent; it goes from ${min} to ${max}.`,
  };
}

function driveWords(drive: Drive): { message: string; number: number | null } {
  switch (drive.kind) {
    case 'controller':
      return { message: `CC ${drive.controller}`, number: drive.controller };
    case 'controller-14':
      return { message: `CC ${drive.controller} and ${drive.controller + 32}`, number: drive.controller };
    case 'note':
      return { message: `note ${drive.note}`, number: drive.note };
    case 'program':
      return { message: 'program', number: null };
    case 'sound':
      return { message: 'bank and program', number: null };
    case 'parameter':
      return { message: `parameter ${drive.parameter}`, number: drive.parameter };
    case 'pitch-bend':
      return { message: 'pitch bend', number: null };
    case 'channel-pressure':
      return { message: 'pressure', number: null };
    case 'sysex':
      return { message: 'SysEx', number: null };
    case 'transport':
      return { message: `machine control ${drive.command}`, number: null };
    case 'record-ready':
      return { message: `machine control ready ${drive.track}`, number: null };
  }
}
