import {
  parseTemplate,
  PLAIN_FUNCTION,
  takesValue,
  shapeMismatch,
  SOUND_LIMIT,
  valueBounds,
  valueLimit,
  type ChartFunction,
  type Drive,
  type FunctionShape,
} from '@idle-step/core/gear';
import { MAX_TRACK, parseWholeMessages, TRANSPORT } from '@idle-step/core/midi';
import { z } from 'zod';
import {
  ChannelNumber,
  ControllerNumber,
  DataByte,
  Id,
  measure,
  Name,
  NoteNumber,
  Remark,
  whole,
} from '../numbers';
import { keysOf, nth } from '@idle-step/core/sure';

const TRANSPORT_COMMANDS = keysOf(TRANSPORT);

const TemplateText = z
  .string()
  .max(2000, { error: 'The SysEx template is longer than 2000 characters.' })
  .superRefine((text, ctx) => {
    const template = parseTemplate(text);
    if (!template.ok) ctx.addIssue({ code: 'custom', message: template.error.sentence });
  });

export const DriveSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('controller'), controller: ControllerNumber }),
  z.object({ kind: z.literal('controller-14'), controller: whole('Coarse controller', 0, 31) }),
  z.object({
    kind: z.literal('parameter'),
    registered: z.boolean(),
    // 16383 means: none selected.
    parameter: whole('Parameter', 0, 16382),
    bits: z.union([z.literal(7), z.literal(14)], { error: 'A parameter has 7 or 14 bits.' }),
  }),
  z.object({ kind: z.literal('pitch-bend') }),
  z.object({ kind: z.literal('channel-pressure') }),
  z.object({ kind: z.literal('sysex'), template: TemplateText }),
  z.object({ kind: z.literal('note'), note: NoteNumber }),
  z.object({ kind: z.literal('program'), bank: whole('Bank', 0, 16383).nullable() }),
  z.object({ kind: z.literal('sound') }),
  z.object({ kind: z.literal('transport'), command: z.enum(TRANSPORT_COMMANDS) }),
  z.object({ kind: z.literal('record-ready'), track: whole('Track', 1, MAX_TRACK) }),
]) satisfies z.ZodType<Drive>;

/** 32 banks of 128. */
const SOUNDS_AT_MOST = 4096;

const ShownFrom = whole('Shown from', -16384, 16383);
/** What a drive can carry is checked with the whole row, since only some drives have 14 bits. */
const Sent = whole('Value', 0, 16383);
const Label = z.string().max(80, { error: 'A name of a value is longer than 80 characters.' });

/** What a device shows for the ends of a range, in a unit. */
const ShownEndsSchema = z
  .object({
    low: measure('Lowest shown', -1e6, 1e6, 'of its unit'),
    high: measure('Highest shown', -1e6, 1e6, 'of its unit'),
    unit: z.string().regex(/^[^\s\d]\S{0,7}$/, {
      error: 'A unit is one word of up to 8 characters, like dB, Hz, % or ms.',
    }),
    isLog: z.boolean(),
  })
  .superRefine(({ low, high, isLog }, ctx) => {
    const refuse = (message: string) => ctx.addIssue({ code: 'custom', path: ['high'], message });
    if (low === high) refuse('Both ends of the range show the same, so values cannot be told apart.');
    if (isLog && (low <= 0 || high <= 0)) refuse('A range by equal ratios has both ends above 0.');
  });

