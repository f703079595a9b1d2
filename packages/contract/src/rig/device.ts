import {
  BANK_SELECT_HABITS,
  DEVICE_ROLES,
  PLAIN_DEVICE,
  PLAIN_PORT,
  parseProgramPattern,
  STAND_IN_KINDS,
  TAPE_COLOURS,
  TAPE_SHAPES,
  type Device,
} from '@idle-step/core/gear';
import { type LinkKind } from '@idle-step/core/midi';
import { z } from 'zod';
import { ChannelNumber, ControllerNumber, Id, measure, Name, refuseDoubles, Remark, whole } from '../numbers';
import { ChartFunctionSchema, RequestText } from './chart';

export const LINK_KINDS = [
  'din',
  'usb',
  'bluetooth',
  'virtual',
  'network',
] as const satisfies readonly LinkKind[];

export const PortSchema = z
  .object({
    id: Id,
    name: Name,
    direction: z.enum(['in', 'out', 'thru']),
    link: z.enum(LINK_KINDS),
    isUsbHost: z.boolean().default(PLAIN_PORT.isUsbHost),
    atComputer: z.boolean(),
    plays: z.boolean().default(PLAIN_PORT.plays),
    learns: z.boolean().default(PLAIN_PORT.learns),
    latencyMs: measure('Latency', 0, 1000, 'ms').default(PLAIN_PORT.latencyMs),
  })
  .refine((port) => port.direction !== 'thru' || port.link === 'din', {
    path: ['direction'],
    error: 'Only a DIN port can be a thru.',
  });

const ListensSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('one') }),
  z.object({ kind: z.literal('omni') }),
  z.object({ kind: z.literal('several'), channels: z.array(ChannelNumber).max(16) }),
  z.object({ kind: z.literal('parts'), count: whole('Number of parts', 2, 16) }),
]);

const SettingSchema = z
  .object({
    name: Name,
    options: z.array(Name).min(2, { error: 'A setting needs at least two options.' }).max(16),
    inForce: Name,
  })
  .superRefine((setting, ctx) => {
    refuseDoubles(
      setting.options,
      (o) => o,
      (o) => `The option ${o} is there twice.`,
      (i, message) => ctx.addIssue({ code: 'custom', path: ['options', i], message }),
    );
    if (!setting.options.includes(setting.inForce))
      ctx.addIssue({
        code: 'custom',
        path: ['inForce'],
        message: `“${setting.inForce}” is none of the options of ${setting.name}; ${setting.options.join(' or ')} would be right.`,
      });
  });

/** How a display counts programs, as `parseProgramPattern` reads it. */
export const ProgramPatternText = z
  .string()
  .trim()
  .max(80, { error: 'The pattern of program numbers is longer than 80 characters.' })
  .superRefine((text, ctx) => {
    const read = parseProgramPattern(text);
    if (!read.ok) ctx.addIssue({ code: 'custom', message: read.error });
  });

export const DeviceSchema = z
  .object({
    id: Id,
    name: Name,
    description: Remark,
    place: Remark.default(PLAIN_DEVICE.place),
    role: z.enum(DEVICE_ROLES),
    mark: z.object({ shape: z.enum(TAPE_SHAPES), colour: z.enum(TAPE_COLOURS) }),
    channel: ChannelNumber,
    listens: ListensSchema.default(PLAIN_DEVICE.listens),
    extraChannels: z
      .array(z.object({ name: Name, channel: ChannelNumber }))
      .max(16)
      .default([]),
    bankSelect: z.enum(BANK_SELECT_HABITS).default(PLAIN_DEVICE.bankSelect),
    setting: SettingSchema.nullable().default(PLAIN_DEVICE.setting),
    startUp: z
      .array(z.object({ id: Id, text: Remark.min(1, { error: 'The step is empty.' }), done: z.boolean() }))
      .max(50)
      .default([]),
    keptNumbers: z
      .array(z.object({ from: ControllerNumber, to: ControllerNumber }))
      .max(64)
      .default([])
      .refine((list) => list.every((r) => r.from <= r.to), {
        error: 'A range of kept numbers ends before it begins.',
      }),
    programsShownFrom: z.union([z.literal(0), z.literal(1)], {
      error: 'Programs are shown from 0 or from 1.',
    }),
    programPattern: ProgramPatternText.nullable().default(PLAIN_DEVICE.programPattern),
    soundOffAtPanic: z.boolean().default(PLAIN_DEVICE.soundOffAtPanic),
    dumpRequest: RequestText.default(PLAIN_DEVICE.dumpRequest),
    identity: z
      .string()
      .regex(/^([0-9A-F]{2}|00[0-9A-F]{4}) [0-9A-F]{4} [0-9A-F]{4}$|^$/, {
        error: 'An identity is maker, family and member, as hexadecimal digits.',
      })
      .default(PLAIN_DEVICE.identity),
    standIn: z.enum(STAND_IN_KINDS).nullable(),
    away: z.boolean(),
    ports: z.array(PortSchema).max(64),
    chart: z.array(ChartFunctionSchema).max(2000),
  })
  .superRefine(checkDevice);

function checkDevice(device: Device, ctx: z.RefinementCtx): void {
  refuseDoubles(
    device.chart,
    (f) => f.name.toLowerCase(),
    (f) => `${device.name} has a function called ${f.name} already.`,
    (i, message) => ctx.addIssue({ code: 'custom', path: ['chart', i, 'name'], message }),
  );
  refuseDoubles(
    device.extraChannels,
    (e) => e.name.toLowerCase(),
    (e) => `${device.name} has an extra channel called ${e.name} already.`,
    (i, message) => ctx.addIssue({ code: 'custom', path: ['extraChannels', i, 'name'], message }),
  );
  const extras = new Set(device.extraChannels.map((e) => e.name));
  device.chart.forEach((fn, i) => {
    const refuse = (field: string, message: string) =>
      ctx.addIssue({ code: 'custom', path: ['chart', i, field], message });
    if (fn.extraChannel !== null && !extras.has(fn.extraChannel))
      refuse('extraChannel', `${fn.name}: ${device.name} has no extra channel called ${fn.extraChannel}.`);
    if (fn.under !== null && !device.setting?.options.includes(fn.under))
      refuse('under', `${fn.name}: ${device.name} has no setting with the option ${fn.under}.`);
  });
}
