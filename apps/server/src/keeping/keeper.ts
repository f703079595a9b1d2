import type { Kept, ProblemUser, ReferenceFault, Resource, Revision } from '@idle-step/contract';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager, type EntityTarget, type FindOptionsWhere } from 'typeorm';
import { gone, inUse, invalid, stale } from '../http/problem.exception';
import { RevisionRow } from '../revisions/revision.entity';

/** What the head row of every kept document has. */
export type HeadRow = { id: string; name: string; version: number; savedAt: Date };

/** What HTTP may ask of a keeper. */
export type DocStore<Doc> = {
  list(rigId?: string): Promise<Kept<Doc>[]>;
  get(id: string): Promise<Kept<Doc>>;
  create(doc: Doc): Promise<Kept<Doc>>;
  save(id: string, version: number, doc: Doc, takeOut?: boolean): Promise<Kept<Doc>>;
  remove(id: string, version: number): Promise<void>;
  revisions(id: string): Promise<Revision[]>;
  revision(id: string, version: number): Promise<Kept<Doc>>;
};

/**
 * Keeps one kind of document: versions, conflicts, revisions, all within one transaction a write. A resource says
 * how its document is spread over rows, what has to hold of it, and who uses it.
 */
export abstract class Keeper<
  Doc extends { id: string; name: string },
  Head extends HeadRow,
