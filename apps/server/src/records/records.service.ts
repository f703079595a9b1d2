import { GearRecordSchema, type GearRecord } from '@idle-step/contract';
import { Inject, Injectable } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { gone, taken } from '../http/problem.exception';
import { asKept } from '../keeping/asKept';
import { inTransaction } from '../keeping/transaction';
import { RigRow } from '../rigs/rig.entity';
import { GearRecordRow } from './record.entity';

/** What is known of real gear. The last word about a thing is the one that counts. */
@Injectable()
export class RecordsService {
  constructor(@Inject(DataSource) private readonly db: DataSource) {}

  /** All of a rig, the newest first. */
  async list(rigId: string): Promise<GearRecord[]> {
    const rows = await this.db.manager.find(GearRecordRow, {
      where: { rigId },
      order: { at: 'DESC', id: 'ASC' },
    });
    return rows.map(({ at, ...row }) => asKept(GearRecordSchema, { ...row, at: at.toISOString() }));
  }

  async keep(record: GearRecord): Promise<GearRecord> {
    await inTransaction(this.db, async (manager) => {
      if (!(await manager.existsBy(RigRow, { id: record.rigId }))) throw gone('rig', record.rigId);
      const before = await manager.findOneBy(GearRecordRow, { id: record.id });
      if (before && before.rigId !== record.rigId)
        throw taken('This belongs to another rig already; keep it under a new identifier.');
      await manager.save(GearRecordRow, { ...record, at: new Date(record.at) });
    });
    return record;
  }

  async remove(id: string): Promise<void> {
    const { affected } = await this.db.manager.delete(GearRecordRow, { id });
    if (!affected) throw gone('record', id);
  }
}
