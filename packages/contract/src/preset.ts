import {
  actionsOf,
  CONTROL_KINDS,
  CURVES,
  HERE_THINGS,
  PLAIN_CURVES,
  LIGHTS,
  PLAIN_RESPONSE,
  PLAIN_TIMING,
  TAKEOVERS,
  turnsPages,
  type Action,
  type LampRule,
  type Preset,
} from '@idle-step/core/floor';
import { SOUND_LIMIT, TAPE_COLOURS } from '@idle-step/core/gear';
import { parseBytes } from '@idle-step/core/midi';
import { z } from 'zod';
import {
  ChannelNumber,
  ControllerNumber,
  DataByte,
  Id,
  measure,
  Name,
  RawByte,
  refuseDoubleIds,
  refuseDoubles,
  Remark,
  whole,
} from './numbers';
import { nth } from '@idle-step/core/sure';

const FunctionValue = whole('Value', 0, SOUND_LIMIT);

/** What every action has beside its kind. */
const head = {
  id: Id,
  delay: z
    .object({ amount: measure('Delay', 0, 60_000, 'ms or beats'), unit: z.enum(['ms', 'beats']) })
    .optional(),
  isOff: z.boolean().optional(),
  /** Of gestures that alternate: which of them it is done by. */
  every: z.enum(['odd', 'even']).optional(),
};

const BankTargetSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('up') }),
  z.object({ kind: z.literal('down') }),
  z.object({ kind: z.literal('bank'), bankId: Id }),
]);

export const ShowTargetSchema = z.enum(['begin', 'end', 'next', 'previous', 'encore']);

/** Something that this computer does, switched on, off or over. */
export const HereSchema = z.object({ thing: z.enum(HERE_THINGS), to: z.enum(['on', 'off', 'toggle']) });

/** Curves that need no points of one's own. */
const PlainCurve = z.enum(PLAIN_CURVES);

export const RampAmount = measure('Ramp', 0, 600, 's or beats');
/** A note's velocity, a controller's value. */
export const PlainValue = whole('Value', 0, 127);
export const PlainNumber = whole('Number', 0, 127);

/** A song of the running order, whatever set it is: beside the one in play, or by its place. */
export const SongTargetSchema = z.union([
  z.enum(['next', 'previous', 'again']),
  z.object({ index: whole('Song', 0, 999) }),
]);

export const ActionSchema = z.discriminatedUnion('kind', [
  z.object({ ...head, kind: z.literal('set'), functionId: Id, value: FunctionValue }),
  z.object({ ...head, kind: z.literal('toggle'), functionId: Id }),
  z.object({ ...head, kind: z.literal('arm-only'), functionId: Id }),
  z.object({
    ...head,
    kind: z.literal('momentary'),
    functionId: Id,
    down: FunctionValue,
    up: FunctionValue,
  }),
  z.object({
    ...head,
    kind: z.literal('step'),
    functionId: Id,
    values: z
      .array(FunctionValue)
      .min(1, { error: 'A list of values to step through needs at least one.' })
      .max(128),
    direction: z.enum(['forward', 'back', 'reset']),
    atEnd: z.enum(['round', 'stop']),
  }),
  z.object({
    ...head,
    kind: z.literal('route'),
    routeId: Id,
    part: z.enum(['route', 'gate']),
    to: z.enum(['on', 'off', 'toggle']),
  }),
  z.object({ ...head, kind: z.literal('arm-step'), deviceId: Id, to: z.enum(['next', 'previous']) }),
  z.object({ ...head, kind: z.literal('one-of'), functionId: Id, circle: Name }),
  z.object({
    ...head,
    kind: z.literal('ramp'),
    functionId: Id,
    from: FunctionValue.nullable(),
    to: FunctionValue,
    time: z.object({ amount: RampAmount, unit: z.enum(['s', 'beats']) }),
    curve: PlainCurve,
  }),
  z.object({
    ...head,
    kind: z.literal('message'),
    deviceId: Id,
    channel: ChannelNumber.nullable(),
    send: z.enum(['note', 'controller', 'program']),
    number: PlainNumber,
    value: PlainValue,
  }),
  z.object({ ...head, kind: z.literal('clock'), portId: Id, to: z.enum(['start', 'continue', 'stop']) }),
  z.object({ ...head, kind: z.literal('page'), groupId: Id, to: BankTargetSchema }),
  z.object({
    ...head,
    kind: z.literal('raw'),
    portId: Id,
    bytes: z.array(RawByte).max(4096).superRefine(checkRaw),
  }),
  z.object({
    ...head,
    kind: z.literal('bank'),
    to: BankTargetSchema,
  }),
  z.object({
    ...head,
    kind: z.literal('scene'),
    to: z.discriminatedUnion('kind', [
      z.object({ kind: z.literal('next') }),
      z.object({ kind: z.literal('previous') }),
      z.object({ kind: z.literal('at'), index: whole('Scene', 0, 199) }),
      z.object({ kind: z.literal('is'), sceneId: Id }),
      z.object({ kind: z.literal('again') }),
    ]),
  }),
  z.object({ ...head, kind: z.literal('song'), to: SongTargetSchema }),
  z.object({ ...head, kind: z.literal('show'), to: ShowTargetSchema }),
  z.object({ ...head, kind: z.literal('here'), ...HereSchema.shape }),
  z.object({ ...head, kind: z.literal('view'), to: z.enum(['next', 'previous']) }),
  z.object({ ...head, kind: z.literal('capture') }),
  z.object({ ...head, kind: z.literal('line'), to: z.enum(['start', 'continue', 'stop', 'toggle']) }),
  z.object({
    ...head,
    kind: z.literal('cue'),
    to: z.discriminatedUnion('kind', [
      z.object({ kind: z.literal('next') }),
      z.object({ kind: z.literal('previous') }),
      z.object({ kind: z.literal('at'), index: whole('Cue', 0, 499) }),
    ]),
  }),
  z.object({ ...head, kind: z.literal('loop'), to: z.enum(['on', 'off', 'toggle']) }),
  z.object({ ...head, kind: z.literal('tap') }),
  z.object({ ...head, kind: z.literal('song-tempo') }),
  z.object({ ...head, kind: z.literal('panic') }),
]) satisfies z.ZodType<Action>;