> implements DocStore<Doc> {
  protected abstract readonly resource: Resource;
  /** What people call one of these. */
  protected abstract readonly what: string;
  protected abstract readonly head: EntityTarget<Head>;

  @InjectDataSource() private readonly db!: DataSource;

  /** The documents of some head rows, in their order. */
  protected abstract read(manager: EntityManager, heads: Head[]): Promise<Doc[]>;
  /** The columns of the head row besides version and time. */
  protected abstract headOf(doc: Doc): Omit<Head, 'version' | 'savedAt'>;
  /** Writes everything below the head row. */
  protected abstract writeRows(manager: EntityManager, doc: Doc): Promise<void>;
  /** What a document says that does not hold against what else is kept. */
  protected abstract faults(manager: EntityManager, doc: Doc): Promise<ReferenceFault[]>;
  /** Who would lose something by a change; `after` is `null` for a delete. */
  protected abstract users(manager: EntityManager, before: Doc, after: Doc | null): Promise<ProblemUser[]>;

  /** Takes what a change removes out of everything that uses it, in the same transaction. */
  protected takeOutOfUsers(_manager: EntityManager, _before: Doc, _after: Doc): Promise<void> {
    throw new Error(`Nothing uses parts of a ${this.what}`);
  }

  /** Changes every document of a rig inside another's transaction; those given back as they were are left alone. */
  async rewriteAll(manager: EntityManager, rigId: string, change: (doc: Doc) => Doc | null): Promise<void> {
    const heads = await manager.find(this.head, {
      where: { rigId } as unknown as FindOptionsWhere<Head>,
      lock: { mode: 'pessimistic_write' },
    });
    for (const { doc, version } of await this.kept(manager, heads)) {
      const next = change(doc);
      if (next === null) await this.drop(manager, doc.id);
      else if (next !== doc) await this.write(manager, next, version + 1);
    }
  }

  private async drop(manager: EntityManager, id: string): Promise<void> {
    await manager.delete(this.head, id);
    await manager.delete(RevisionRow, { resource: this.resource, documentId: id });
  }

  /** By name; only those of one rig where it is given. */
  async list(rigId?: string): Promise<Kept<Doc>[]> {
    const where = (rigId === undefined ? {} : { rigId }) as FindOptionsWhere<Head>;
    return this.db.transaction(async (manager) => {
      const heads = await manager.find(this.head, { where });
      heads.sort((a, b) => a.name.localeCompare(b.name));
      return this.kept(manager, heads);
    });
  }

  async get(id: string): Promise<Kept<Doc>> {
    return this.db.transaction(
      async (manager) => (await this.kept(manager, [await this.headRow(manager, id)]))[0]!,
    );
  }

  async create(doc: Doc): Promise<Kept<Doc>> {
    return this.db.transaction(async (manager) => {
      const taken = await manager.findOne(this.head, { where: { id: doc.id } as FindOptionsWhere<Head> });
      if (taken) throw stale(this.what, 0, (await this.kept(manager, [taken]))[0]!);
      return this.write(manager, doc, 1);
    });
  }

  /** Saves over `version`. A version that is not the kept one is told, with what is kept, and nothing is stored. */
  async save(id: string, version: number, doc: Doc, takeOut = false): Promise<Kept<Doc>> {
    if (doc.id !== id) {
      const message = `The address names ${id} and the body ${doc.id}; they have to be the same.`;
      throw invalid(message, [{ path: 'id', message }]);
    }
    return this.db.transaction(async (manager) => {
      const current = await this.lock(manager, id, version);
      const users = await this.users(manager, current.doc, doc);
      if (users.length > 0 && !takeOut)
        throw inUse(`Nothing was stored: what was taken out of this ${this.what} is in use.`, users);
      if (users.length > 0) await this.takeOutOfUsers(manager, current.doc, doc);
      return this.write(manager, doc, version + 1);
    });
  }

  async remove(id: string, version: number): Promise<void> {
    await this.db.transaction(async (manager) => {
      const current = await this.lock(manager, id, version);
      const users = await this.users(manager, current.doc, null);
      if (users.length > 0) throw inUse(`${current.doc.name} was not deleted: it is in use.`, users);
      await this.drop(manager, id);
    });
  }

  /** Every save, the newest first. */
  async revisions(id: string): Promise<Revision[]> {
    await this.headRow(this.db.manager, id);
    const rows = await this.db.manager.find(RevisionRow, {
      where: { resource: this.resource, documentId: id },
      order: { version: 'DESC' },
      select: { resource: true, documentId: true, version: true, savedAt: true },
    });
    return rows.map((row) => ({ version: row.version, savedAt: row.savedAt.toISOString() }));
  }

  /** A document as it was at one save. */
  async revision(id: string, version: number): Promise<Kept<Doc>> {
    const row = await this.db.manager.findOne(RevisionRow, {
      where: { resource: this.resource, documentId: id, version },
    });
    if (!row) throw gone(`version ${version} of the ${this.what}`, id);
    return { doc: row.doc as Doc, version, savedAt: row.savedAt.toISOString() };
  }

  private async write(manager: EntityManager, doc: Doc, version: number): Promise<Kept<Doc>> {
    const faults = await this.faults(manager, doc);
    if (faults.length > 0) throw invalid(`The ${this.what} was not stored: ${faults[0]!.message}`, faults);
    const savedAt = new Date();
    await manager.save(this.head, { ...this.headOf(doc), version, savedAt } as never);
    await this.writeRows(manager, doc);
    await manager.insert(RevisionRow, {
      resource: this.resource,
      documentId: doc.id,
      version,
      savedAt,
      doc: doc as object,
    });
    return { doc, version, savedAt: savedAt.toISOString() };
  }

  private async lock(manager: EntityManager, id: string, version: number): Promise<Kept<Doc>> {
    const row = await this.headRow(manager, id, true);
    const [current] = await this.kept(manager, [row]);
    if (row.version !== version) throw stale(this.what, version, current!);
    return current!;
  }

  private async headRow(manager: EntityManager, id: string, lock = false): Promise<Head> {
    const where = { id } as FindOptionsWhere<Head>;
    const row = await manager.findOne(
      this.head,
      lock ? { where, lock: { mode: 'pessimistic_write' } } : { where },
    );
    if (!row) throw gone(this.what, id);
    return row;
  }

  private async kept(manager: EntityManager, heads: Head[]): Promise<Kept<Doc>[]> {
    const docs = await this.read(manager, heads);
    return heads.map((head, i) => ({
      doc: docs[i]!,
      version: head.version,
      savedAt: head.savedAt.toISOString(),
    }));
  }
}
