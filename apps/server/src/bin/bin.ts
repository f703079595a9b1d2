import { BIN_DAYS, type BinLine, type Resource } from '@idle-step/contract';
import { In, LessThan, Like, type EntityManager, type FindOptionsWhere } from 'typeorm';
import { GearRecordRow } from '../records/record.entity';
import { EveningRow } from '../evenings/evening.entity';
import { taken } from '../http/problem.exception';
import { CHUNK, inChunks } from '../keeping/chunks';
import { insertRows } from '../keeping/sync-rows';
import { RevisionRow } from '../revisions/revision.entity';
import { RigRow } from '../rigs/rig.entity';
import { BinnedRow } from './binned.entity';

const DAY_MS = 86_400_000;
type Key = { readonly resource: Resource; readonly documentId: string };

/** What was deleted and can be brought back, inside another's transaction. */
export class Bin {
  constructor(private readonly manager: EntityManager) {}

  async put(rows: readonly BinnedRow[]): Promise<void> {
    await insertRows(this.manager, BinnedRow, rows);
  }

  isAny(resource: Resource): Promise<boolean> {
    return this.manager.existsBy(BinnedRow, { resource });
  }

  /** Parts of a rig that is still to come; one that came already is the same again, one of another rig's is refused. */
  async layAside(rows: readonly BinnedRow[]): Promise<void> {
    const [first] = rows;
    if (!first) return;
    const { resource, rigId } = first;
    const there = await this.manager.find(BinnedRow, {
      where: { resource, documentId: In(rows.map((r) => r.documentId)) },
      select: { resource: true, documentId: true, rigId: true, version: true },
    });
    if (there.some((r) => r.rigId !== rigId || r.version !== 0))
      throw taken('An identifier in it belongs to something in the bin already.');
    // TypeORM's type for a row to write knows no column of any JSON.
    await this.manager.upsert(BinnedRow, rows as never, ['resource', 'documentId']);
  }

  /** Throws away parts whose rig does not come. @param before only those that were laid aside before then. */
  async leaveParts(rigId: string | null, before?: Date): Promise<void> {
    await this.manager.delete(BinnedRow, {
      isWithRig: true,
      version: 0,
      ...(rigId === null ? {} : { rigId }),
      ...(before === undefined ? {} : { deletedAt: LessThan(before) }),
    });
  }

  /** One that is there, which nobody else takes before the transaction is over. */
  find(resource: Resource, documentId: string): Promise<BinnedRow | null> {
    return this.manager.findOne(BinnedRow, {
      where: { resource, documentId },
      lock: { mode: 'pessimistic_write' },
    });
  }

  /** The versions of those that are there, by identifier. They leave the bin; their saves stay. */
  async take(resource: Resource, ids: readonly string[]): Promise<ReadonlyMap<string, number>> {
    const versions = new Map<string, number>();
    for (const some of inChunks(ids)) {
      const where = { resource, documentId: In([...some]) };
      const rows = await this.manager.find(BinnedRow, {
        where,
        select: { resource: true, documentId: true, version: true },
      });
      if (rows.length > 0) await this.manager.delete(BinnedRow, where);
      for (const row of rows) versions.set(row.documentId, row.version);
    }
    return versions;
  }

  /** How many of one kind went with a rig, or were laid aside for it. */
  countOfRig(resource: Resource, rigId: string): Promise<number> {
    return this.manager.countBy(BinnedRow, { resource, rigId, isWithRig: true });
  }

  /** Some of what went with a rig, of one kind; they are taken out by bringing them back. */
  someOfRig(resource: Resource, rigId: string): Promise<BinnedRow[]> {
    return this.manager.find(BinnedRow, { where: { resource, rigId, isWithRig: true }, take: CHUNK });
  }

  /**
   * Lines of the list, the last deleted first.
   * @param name only those whose name has this in it; empty for all.
   */
  async lines(name: string, from: number, count: number): Promise<{ total: number; items: BinLine[] }> {
    const where: FindOptionsWhere<BinnedRow> = {
      isWithRig: false,
      ...(name === '' ? {} : { name: Like(`%${name.replace(/[\\%_]/g, '\\$&')}%`) }),
    };
    const [rows, total] = await this.manager.findAndCount(BinnedRow, {
      where,
      select: { resource: true, documentId: true, rigId: true, name: true, deletedAt: true },
      order: { deletedAt: 'DESC', documentId: 'ASC' },
      skip: from,
      take: count,
    });
    const rigIds = In([...new Set(rows.map((r) => r.rigId))]);
    const [kept, binned] = [
      await this.manager.find(RigRow, { where: { id: rigIds }, select: { id: true, name: true } }),
      await this.manager.find(BinnedRow, {
        where: { resource: 'rigs', documentId: rigIds },
        select: { resource: true, documentId: true, name: true },
      }),
    ];
    const keptNames = new Map(kept.map((r) => [r.id, r.name]));
    const binnedNames = new Map(binned.map((r) => [r.documentId, r.name]));
    const songs = new Map(
      (
        await this.manager
          .createQueryBuilder(BinnedRow, 'b')
          .select('b.rigId', 'rigId')
          .addSelect('COUNT(*)', 'songs')
          .where({ rigId: rigIds, resource: 'songs', isWithRig: true })
          .groupBy('b.rigId')
          .getRawMany<{ rigId: string; songs: string }>()
      ).map((c) => [c.rigId, Number(c.songs)]),
    );
    const items = rows.map(({ resource, documentId, rigId, name: itsName, deletedAt }): BinLine => ({
      resource,
      id: documentId,
      name: itsName,
      rigId,
      rigName: keptNames.get(rigId) ?? binnedNames.get(rigId) ?? null,
      isRigBinned: resource !== 'rigs' && binnedNames.has(rigId),
      songCount: resource === 'rigs' ? (songs.get(rigId) ?? 0) : 0,
      deletedAt: deletedAt.toISOString(),
      goesAt: new Date(deletedAt.getTime() + BIN_DAYS * DAY_MS).toISOString(),
    }));
    return { total, items };
  }

  /** Deletes one for good, with its saves; a rig with all that went with it, and everything of it that went before. */
  async empty({ resource, documentId }: Key): Promise<boolean> {
    if (!(await this.find(resource, documentId))) return false;
    if (resource !== 'rigs') {
      await this.forget([{ resource, documentId }]);
      return true;
    }
    for (;;) {
      const rows = await this.manager.find(BinnedRow, {
        where: { rigId: documentId },
        select: { resource: true, documentId: true },
        take: CHUNK,
      });
      if (rows.length === 0) break;
      await this.forget(rows);
    }
    await this.manager.delete(EveningRow, { rigId: documentId });
    await this.manager.delete(GearRecordRow, { rigId: documentId });
    return true;
  }

  /** Deletes for good what has been there for longer than it stays. @returns how many. */
  async emptyOld(now: Date): Promise<number> {
    const old = await this.manager.find(BinnedRow, {
      where: { isWithRig: false, deletedAt: LessThan(new Date(now.getTime() - BIN_DAYS * DAY_MS)) },
      select: { resource: true, documentId: true },
    });
    for (const key of old) await this.empty(key);
    await this.leaveParts(null, new Date(now.getTime() - DAY_MS));
    return old.length;
  }

  private async forget(keys: readonly Key[]): Promise<void> {
    for (const resource of new Set(keys.map((k) => k.resource))) {
      const documentId = In(keys.flatMap((k) => (k.resource === resource ? k.documentId : [])));
      await this.manager.delete(RevisionRow, { resource, documentId });
      await this.manager.delete(BinnedRow, { resource, documentId });
    }
  }
}
