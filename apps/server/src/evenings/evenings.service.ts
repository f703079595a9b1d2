import { cutText } from '@idle-step/core/typed';
import { Inject, Injectable } from '@nestjs/common';
import {
  EveningEntrySchema,
  EveningSchema,
  type Evening,
  type EveningLine,
  type EveningLog,
  type EveningReport,
} from '@idle-step/contract';
import { DataSource } from 'typeorm';
import { gone, taken } from '../http/problem.exception';
import { asKept } from '../keeping/asKept';
import { inTransaction } from '../keeping/transaction';
import { RigRow } from '../rigs/rig.entity';
import { EveningEntryRow, EveningRow } from './evening.entity';

/** The evenings that were played, with what happened in them. */
@Injectable()
export class EveningsService {
  constructor(@Inject(DataSource) private readonly db: DataSource) {}

  /** Keeps what a page tells. Lines that were told before stay as they were, so it may tell them again. */
  async report({ evening, entries }: EveningReport): Promise<{ lineCount: number }> {
    return inTransaction(this.db, async (manager) => {
      if (!(await manager.existsBy(RigRow, { id: evening.rigId }))) throw gone('rig', evening.rigId);
      const before = await manager.findOneBy(EveningRow, { id: evening.id });
      if (before && before.rigId !== evening.rigId)
        throw taken('This evening belongs to another rig already; begin a new one.');
      await manager.save(EveningRow, rowOf(evening));
      if (entries.length > 0)
        await manager
          .createQueryBuilder()
          .insert()
          .orIgnore()
          .into(EveningEntryRow)
          .values(
            entries.map(({ number, atMs, ...body }) => ({
              eveningId: evening.id,
              number,
              atMs,
              body,
            })),
          )
          .execute();
      return { lineCount: await manager.countBy(EveningEntryRow, { eveningId: evening.id }) };
    });
  }

  /** The evenings of a rig, the last one first. */
  async list(rigId: string): Promise<EveningLine[]> {
    const rows = await this.db.manager.find(EveningRow, { where: { rigId }, order: { startedAt: 'DESC' } });
    const counts = await this.db.manager
      .createQueryBuilder(EveningEntryRow, 'e')
      .select('e.eveningId', 'id')
      .addSelect('COUNT(*)', 'count')
      .innerJoin(EveningRow, 'v', 'v.id = e.eveningId AND v.rigId = :rigId', { rigId })
      .groupBy('e.eveningId')
      .getRawMany<{ id: string; count: string }>();
    const countOf = new Map(counts.map((c) => [c.id, Number(c.count)]));
    return rows.map((row) => ({ ...headOf(row), lineCount: countOf.get(row.id) ?? 0 }));
  }

  async get(id: string): Promise<EveningLog> {
    const row = await this.db.manager.findOneBy(EveningRow, { id });
    if (!row) throw gone('evening', id);
    const entries = await this.db.manager.find(EveningEntryRow, {
      where: { eveningId: id },
      order: { number: 'ASC' },
    });
    return {
      evening: headOf(row),
      entries: entries.map(({ number, atMs, body }) => asKept(EveningEntrySchema, { ...body, number, atMs })),
    };
  }

  async remove(id: string): Promise<void> {
    const { affected } = await this.db.manager.delete(EveningRow, { id });
    if (!affected) throw gone('evening', id);
  }
}

const rowOf = ({ startedAt, endedAt, setName, ...rest }: Evening) => ({
  ...rest,
  setName: cutText(setName, 80),
  startedAt: new Date(startedAt),
  endedAt: endedAt === null ? null : new Date(endedAt),
});

const headOf = ({ startedAt, endedAt, ...row }: EveningRow): Evening =>
  asKept(EveningSchema, {
    ...row,
    startedAt: startedAt.toISOString(),
    endedAt: endedAt?.toISOString() ?? null,
  });