export const ShapeSchema = z
  .discriminatedUnion('kind', [
    z.object({ kind: z.literal('trigger'), sent: Sent }),
    z.object({ kind: z.literal('switch'), off: Sent, on: Sent }),
    z.object({
      kind: z.literal('range'),
      min: Sent,
      max: Sent,
      shownFrom: ShownFrom,
      ends: ShownEndsSchema.optional(),
    }),
    z.object({
      kind: z.literal('choice'),
      first: DataByte,
      shownFrom: ShownFrom,
      labels: z.array(Label).min(1, { error: 'A choice needs at least one value.' }).max(128),
      sent: z.array(Sent).min(1).max(128).optional(),
    }),
    z.object({
      kind: z.literal('program'),
      names: z.array(z.object({ program: whole('Program', 0, 127), name: Label })).max(128),
    }),
    z.object({
      kind: z.literal('sound'),
      names: z
        .array(z.object({ bank: whole('Bank', 0, 16383), program: whole('Program', 0, 127), name: Label }))
        .max(SOUNDS_AT_MOST, { error: `More than ${SOUNDS_AT_MOST} named sounds.` }),
    }),
  ])
  .superRefine((shape, ctx) => {
    if (shape.kind === 'switch' && shape.on === shape.off)
      ctx.addIssue({
        code: 'custom',
        path: ['on'],
        message: 'On and off send the same value, so off cannot be told from on.',
      });
    if (shape.kind === 'range' && shape.min > shape.max)
      ctx.addIssue({
        code: 'custom',
        path: ['max'],
        message: `The highest value ${shape.max} is below the lowest, ${shape.min}.`,
      });
    if (shape.kind === 'choice' && shape.first + shape.labels.length > 128)
      ctx.addIssue({
        code: 'custom',
        path: ['labels'],
        message: `${shape.labels.length} values from ${shape.first} on go beyond 127.`,
      });
    if (shape.kind === 'choice' && shape.sent) checkSent(shape.sent, shape, ctx);
  }) satisfies z.ZodType<FunctionShape>;

function checkSent(
  sent: readonly number[],
  { first, labels }: { readonly first: number; readonly labels: readonly string[] },
  ctx: z.RefinementCtx,
): void {
  const refuse = (message: string) => ctx.addIssue({ code: 'custom', path: ['sent'], message });
  if (sent.length !== labels.length)
    refuse(`There are ${sent.length} numbers to send for ${labels.length} names; one each would be right.`);
  else if (first !== 0) refuse(`Where each name has a number of its own, the first is 0 and not ${first}.`);
  else if (sent.some((n, i) => i > 0 && n <= nth(sent, i - 1)))
    refuse('The numbers that are sent have to rise from name to name.');
}

/** Whole messages as hexadecimal pairs, or empty. */
export const RequestText = z
  .string()
  .trim()
  .max(400, { error: 'The bytes that ask for the value are longer than 400 characters.' })
  .superRefine((text, ctx) => {
    const bytes = text === '' ? [] : parseWholeMessages(text);
    if (typeof bytes === 'string') ctx.addIssue({ code: 'custom', message: bytes });
  });

export const ChartFunctionSchema = z
  .object({
    id: Id,
    name: Name,
    group: z
      .string()
      .trim()
      .max(80, { error: 'The group is longer than 80 characters.' })
      .default(PLAIN_FUNCTION.group),
    drive: DriveSchema,
    shape: ShapeSchema,
    channel: ChannelNumber.nullable(),
    extraChannel: Name.nullable().default(null),
    under: Name.nullable().default(null),
    arms: Name.nullable(),
    powerOn: whole('Power-on value', 0, SOUND_LIMIT).nullable().default(null),
    settleMs: measure('Settle time', 0, 10_000, 'ms'),
    reserved: z.boolean().default(false),
    remark: Remark.default(PLAIN_FUNCTION.remark),
    request: RequestText.default(PLAIN_FUNCTION.request),
    input: z
      .string()
      .trim()
      .max(80, { error: 'The input is longer than 80 characters.' })
      .default(PLAIN_FUNCTION.input),
  })
  .superRefine(checkFunction) satisfies z.ZodType<ChartFunction>;

function checkFunction(fn: ChartFunction, ctx: z.RefinementCtx): void {
  const refuse = (path: string[], message: string) => ctx.addIssue({ code: 'custom', path, message });
  const mismatch = shapeMismatch(fn.drive, fn.shape);
  if (mismatch) return refuse(['shape'], `${fn.name}: ${mismatch}.`);
  const limit = valueLimit(fn.drive);
  const { shape } = fn;
  const sent =
    shape.kind === 'switch'
      ? [shape.off, shape.on]
      : shape.kind === 'trigger'
        ? [shape.sent]
        : shape.kind === 'choice'
          ? (shape.sent ?? [])
          : [];
  const highest = Math.max(...sent, shape.kind === 'program' ? 0 : valueBounds(shape).max);
  if (highest > limit)
    refuse(
      ['shape'],
      `${fn.name}: ${highest} is more than its message carries; up to ${limit} would be right.`,
    );
  if (fn.powerOn !== null && !takesValue(shape, fn.powerOn)) {
    const { min, max } = valueBounds(shape);
    refuse(
      ['powerOn'],
      `${fn.name}: the power-on value ${fn.powerOn} (as sent) is none it takes; ${min} to ${max} would be right.`,
    );
  }
}
