import {
  ACTION_LISTS,
  BANK_FOLLOWS,
  CONTROL_KINDS,
  CONTROL_MESSAGES,
  PLAIN_BOARD,
  PLAIN_HARDWARE,
  RELATIVE_ENCODINGS,
  SENT_KINDS,
  type Board,
  type Hardware,
} from '@idle-step/core/floor';
import { TAPE_COLOURS } from '@idle-step/core/gear';
import { z } from 'zod';
import { ChannelNumber, DataByte, Id, measure, Name, whole } from '../numbers';
import { isOneOf, keysOf } from '@idle-step/core/sure';

export const DebounceMs = whole('Debounce', 0, 50, ' ms');
export const DeadZone = whole('Dead zone', 0, 20, ' %');
export const Jitter = whole('Jitter', 0, 16, ' steps');
const Position = measure('Position', 0, 127, 'of 127');

export const HardwareSchema = z.object({
  switching: z.enum(['momentary', 'latching']),
  edge: z.enum(['both', 'down', 'up']),
  debounceMs: DebounceMs,
  heel: Position,
  toe: Position,
  deadZone: DeadZone,
  jitter: Jitter,
  encoding: z.enum(['absolute', ...RELATIVE_ENCODINGS]),
  lamp: z
    .object({
      off: DataByte,
      on: DataByte,
      blink: DataByte.nullable(),
      colours: z.partialRecord(z.enum(TAPE_COLOURS), DataByte).optional(),
    })
    .nullable(),
}) satisfies z.ZodType<Hardware>;

const HIGHEST_NUMBER = { 'controller-14': 31, rpn: 16382, nrpn: 16382 } as const;

export const ControlMessageSchema = z
  .object({ kind: z.enum(CONTROL_MESSAGES), number: whole('Number', 0, 16382) })
  .superRefine(({ kind, number }, ctx) => {
    const highest = isOneOf(keysOf(HIGHEST_NUMBER), kind) ? HIGHEST_NUMBER[kind] : 127;
    if (number > highest)
      ctx.addIssue({
        code: 'custom',
        path: ['number'],
        message: `Number ${number} is out of range; 0 to ${highest} would be right.`,
      });
  });

export const Millimetres = measure('Place', 0, 10_000, 'mm');
export const SizeMm = measure('Size', 1, 10_000, 'mm');

export const ControlSchema = z.object({
  id: Id,
  name: Name,
  kind: z.enum(CONTROL_KINDS),
  xMm: Millimetres,
  yMm: Millimetres,
  widthMm: measure('Width', 1, 10_000, 'mm'),
  heightMm: measure('Height', 1, 10_000, 'mm'),
  sends: ControlMessageSchema,
  channel: ChannelNumber.nullable().default(null),
  hardware: HardwareSchema.default(PLAIN_HARDWARE),
});

export const BoardLimitsSchema = z.object({
  banks: whole('Banks', 1, 128).nullable(),
  actions: whole('Actions', 1, 64).nullable(),
  gestures: z.array(z.enum(ACTION_LISTS)).max(ACTION_LISTS.length),
  messages: z.array(z.enum(SENT_KINDS)).max(SENT_KINDS.length),
});

export const BoardSchema = z.object({
  id: Id,
  deviceId: Id,
  presetId: Id.nullable(),
  widthMm: measure('Width', 1, 10_000, 'mm'),
  heightMm: measure('Height', 1, 10_000, 'mm'),
  xMm: measure('Place', 0, 100_000, 'mm'),
  yMm: measure('Place', 0, 100_000, 'mm'),
  mode: z.enum(['hosted', 'standalone']).default(PLAIN_BOARD.mode),
  isOnScreen: z.boolean().default(PLAIN_BOARD.isOnScreen),
  bankFollows: z.enum(BANK_FOLLOWS).default(PLAIN_BOARD.bankFollows),
  can: BoardLimitsSchema.default({
    ...PLAIN_BOARD.can,
    gestures: [...PLAIN_BOARD.can.gestures],
    messages: [...PLAIN_BOARD.can.messages],
  }),
  receiveSteps: z
    .array(
      z
        .string()
        .min(1, { error: 'A step says what is done.' })
        .max(200, { error: 'A step has at most 200 letters.' }),
    )
    .max(20, { error: 'At most 20 steps lead there.' })
    .default([]),
  controls: z.array(ControlSchema).max(512),
}) satisfies z.ZodType<Board>;
