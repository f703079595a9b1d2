import { CONTROL_KINDS, type Board, type RigWithBoards } from '@idle-step/core/floor';
import {
  DEVICE_ROLES,
  STAND_IN_KINDS,
  TAPE_COLOURS,
  TAPE_SHAPES,
  shapeMismatch,
  type ChartFunction,
  type Drive,
  type FunctionShape,
} from '@idle-step/core/gear';
import { MAX_TRACK, TRANSPORT, type LinkKind, type TransportCommand } from '@idle-step/core/midi';
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

export const LINK_KINDS = [
  'din',
  'usb',
  'bluetooth',
  'virtual',
  'network',
] as const satisfies readonly LinkKind[];
const TRANSPORT_COMMANDS = Object.keys(TRANSPORT) as [TransportCommand, ...TransportCommand[]];

export const DriveSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('controller'), controller: ControllerNumber }),
  z.object({ kind: z.literal('note'), note: NoteNumber }),
  z.object({ kind: z.literal('program'), bank: whole('Bank', 0, 16383).nullable() }),
  z.object({ kind: z.literal('transport'), command: z.enum(TRANSPORT_COMMANDS) }),
  z.object({ kind: z.literal('record-ready'), track: whole('Track', 1, MAX_TRACK) }),
]) satisfies z.ZodType<Drive>;

const ShownFrom = whole('Shown from', -128, 16383);

export const ShapeSchema = z
  .discriminatedUnion('kind', [
    z.object({ kind: z.literal('trigger'), sent: DataByte }),
    z.object({ kind: z.literal('switch'), off: DataByte, on: DataByte }),
    z.object({ kind: z.literal('range'), min: DataByte, max: DataByte, shownFrom: ShownFrom }),
    z.object({
      kind: z.literal('choice'),
      first: DataByte,
      shownFrom: ShownFrom,
      labels: z.array(z.string().max(80)).min(1, { error: 'A choice needs at least one value.' }).max(128),
    }),
    z.object({
      kind: z.literal('program'),
      names: z.array(z.object({ program: whole('Program', 0, 127), name: z.string().max(80) })).max(128),
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
    drive: DriveSchema,
    shape: ShapeSchema,
    channel: ChannelNumber.nullable(),
    arms: Name.nullable(),
    settleMs: measure('Settle time', 0, 10_000, 'ms'),
  })
  .superRefine((fn, ctx) => {
    const mismatch = shapeMismatch(fn.drive, fn.shape);
    if (mismatch) ctx.addIssue({ code: 'custom', path: ['shape'], message: `${fn.name}: ${mismatch}.` });
  }) satisfies z.ZodType<ChartFunction>;

export const PortSchema = z.object({
  id: Id,
  name: Name,
  direction: z.enum(['in', 'out', 'thru']),
  link: z.enum(LINK_KINDS),
  atComputer: z.boolean(),
});

export const DeviceSchema = z.object({
  id: Id,
  name: Name,
  description: Remark,
  role: z.enum(DEVICE_ROLES),
  mark: z.object({ shape: z.enum(TAPE_SHAPES), colour: z.enum(TAPE_COLOURS) }),
  channel: ChannelNumber,
  programsShownFrom: z.union([z.literal(0), z.literal(1)], { error: 'Programs are shown from 0 or from 1.' }),
  standIn: z.enum(STAND_IN_KINDS).nullable(),
  away: z.boolean(),
  ports: z.array(PortSchema).max(64),
  chart: z.array(ChartFunctionSchema).max(2000),
});

export const ControlSchema = z.object({
  id: Id,
  name: Name,
  kind: z.enum(CONTROL_KINDS),
  xMm: measure('Place', 0, 10_000, 'mm'),
  yMm: measure('Place', 0, 10_000, 'mm'),
  widthMm: measure('Width', 1, 10_000, 'mm'),
  heightMm: measure('Height', 1, 10_000, 'mm'),
  sends: z.object({ kind: z.enum(['controller', 'note']), number: whole('Number', 0, 127) }),
});

export const BoardSchema = z.object({
  id: Id,
  deviceId: Id,
  presetId: Id.nullable(),
  widthMm: measure('Width', 1, 10_000, 'mm'),
  heightMm: measure('Height', 1, 10_000, 'mm'),
  xMm: measure('Place', 0, 100_000, 'mm'),
  yMm: measure('Place', 0, 100_000, 'mm'),
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
  })
  .superRefine(checkReferences) satisfies z.ZodType<RigWithBoards>;

export type RigDoc = z.infer<typeof RigSchema>;
export type DeviceDoc = RigDoc['devices'][number];

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
  rig.devices.forEach((device, d) =>
    refuseDoubles(
      device.chart,
      (f) => f.name.toLowerCase(),
      (f) => `${device.name} has a function called ${f.name} already.`,
      (i, message) => at('devices', d, 'chart', i, 'name')(message),
    ),
  );
  const ports = new Set(rig.devices.flatMap((d) => d.ports.map((p) => p.id)));
  rig.cables.forEach((cable, i) => {
    for (const end of ['fromPortId', 'toPortId'] as const)
      if (!ports.has(cable[end])) at('cables', i, end)('This end of the cable is at a port that is gone.');
  });
  const devices = new Set(rig.devices.map((d) => d.id));
  rig.boards.forEach((board, i) => {
    if (!devices.has(board.deviceId)) at('boards', i, 'deviceId')('The device of this board is gone.');
    refuseDoubles(
      board.controls,
      (c) => `${c.sends.kind} ${c.sends.number}`,
      (c) =>
        `Another control of this board sends ${c.sends.kind} ${c.sends.number} already, so they cannot be told apart.`,
      (k, message) => at('boards', i, 'controls', k, 'sends')(message),
    );
  });
}
