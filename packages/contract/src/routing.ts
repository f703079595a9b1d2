import { PLAIN_CURVES } from '@idle-step/core/floor';
import { SOUND_LIMIT } from '@idle-step/core/gear';
import {
  CHANGED_KINDS,
  NUMBERED_KINDS,
  ROUTE_KINDS,
  type Gate,
  type Modulation,
  type Route,
  type RouteChange,
  type RouteFrom,
  type Routing,
} from '@idle-step/core/routing';
import { z } from 'zod';
import {
  ChannelNumber,
  ControllerNumber,
  DataByte,
  Id,
  measure,
  Name,
  refuseDoubles,
  whole,
} from './numbers';

const PlainCurveSchema = z.enum(PLAIN_CURVES);
const Kinds = z.array(z.enum(ROUTE_KINDS)).max(ROUTE_KINDS.length);
const MidiNumber = whole('Number', 0, 127);

/** Both ends 0–127, the lower one first. */
const SpanSchema = z.object({ from: MidiNumber, to: MidiNumber }).refine(({ from, to }) => from <= to, {
  error: 'This range runs downwards; the lower number comes first.',
});

const FromSchema = z.object({
  portIds: z.array(Id).max(64),
  channels: z.array(ChannelNumber).max(16),
  kinds: Kinds,
  numbers: z.array(SpanSchema).max(128, { error: 'A route takes in 128 numbers and ranges at the most.' }),
  values: SpanSchema.nullable(),
}) satisfies z.ZodType<RouteFrom>;

const ChangeSchema = z.object({
  numbers: z
    .array(z.object({ kind: z.enum(NUMBERED_KINDS).nullable(), from: MidiNumber, to: MidiNumber }))
    .max(512, { error: 'A table of numbers has 512 lines at the most.' }),
  transpose: whole('Transposition', -127, 127, ' semitones'),
  programShift: whole('Program offset', -127, 127).default(0),
  channel: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('keep') }),
    z.object({ kind: z.literal('force'), channel: ChannelNumber }),
    z.object({ kind: z.literal('shift'), by: whole('Shift', -15, 15, ' channels') }),
  ]),
  as: z.object({ kind: z.enum(CHANGED_KINDS), number: MidiNumber.nullable() }).nullable(),
  value: z.object({ curve: PlainCurveSchema, from: DataByte, to: DataByte, fixed: DataByte.nullable() }),
}) satisfies z.ZodType<RouteChange>;

const GateSchema = z.object({
  by: z.discriminatedUnion('kind', [
    z.object({
      kind: z.literal('controller'),
      portId: Id.nullable(),
      channel: ChannelNumber.nullable(),
      controller: ControllerNumber,
      from: DataByte,
      to: DataByte,
    }),
    z.object({
      kind: z.literal('function'),
      functionId: Id,
      from: whole('Value', 0, SOUND_LIMIT),
      to: whole('Value', 0, SOUND_LIMIT),
    }),
    z.object({ kind: z.literal('scenes'), sceneIds: z.array(Id).max(1000) }),
    z.object({ kind: z.literal('switch') }),
  ]),
  startsOpen: z.boolean(),
  holds: Kinds,
  others: z.enum(['pass', 'stop']),
}) satisfies z.ZodType<Gate>;

const Duration = (what: string) => measure(what, 0, 60_000, 'ms');

const ModulationSchema = z.object({
  delayMs: Duration('Delay'),
  attackMs: Duration('Attack'),
  decayMs: Duration('Decay'),
  sustain: measure('Sustain', 0, 1, 'of the way'),
  releaseMs: Duration('Release'),
  curve: PlainCurveSchema,
  rest: DataByte,
  peak: DataByte,
  controller: ControllerNumber,
  everyMs: measure('Time between two values', 5, 1000, 'ms'),
}) satisfies z.ZodType<Modulation>;

export const RouteSchema = z.object({
  id: Id,
  name: Name,
  isOn: z.boolean(),
  isLayer: z.boolean().default(false),
  from: FromSchema,
  change: ChangeSchema,
  gate: GateSchema.nullable(),
  modulation: ModulationSchema.nullable(),
  to: z
    .array(z.object({ portId: Id, channel: ChannelNumber.nullable() }))
    .max(64, { error: 'A route sends 64 copies at the most.' }),
  after: z.enum(['stop', 'pass']),
}) satisfies z.ZodType<Route>;

/** The routes of a rig in their order, the lines between them, and what becomes of what none takes in. */
export const RoutingSchema = z
  .object({
    lines: z.array(z.object({ id: Id, name: Name })).max(64),
    routes: z.array(RouteSchema).max(200, { error: 'A rig has 200 routes at the most.' }),
    othersTo: z.array(Id).max(64),
  })
  .superRefine(({ routes, lines }, ctx) => {
    const refuse = (list: 'routes' | 'lines', what: string) =>
      refuseDoubles(
        list === 'routes' ? routes : lines,
        (x: { name: string }) => x.name.toLowerCase(),
        (x) => `There is a ${what} called ${x.name} already.`,
        (i, message) => ctx.addIssue({ code: 'custom', path: [list, i, 'name'], message }),
      );
    refuse('routes', 'route');
    refuse('lines', 'line');
  }) satisfies z.ZodType<Routing>;