export const ActionListSchema = z.array(ActionSchema).max(64);

const sweepShape = {
  from: FunctionValue,
  to: FunctionValue,
  invert: z.boolean(),
  curve: z.enum(CURVES),
  points: z
    .array(
      z.object({ x: measure('Point', 0, 1, 'of the travel'), y: measure('Point', 0, 1, 'of the range') }),
    )
    .max(16)
    .superRefine((points, ctx) => {
      points.forEach((point, i) => {
        if (i > 0 && point.x <= nth(points, i - 1).x)
          ctx.addIssue({
            code: 'custom',
            path: [i, 'x'],
            message: 'The points of a curve go from heel to toe; this one lies before the one before it.',
          });
      });
    })
    .default([]),
};

export const SweepListSchema = z
  .array(
    z.union([
      z.object({ id: Id, functionId: Id, ...sweepShape }),
      z.object({
        id: Id,
        functionId: z.null(),
        deviceId: Id,
        channel: ChannelNumber.nullable(),
        controller: ControllerNumber,
        ...sweepShape,
        from: PlainValue,
        to: PlainValue,
      }),
    ]),
  )
  .max(16);

/** What the lamp of a control follows, or nothing of its own. */
export const LampRuleSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('work') }),
  z.object({ kind: z.literal('switch') }),
  z.object({
    kind: z.literal('function'),
    functionId: Id,
    stops: z
      .array(
        z.object({
          from: FunctionValue,
          light: z.enum(LIGHTS),
          colour: z.enum(TAPE_COLOURS).nullable(),
          sends: DataByte.nullable(),
        }),
      )
      .min(1, { error: 'A lamp that follows a function needs at least one value that it shows.' })
      .max(32),
  }),
]) satisfies z.ZodType<LampRule>;

export const StepSize = whole('Step', 1, 127);
export const TurnSpeed = whole('Fast from', 1, 500, ' detents a second');
export const EndShare = whole('End', 0, 100, ' %');

export const ResponseSchema = z
  .object({
    takeover: z.enum(TAKEOVERS),
    slowStep: StepSize,
    fastStep: StepSize,
    fastPerS: TurnSpeed,
    growth: PlainCurve,
    reverse: z.boolean(),
    wrap: z.boolean(),
    toeAt: whole('Toe', 51, 100, ' %'),
    heelAt: whole('Heel', 0, 49, ' %'),
    hysteresis: whole('Hysteresis', 1, 40, ' %'),
  })
  .default(PLAIN_RESPONSE);

/** How long a foot has to stay down for a hold, and how soon the second press of a double has to come. */
export const HoldMs = whole('Hold', 100, 10_000, ' ms');
export const DoubleMs = whole('Double press', 100, 2000, ' ms');

export const TimingSchema = z.object({
  holdMs: HoldMs,
  doubleMs: DoubleMs,
  holdCancelsPress: z.boolean(),
});

/** How a strike and what follows it are sent. */
const TouchSchema = z.object({
  velocity: z.enum(['played', 'fixed']),
  fixed: whole('Velocity', 1, 127),
  curve: PlainCurve,
  pressure: z.enum(['off', 'controller', 'channel', 'poly']),
  controller: whole('Controller', 0, 127),
});

