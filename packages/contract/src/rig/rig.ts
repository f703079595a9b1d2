import { type RigWithBoards } from '@idle-step/core/floor';
import { cableFaults } from '@idle-step/core/gear';
import type { FullRig } from '@idle-step/core/routing';
import { z } from 'zod';
import { Id, Name, refuseDoubleIds, refuseDoubles, whole } from '../numbers';
import { RoutingSchema } from '../routing';
import { DeviceSchema } from './device';
import { BoardSchema } from './board';

/** A step that comes sooner than this after the same one does not count, in ms. */
export const STEP_GUARD_MS = 200;
export const StepGuardMs = whole('Steps apart', 0, 2000, ' ms');

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
    stepGuardMs: StepGuardMs.default(STEP_GUARD_MS),
  })
  .superRefine(checkReferences) satisfies z.ZodType<FullRig>;

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
        rig.cables.findIndex((c) => c.id === fault.place.cableId),
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
