import {
  ACTION_LISTS,
  CONTROL_KINDS,
  CONTROL_MESSAGES,
  PLAIN_BOARD,
  PLAIN_HARDWARE,
  RELATIVE_ENCODINGS,
  SENT_KINDS,
  type Board,
  type Hardware,
  type RigWithBoards,
} from '@idle-step/core/floor';
import {
  BANK_SELECT_HABITS,
  cableFaults,
  DEVICE_ROLES,
  parseTemplate,
  PLAIN_DEVICE,
  PLAIN_FUNCTION,
  PLAIN_PORT,
  STAND_IN_KINDS,
  takesValue,
  TAPE_COLOURS,
  TAPE_SHAPES,
  shapeMismatch,
  valueBounds,
  valueLimit,
  type ChartFunction,
  type Device,
  type Drive,
  type FunctionShape,
} from '@idle-step/core/gear';
import { MAX_TRACK, TRANSPORT, type LinkKind, type TransportCommand } from '@idle-step/core/midi';
import type { Routing } from '@idle-step/core/routing';
import { z } from 'zod';
import {
  ChannelNumber,
  ControllerNumber,
  DataByte,
  Id,
  measure,
  Name,
  NoteNumber,
  refuseDoubleIds,
  refuseDoubles,
  Remark,
  whole,
} from './numbers';
import { RoutingSchema } from './routing';

export const LINK_KINDS = [
  'din',
  'usb',
  'bluetooth',
  'virtual',
  'network',
] as const satisfies readonly LinkKind[];
const TRANSPORT_COMMANDS = Object.keys(TRANSPORT) as [TransportCommand, ...TransportCommand[]];

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
  z.object({ kind: z.literal('transport'), command: z.enum(TRANSPORT_COMMANDS) }),
  z.object({ kind: z.literal('record-ready'), track: whole('Track', 1, MAX_TRACK) }),
]) satisfies z.ZodType<Drive>;

const ShownFrom = whole('Shown from', -16384, 16383);
/** What a drive can carry is checked with the whole row, since only some drives have 14 bits. */
const Sent = whole('Value', 0, 16383);
const Label = z.string().max(80, { error: 'A name of a value is longer than 80 characters.' });

export const ShapeSchema = z
  .discriminatedUnion('kind', [
    z.object({ kind: z.literal('trigger'), sent: Sent }),
    z.object({ kind: z.literal('switch'), off: Sent, on: Sent }),
    z.object({ kind: z.literal('range'), min: Sent, max: Sent, shownFrom: ShownFrom }),
    z.object({
      kind: z.literal('choice'),
      first: DataByte,
      shownFrom: ShownFrom,
      labels: z.array(Label).min(1, { error: 'A choice needs at least one value.' }).max(128),
    }),
    z.object({
      kind: z.literal('program'),
      names: z.array(z.object({ program: whole('Program', 0, 127), name: Label })).max(128),
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
  }) satisfies z.ZodType<FunctionShape>;

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
    powerOn: whole('Power-on value', 0, 16383).nullable().default(null),
    settleMs: measure('Settle time', 0, 10_000, 'ms'),
    reserved: z.boolean().default(false),
    remark: Remark.default(PLAIN_FUNCTION.remark),
  })
  .superRefine(checkFunction) satisfies z.ZodType<ChartFunction>;

function checkFunction(fn: ChartFunction, ctx: z.RefinementCtx): void {
  const refuse = (path: string[], message: string) => ctx.addIssue({ code: 'custom', path, message });
  const mismatch = shapeMismatch(fn.drive, fn.shape);
  if (mismatch) return refuse(['shape'], `${fn.name}: ${mismatch}.`);
  const limit = valueLimit(fn.drive);
  const { shape } = fn;
  const sent = shape.kind === 'switch' ? [shape.off, shape.on] : shape.kind === 'trigger' ? [shape.sent] : [];
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
        message: `${setting.inForce} is none of the options of ${setting.name}; ${setting.options.join(' or ')} would be right.`,
      });
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
    programsShownFrom: z.union([z.literal(0), z.literal(1)], {
      error: 'Programs are shown from 0 or from 1.',
    }),
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
  lamp: z.object({ off: DataByte, on: DataByte, blink: DataByte.nullable() }).nullable(),
}) satisfies z.ZodType<Hardware>;

