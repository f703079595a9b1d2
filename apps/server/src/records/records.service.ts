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
    return rows.map(toRecord);
  }

  /** What was known later than this stays, whenever this comes. @returns what is known now. */
  async keep(record: GearRecord): Promise<GearRecord> {
    return inTransaction(this.db, async (manager) => {
      if (!(await manager.existsBy(RigRow, { id: record.rigId }))) throw gone('rig', record.rigId);
      const before = await manager.findOne(GearRecordRow, {
        where: { id: record.id },
        lock: { mode: 'pessimistic_write' },
      });
      if (before && before.rigId !== record.rigId)
        throw taken('This belongs to another rig already; keep it under a new identifier.');
      if (before && isLater(before.at, record.at)) return toRecord(before);
      await manager.save(GearRecordRow, { ...record, at: new Date(record.at) });
      return record;
    });
  }

  async remove(id: string): Promise<void> {
    const { affected } = await this.db.manager.delete(GearRecordRow, { id });
    if (!affected) throw gone('record', id);
  }
}

const toRecord = ({ at, ...row }: GearRecordRow): GearRecord =>
  asKept(GearRecordSchema, { ...row, at: at.toISOString() });

/** Whether what is kept is of a later moment; a moment yet to come was a clock that went wrong, and does not count. */
const isLater = (kept: Date, at: string): boolean =>
  kept > new Date(at) && kept.getTime() <= Date.now() + SKEW_MS;

/** Clocks of two computers differ by no more, in ms. */
const SKEW_MS = 60_000;
