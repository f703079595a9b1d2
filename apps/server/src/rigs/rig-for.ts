import { referenceFault, type ReferenceFault, type RigDoc } from '@idle-step/contract';
import type { EntityManager } from 'typeorm';
import { RigRow } from './rig.entity';
import { readRigs } from './rig.rows';

/** The rig that a document belongs to, or the fault that it is gone. */
export async function rigFor(manager: EntityManager, rigId: string): Promise<RigDoc | ReferenceFault[]> {
  // Held as it is until the write is over, so that it cannot be deleted or changed meanwhile.
  const head = await manager.findOne(RigRow, { where: { id: rigId }, lock: { mode: 'pessimistic_read' } });
  if (!head) return [referenceFault('gone', 'rigId', `There is no rig ${rigId}.`)];
  return (await readRigs(manager, [head]))[0]!;
}