const HIGHEST_NUMBER = { 'controller-14': 31, rpn: 16382, nrpn: 16382 } as const;

export const ControlMessageSchema = z
  .object({ kind: z.enum(CONTROL_MESSAGES), number: whole('Number', 0, 16382) })
  .superRefine(({ kind, number }, ctx) => {
    const highest = kind in HIGHEST_NUMBER ? HIGHEST_NUMBER[kind as keyof typeof HIGHEST_NUMBER] : 127;
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
  can: BoardLimitsSchema.default({
    ...PLAIN_BOARD.can,
    gestures: [...PLAIN_BOARD.can.gestures],
    messages: [...PLAIN_BOARD.can.messages],
  }),
  controls: z.array(ControlSchema).max(512),
}) satisfies z.ZodType<Board>;

/** A rig with its boards: what one save of the place Rig writes. */
export const RigSchema = z
  .object({
    id: Id,
    name: Name,
    middleC: z.union([z.literal(3), z.literal(4), z.literal(5)], {
      error: 'Note 60 is called C3, C4 or C5.',
    }),
    devices: z.array(DeviceSchema).max(200),
    cables: z.array(z.object({ id: Id, fromPortId: Id, toPortId: Id })).max(1000),
    boards: z.array(BoardSchema).max(100),
    routing: RoutingSchema.default({ lines: [], routes: [], othersTo: [] }),
  })
  .superRefine(checkReferences) satisfies z.ZodType<RigWithBoards & { readonly routing: Routing }>;

export type RigDoc = z.infer<typeof RigSchema>;
export type DeviceDoc = RigDoc['devices'][number];
export type BoardDoc = RigDoc['boards'][number];
export type ControlDoc = BoardDoc['controls'][number];

function checkReferences(rig: RigWithBoards, ctx: z.RefinementCtx): void {
  const at =
    (...path: (string | number)[]) =>
    (message: string) =>
      ctx.addIssue({ code: 'custom', path, message });
  refuseDoubleIds(rig, ctx);
  refuseDoubles(
    rig.devices,
    (d) => d.name.toLowerCase(),
    (d) => `There is a device called ${d.name} already.`,
    (i, message) => at('devices', i, 'name')(message),
  );
  refuseDoubles(
    rig.devices,
    (d) => `${d.mark.shape} ${d.mark.colour}`,
    (d) => `Another device has the ${d.mark.colour} ${d.mark.shape} already; change its shape or its colour.`,
    (i, message) => at('devices', i, 'mark')(message),
  );
  const ports = new Set(rig.devices.flatMap((d) => d.ports.map((p) => p.id)));
  for (const fault of cableFaults(rig))
    if (fault.severity === 'refused' && fault.code !== 'gone')
      at(
        'cables',
        rig.cables.findIndex((c) => c.id === fault.cableId),
      )(fault.sentence);
  rig.cables.forEach((cable, i) => {
    for (const end of ['fromPortId', 'toPortId'] as const)
      if (!ports.has(cable[end])) at('cables', i, end)('This end of the cable is at a port that is gone.');
  });
  const devices = new Set(rig.devices.map((d) => d.id));
  rig.boards.forEach((board, i) => {
    if (!devices.has(board.deviceId)) at('boards', i, 'deviceId')('The device of this board is gone.');
    refuseDoubles(
      board.controls,
      (c) => `${c.channel ?? 'board'} ${c.sends.kind} ${c.sends.number}`,
      (c) =>
        `Another control of this board sends ${c.sends.kind} ${c.sends.number} already, so they cannot be told apart.`,
      (k, message) => at('boards', i, 'controls', k, 'sends')(message),
    );
  });
}
