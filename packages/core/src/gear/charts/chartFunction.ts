import type { ShownEnds } from './shownEnds';
import type { TransportCommand } from '../../midi';
import { parseTemplate } from './sysexTemplate';

/**
 * The message that drives a function.
 *
 * Controllers and notes 0–127; coarse halves of 14-bit pairs 0–31; tracks from 1; `bank` 0–16383 or none;
 * parameters 0–16382. A SysEx template is written as `sysexTemplate.ts` says.
 */
export type Drive =
  | { readonly kind: 'controller'; readonly controller: number }
  | { readonly kind: 'controller-14'; readonly controller: number }
  | { readonly kind: 'note'; readonly note: number }
  | { readonly kind: 'program'; readonly bank: number | null }
  /** Bank and program as one value. */
  | { readonly kind: 'sound' }
  | {
      readonly kind: 'parameter';
      readonly registered: boolean;
      readonly parameter: number;
      readonly bits: 7 | 14;
    }
  | { readonly kind: 'pitch-bend' }
  | { readonly kind: 'channel-pressure' }
  | { readonly kind: 'sysex'; readonly template: string }
  | { readonly kind: 'transport'; readonly command: TransportCommand }
  | { readonly kind: 'record-ready'; readonly track: number };

/**
 * What values a function takes.
 *
 * A value is what is sent (0–127, or 0–16383 where the drive has 14 bits), except for a switch, where it is 0 (off)
 * or 1 (on), for a trigger, which has none and is always 0, for a sound, where it is bank × 128 + program, and for a
 * choice with `sent`. `shownFrom` is the number people see for the first choice, or for a range's lowest.
 */
export type FunctionShape =
  | { readonly kind: 'trigger'; readonly sent: number }
  | { readonly kind: 'switch'; readonly off: number; readonly on: number }
  | {
      readonly kind: 'range';
      readonly min: number;
      readonly max: number;
      readonly shownFrom: number;
      /** What is shown for its ends where the device shows a unit; `shownFrom` is of no account then. */
      readonly ends?: ShownEnds | undefined;
    }
  | {
      readonly kind: 'choice';
      readonly first: number;
      readonly shownFrom: number;
      readonly labels: readonly string[];
      /**
       * What each label sends, where the numbers do not follow each other (0, 64, 127): rising, one a label, and values
       * are then the places of the labels, from `first` = 0.
       */
      readonly sent?: readonly number[] | undefined;
    }
  | { readonly kind: 'program'; readonly names: readonly ProgramName[] }
  | { readonly kind: 'sound'; readonly names: readonly SoundName[] };

export type FunctionKind = FunctionShape['kind'];

/** `program` 0–127 as sent. */
export type ProgramName = { readonly program: number; readonly name: string };

/** `bank` 0–16383 and `program` 0–127 as sent. */
export type SoundName = { readonly bank: number; readonly program: number; readonly name: string };

/** The highest value of a sound: bank 16383, program 127. */
export const SOUND_LIMIT = (16383 << 7) | 127;

/** One row of a device's implementation chart. */
export type ChartFunction = {
  readonly id: string;
  readonly name: string;
  /** Rows that belong together, or empty. */
  readonly group: string;
  readonly drive: Drive;
  readonly shape: FunctionShape;
  /** 0–15 where this function does not listen on the device's own channel, else `null`. */
  readonly channel: number | null;
  /** Name of the device's extra channel that this function listens on, else `null`; wins over `channel`. */
  readonly extraChannel: string | null;
  /** Option of the device's setting under which this row holds, `null` when it always does. */
  readonly under: string | null;
  /** Name of the track that this switch arms, or `null` for every other function. */
  readonly arms: string | null;
  /** Its value after the device was switched on, `null` when it is not known. */
  readonly powerOn: number | null;
  /** How long the device is deaf after this function was driven, in ms (0 and above). */
  readonly settleMs: number;
  /** The device keeps this message for its own hardware: nothing may be assigned to it. */
  readonly reserved: boolean;
  readonly remark: string;
  /** The bytes that ask the device for its value, as hexadecimal pairs; empty where it cannot be asked. */
  readonly request: string;
  /** The input that the track it arms listens to, as the host calls it; empty where it is not said. */
  readonly input: string;
};

/** What a new row is like where nothing else was said. */
export const PLAIN_FUNCTION = {
  group: '',
  channel: null,
  extraChannel: null,
  under: null,
  arms: null,
  powerOn: null,
  settleMs: 0,
  reserved: false,
  remark: '',
  request: '',
  input: '',
} as const satisfies Partial<ChartFunction>;

/** Highest number that a drive can carry: 127, 16383 with 14 bits, or `SOUND_LIMIT`. */
export function valueLimit(drive: Drive): number {
  switch (drive.kind) {
    case 'sound':
      return SOUND_LIMIT;
    case 'controller-14':
    case 'pitch-bend':
      return 16383;
    case 'parameter':
      return drive.bits === 14 ? 16383 : 127;
    case 'sysex': {
      const template = parseTemplate(drive.template);
      return template.ok && template.value.some((p) => p.kind === 'value' && p.half === 'high') ? 16383 : 127;
    }
    default:
      return 127;
  }
}

/** Whether driving a function loads a program, which moves the other functions of its device. */
export const loadsProgram = ({ drive }: Pick<ChartFunction, 'drive'>): boolean =>
  drive.kind === 'program' || drive.kind === 'sound';

/** The kinds of function that a message can drive, the likeliest first. */
export function kindsFor(drive: Drive): readonly FunctionKind[] {
  switch (drive.kind) {
    case 'controller':
    case 'parameter':
      return ['range', 'switch', 'choice', 'trigger'];
    case 'note':
      return ['trigger', 'switch', 'range'];
    case 'controller-14':
    case 'pitch-bend':
    case 'channel-pressure':
      return ['range'];
    case 'program':
      return ['program'];
    case 'sound':
      return ['sound'];
    case 'transport':
      return ['trigger'];
    case 'record-ready':
      return ['switch'];
    case 'sysex': {
      const template = parseTemplate(drive.template);
      const takesValue = template.ok && template.value.some((p) => p.kind === 'value');
      return takesValue ? ['range', 'switch', 'choice', 'trigger'] : ['trigger'];
    }
  }
}

/** Why a drive and a shape do not go together, or `null` when they do. */
export function shapeMismatch(drive: Drive, shape: FunctionShape): string | null {
  const kinds = kindsFor(drive);
  if (kinds.includes(shape.kind)) return null;
  return `${DRIVE_WORDS[drive.kind]} drives a function of the kind ${kinds.join(', ')}, not ${shape.kind}`;
}

const DRIVE_WORDS: Record<Drive['kind'], string> = {
  controller: 'a controller',
  'controller-14': 'a 14-bit controller',
  note: 'a note',
  program: 'a program change',
  sound: 'a sound (bank and program)',
  parameter: 'a parameter number',
  'pitch-bend': 'pitch bend',
  'channel-pressure': 'channel pressure',
  sysex: 'this SysEx template',
  transport: 'a machine transport command',
  'record-ready': 'machine record-ready',
};
