import { CURVES, PLAIN_TIMING, type Action, type Preset } from '@idle-step/core/floor';
import { parseBytes } from '@idle-step/core/midi';
import { z } from 'zod';
import { Id, measure, Name, RawByte, refuseDoubleIds, refuseDoubles, whole } from './numbers';

const FunctionValue = whole('Value', 0, 16383);

/** What every action has beside its kind. */
const head = {
  id: Id,
  delay: z
    .object({ amount: measure('Delay', 0, 60_000, 'ms or beats'), unit: z.enum(['ms', 'beats']) })
    .optional(),
  isOff: z.boolean().optional(),
};

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
    direction: z.enum(['forward', 'back']),
    atEnd: z.enum(['round', 'stop']),
  }),
  z.object({
    ...head,
    kind: z.literal('raw'),
    portId: Id,
    bytes: z.array(RawByte).max(4096).superRefine(checkRaw),
  }),
  z.object({
    ...head,
    kind: z.literal('bank'),
    to: z.discriminatedUnion('kind', [
      z.object({ kind: z.literal('up') }),
      z.object({ kind: z.literal('down') }),
      z.object({ kind: z.literal('bank'), bankId: Id }),
    ]),
  }),
  z.object({
    ...head,
    kind: z.literal('scene'),
    to: z.discriminatedUnion('kind', [
      z.object({ kind: z.literal('next') }),
      z.object({ kind: z.literal('previous') }),
      z.object({ kind: z.literal('at'), index: whole('Scene', 0, 199) }),
    ]),
  }),
  z.object({ ...head, kind: z.literal('song'), to: z.enum(['next', 'previous']) }),
  z.object({ ...head, kind: z.literal('tap') }),
  z.object({ ...head, kind: z.literal('panic') }),
]) satisfies z.ZodType<Action>;

export const ActionListSchema = z.array(ActionSchema).max(64);

export const SweepListSchema = z
  .array(
    z.object({
      id: Id,
      functionId: Id,
      from: FunctionValue,
      to: FunctionValue,
      invert: z.boolean(),
      curve: z.enum(CURVES),
    }),
  )
  .max(16);

/** How long a foot has to stay down for a hold, and how soon the second press of a double has to come. */
export const HoldMs = whole('Hold', 100, 10_000, ' ms');
export const DoubleMs = whole('Double press', 100, 2000, ' ms');

export const TimingSchema = z.object({
  holdMs: HoldMs,
  doubleMs: DoubleMs,
  holdCancelsPress: z.boolean(),
});

export const AssignmentSchema = z.object({
  controlId: Id,
  label: z.string().trim().max(40, { error: 'The label is longer than 40 characters.' }),
  press: ActionListSchema,
  release: ActionListSchema,
  hold: ActionListSchema.default([]),
  doublePress: ActionListSchema.default([]),
  timing: TimingSchema.default(PLAIN_TIMING),
  sweeps: SweepListSchema,
});

export const PresetSchema = z
  .object({
    id: Id,
    rigId: Id,
    boardId: Id,
    name: Name,
    banks: z
      .array(z.object({ id: Id, name: Name, assignments: z.array(AssignmentSchema).max(512) }))
      .min(1, { error: 'A preset needs at least one bank.' })
      .max(128),
  })
  .superRefine((preset, ctx) => {
    refuseDoubleIds(preset, ctx);
    preset.banks.forEach((bank, b) =>
      refuseDoubles(
        bank.assignments,
        (a) => a.controlId,
        () => `${bank.name} has two assignments for the same control.`,
        (i, message) =>
          ctx.addIssue({ code: 'custom', path: ['banks', b, 'assignments', i, 'controlId'], message }),
      ),
    );
  }) satisfies z.ZodType<Preset>;

export type PresetDoc = z.infer<typeof PresetSchema>;
export type BankDoc = PresetDoc['banks'][number];
export type AssignmentDoc = z.infer<typeof AssignmentSchema>;
export type ActionDoc = z.infer<typeof ActionSchema>;
export type SweepDoc = z.infer<typeof SweepListSchema>[number];

function checkRaw(bytes: readonly number[], ctx: z.RefinementCtx): void {
  const { faults } = parseBytes(bytes);
  const fault = faults[0];
  if (fault)
    ctx.addIssue({
      code: 'custom',
      message: `These bytes are not whole messages: ${fault.code.replace('-', ' ')} at byte ${fault.offset + 1}.`,
    });
}
