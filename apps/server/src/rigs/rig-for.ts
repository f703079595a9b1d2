import type { FullRig } from '@idle-step/core/routing';
import { referenceFault, type ReferenceFault } from '@idle-step/contract';
import type { EntityManager } from 'typeorm';
import { Bin } from '../bin/bin';
import { taken } from '../http/problem.exception';
import { RigRow } from './rig.entity';
import { readRigs } from './rig.rows';
import { nth } from '@idle-step/core/sure';

/** The rig that a document belongs to, or the fault that it is gone. */
export async function rigFor(manager: EntityManager, rigId: string): Promise<FullRig | ReferenceFault[]> {
  // Held as it is until the write is over, so that it cannot be deleted or changed meanwhile.
  const head = await manager.findOne(RigRow, { where: { id: rigId }, lock: { mode: 'pessimistic_read' } });
  if (!head) return [referenceFault('gone', 'rigId', `There is no rig ${rigId}.`)];
  return nth(await readRigs(manager, [head]), 0);
}

/** The rig of a document that comes out of the bin; where that is gone, it is said what comes first. */
export async function rigToComeBackTo(manager: EntityManager, rigId: string): Promise<FullRig> {
  const rig = await rigFor(manager, rigId);
  if (!Array.isArray(rig)) return rig;
  const binned = await new Bin(manager).find('rigs', rigId);
  throw taken(
    binned
      ? `Its rig, ${binned.name}, is in the bin too; bring that back first.`
      : 'Its rig is gone for good, so there is nothing that it could belong to.',
  );
}
