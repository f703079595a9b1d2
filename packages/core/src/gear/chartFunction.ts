import type { TransportCommand } from '../midi';

/** The message that drives a function. Controllers and notes 0–127, tracks from 1, `bank` 0–16383 or none. */
export type Drive =
  | { readonly kind: 'controller'; readonly controller: number }
  | { readonly kind: 'note'; readonly note: number }
  | { readonly kind: 'program'; readonly bank: number | null }
  | { readonly kind: 'transport'; readonly command: TransportCommand }
  | { readonly kind: 'record-ready'; readonly track: number };

/**
 * What values a function takes.
 *
 * A value is what is sent (0–127), except for a switch, where it is 0 (off) or 1 (on), and for a trigger, which
 * has none and is always 0. `shownFrom` is the number people see for the first choice, or for a range's lowest.
 */
export type FunctionShape =
  | { readonly kind: 'trigger'; readonly sent: number }
  | { readonly kind: 'switch'; readonly off: number; readonly on: number }
  | { readonly kind: 'range'; readonly min: number; readonly max: number; readonly shownFrom: number }
  | {
      readonly kind: 'choice';
      readonly first: number;
      readonly shownFrom: number;
      readonly labels: readonly string[];
    }
  | { readonly kind: 'program'; readonly names: readonly ProgramName[] };

export type FunctionKind = FunctionShape['kind'];

/** `program` 0–127 as sent. */
export type ProgramName = { readonly program: number; readonly name: string };

/** One row of a device's implementation chart. */
export type ChartFunction = {
  readonly id: string;
  readonly name: string;
  readonly drive: Drive;
  readonly shape: FunctionShape;
  /** 0–15 where this function does not listen on the device's own channel, else `null`. */
  readonly channel: number | null;
  /** Name of the track that this switch arms, or `null` for every other function. */
  readonly arms: string | null;
  /** How long the device is deaf after this function was driven, in ms (0 and above). */
  readonly settleMs: number;
};

/** Why a drive and a shape do not go together, or `null` when they do. */
export function shapeMismatch(drive: Drive, shape: FunctionShape): string | null {
  const allowed: Record<Drive['kind'], readonly FunctionKind[]> = {
    controller: ['trigger', 'switch', 'range', 'choice'],
    note: ['trigger', 'switch'],
    program: ['program'],
    transport: ['trigger'],
    'record-ready': ['switch'],
  };
  const kinds = allowed[drive.kind];
  if (kinds.includes(shape.kind)) return null;
  return `a ${drive.kind.replace('-', ' ')} message drives a function of the kind ${kinds.join(', ')}, not ${shape.kind}`;
}
