import { applied, differenceOf, isSameJson, squashed, type Json } from '@idle-step/core/edits';
import type { Resource, Revision } from '@idle-step/contract';
import { LessThan, LessThanOrEqual, MoreThan, type EntityManager } from 'typeorm';
import { insertRows } from '../keeping/sync-rows';
import { RevisionRow } from './revision.entity';
import { savesThatGo } from './thinning';
import { lastOf } from '@idle-step/core/sure';

/** Of so many saves one is kept whole, so that none is far from a whole one. */
const WHOLE_EVERY = 20;
/** Old saves are looked through once in so many. */
const THIN_EVERY = 25;
/** Saves in one page of the list. */
export const REVISIONS_A_PAGE = 50;

/** Every save of one document, as differences from whole texts. */
export class Revisions {
  private readonly where: { readonly resource: string; readonly documentId: string };

  constructor(
    private readonly manager: EntityManager,
    resource: Resource,
    documentId: string,
  ) {
    this.where = { resource, documentId };
  }

  /** The first saves of new documents, or of such as come out of the bin: each whole. */
  static async addWhole(
    manager: EntityManager,
    resource: Resource,
    saves: readonly {
      readonly doc: { readonly id: string };
      readonly version: number;
      readonly savedAt: Date;
    }[],
  ): Promise<void> {
    const rows = saves.map(({ doc, version, savedAt }) => {
      return { resource, documentId: doc.id, version, savedAt, name: null, doc, difference: null };
    });
    await insertRows(manager, RevisionRow, rows);
  }

  async add(version: number, savedAt: Date, doc: Json): Promise<void> {
    const before = version % WHOLE_EVERY === 1 ? null : await this.at(version - 1);
    const difference = before && differenceOf(before.doc, doc);
    // A save that could not be had back exactly from its difference is kept whole.
    const isExact = before && difference && isSameJson(applied(before.doc, difference), doc);
    await this.manager.insert(RevisionRow, {
      ...this.where,
      version,
      savedAt,
      name: null,
      ...(isExact ? { difference } : { doc }),
      // TypeORM's type for a row to write knows no column of any JSON.
    } as never);
    if (version % THIN_EVERY === 0) await this.thin(savedAt);
  }

  /** The document as it was at one save, or `null` where that save is not kept. */
  async at(version: number): Promise<{ readonly doc: Json; readonly savedAt: Date } | null> {
    const [whole] = await this.manager.find(RevisionRow, {
      where: { ...this.where, version: LessThanOrEqual(version) },
      order: { version: 'DESC' },
      select: { resource: true, documentId: true, version: true },
      take: 1,
    });
    if (whole?.version !== version) return null;
    const rows: RevisionRow[] = [];
    for (let upTo = version; ;) {
      const some = await this.manager.find(RevisionRow, {
        where: { ...this.where, version: LessThanOrEqual(upTo) },
        order: { version: 'DESC' },
        take: WHOLE_EVERY,
      });
      for (const row of some) {
        rows.unshift(row);
        if (row.doc !== null) return { doc: built(rows), savedAt: lastOf(rows).savedAt };
      }
      const oldest = some.at(-1);
      if (!oldest) return null;
      upTo = oldest.version - 1;
    }
  }

  /** A page of the list, the newest first. @param before only saves older than this version. */
  async list(before: number | null): Promise<Revision[]> {
    const rows = await this.manager.find(RevisionRow, {
      where: { ...this.where, ...(before === null ? {} : { version: LessThan(before) }) },
      order: { version: 'DESC' },
      select: { resource: true, documentId: true, version: true, savedAt: true, name: true },
      take: REVISIONS_A_PAGE,
    });
    return rows.map(({ version, savedAt, name }) => ({ version, savedAt: savedAt.toISOString(), name }));
  }

  /** @returns whether there is such a save. */
  async name(version: number, name: string | null): Promise<boolean> {
    const key = { ...this.where, version };
    if (!(await this.manager.existsBy(RevisionRow, key))) return false;
    await this.manager.update(RevisionRow, key, { name });
    return true;
  }

  /** Takes out old saves by the rule of `thinning.ts`; the one after each is then told from the one before it. */
  private async thin(now: Date): Promise<void> {
    const saves = await this.manager.find(RevisionRow, {
      where: this.where,
      order: { version: 'ASC' },
      select: { resource: true, documentId: true, version: true, savedAt: true, name: true },
    });
    for (const version of savesThatGo(saves, now)) {
      const key = { ...this.where, version };
      const gone = await this.manager.findOneByOrFail(RevisionRow, key);
      const [next] = await this.manager.find(RevisionRow, {
        where: { ...this.where, version: MoreThan(version) },
        order: { version: 'ASC' },
        take: 1,
      });
      if (next?.doc === null) {
        const changes = next.difference ?? [];
        const put = gone.doc
          ? { doc: applied(gone.doc, changes), difference: null }
          : { difference: squashed(gone.difference ?? [], changes) };
        // As above.
        await this.manager.update(RevisionRow, { ...this.where, version: next.version }, put as never);
      }
      await this.manager.delete(RevisionRow, key);
    }
  }
}

/** @param rows oldest first, of which the first is whole. */
const built = ([whole, ...rest]: readonly RevisionRow[]): Json =>
  rest.reduce((doc, row) => applied(doc, row.difference ?? []), whole?.doc ?? null);