export const AssignmentSchema = z.object({
  controlId: Id,
  label: z.string().trim().max(40, { error: 'The label is longer than 40 characters.' }),
  colour: z.enum(TAPE_COLOURS).nullable().default(null),
  remark: Remark.default(''),
  press: ActionListSchema,
  release: ActionListSchema,
  hold: ActionListSchema.default([]),
  doublePress: ActionListSchema.default([]),
  timing: TimingSchema.default(PLAIN_TIMING),
  sweeps: SweepListSchema,
  toe: ActionListSchema.default([]),
  heel: ActionListSchema.default([]),
  response: ResponseSchema,
  touch: TouchSchema.nullable().default(null),
  lamp: LampRuleSchema.nullable().default(null),
});

export const BankSchema = z.object({
  id: Id,
  name: Name,
  colour: z.enum(TAPE_COLOURS).nullable().default(null),
  remark: Remark.default(''),
  assignments: z.array(AssignmentSchema).max(512),
});

export const FeelSchema = z.object({
  kind: z.enum(CONTROL_KINDS),
  ...TouchSchema.shape,
  lamp: LampRuleSchema.nullable(),
  /** Where it is missing pads and keys feel how hard they are pressed, and nothing else does. */
  isFelt: z.boolean().optional(),
});

/** The folder of a preset; empty for none. */
export const Folder = z
  .string()
  .trim()
  .max(80, { error: 'The name of the folder is longer than 80 characters.' });

export const PresetSchema = z
  .object({
    id: Id,
    rigId: Id,
    boardId: Id,
    name: Name,
    folder: Folder.default(''),
    banks: z.array(BankSchema).min(1, { error: 'A preset needs at least one bank.' }).max(128),
    groups: z
      .array(
        z.object({
          id: Id,
          name: Name,
          controlIds: z.array(Id).max(512),
          pages: z.array(BankSchema).min(1, { error: 'A group needs at least one page.' }).max(32),
        }),
      )
      .max(16)
      .default([]),
    feel: z.array(FeelSchema).max(CONTROL_KINDS.length).default([]),
  })
  .superRefine(checkPreset) satisfies z.ZodType<Preset>;

function checkPreset(preset: Preset, ctx: z.RefinementCtx): void {
  const refuse = (path: (string | number)[], message: string) =>
    ctx.addIssue({ code: 'custom', path, message });
  refuseDoubleIds(preset, ctx);
  const places = [
    ...preset.banks.map((bank, b) => ({ bank, at: ['banks', b] })),
    ...preset.groups.flatMap((g, i) => g.pages.map((bank, p) => ({ bank, at: ['groups', i, 'pages', p] }))),
  ];
  for (const { bank, at } of places) {
    refuseDoubles(
      bank.assignments,
      (a) => a.controlId,
      () => `${bank.name} has two assignments for the same control.`,
      (i, message) => refuse([...at, 'assignments', i, 'controlId'], message),
    );
    bank.assignments.forEach((a, i) => {
      if (turnsPages(a) && (a.sweeps.length > 0 || actionsOf(a).some((x) => x.kind !== 'page')))
        refuse(
          [...at, 'assignments', i],
          `${bank.name}: a control either turns pages or sends; take one of the two away.`,
        );
    });
  }
  refuseDoubles(
    preset.groups.flatMap((g, i) => g.controlIds.map((id) => ({ id, i }))),
    ({ id }) => id,
    () => 'A control can have the pages of one group only.',
    (k, message) => {
      const owner = nth(
        preset.groups.flatMap((g, i) => g.controlIds.map(() => i)),
        k,
      );
      refuse(['groups', owner, 'controlIds'], message);
    },
  );
  refuseDoubles(
    preset.feel,
    (f) => f.kind,
    (f) => `How a ${f.kind} feels is said twice.`,
    (i, message) => refuse(['feel', i, 'kind'], message),
  );
  const grouped = new Set(preset.groups.flatMap((g) => g.controlIds));
  preset.banks.forEach((bank, b) =>
    bank.assignments.forEach((a, i) => {
      if (grouped.has(a.controlId))
        refuse(
          ['banks', b, 'assignments', i],
          `${bank.name}: this control has pages of its own; what it does is said there.`,
        );
    }),
  );
}

function checkRaw(bytes: readonly number[], ctx: z.RefinementCtx): void {
  const { faults } = parseBytes(bytes);
  const fault = faults[0];
  if (fault)
    ctx.addIssue({
      code: 'custom',
      message: `These bytes are not whole messages: ${fault.code.replace('-', ' ')} at byte ${fault.offset + 1}.`,
    });
}
