import type { Json } from '@idle-step/core/edits';
import type { Kept, ProblemUser, ReferenceFault, Resource, Revision } from '@idle-step/contract';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, type EntityManager, type EntityTarget, type FindOptionsWhere } from 'typeorm';
import { gone, inUse, invalid, stale } from '../http/problem.exception';
import { Revisions } from '../revisions/revisions';
import { inTransaction } from './transaction';

/** What the head row of every kept document has. */
export type HeadRow = { id: string; name: string; version: number; savedAt: Date };

/** What HTTP may ask of a keeper. */
export type DocStore<Doc> = {
  list(rigId?: string): Promise<Kept<Doc>[]>;
  some(ids: readonly string[]): Promise<Kept<Doc>[]>;
  get(id: string): Promise<Kept<Doc>>;
  create(doc: Doc): Promise<Kept<Doc>>;
  save(id: string, version: number, doc: Doc, takeOut?: boolean): Promise<Kept<Doc>>;
  remove(id: string, version: number): Promise<void>;
  revisions(id: string, before: number | null): Promise<Revision[]>;
  nameRevision(id: string, version: number, name: string | null): Promise<Revision>;
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
  /**
   * What a document says that does not hold against what else is kept. What else it is held against cannot change
   * before the write is over.
   */
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
      if (next === null) await this.dropIn(manager, doc.id);
      else if (next !== doc) await this.write(manager, next, version + 1, []);
    }
  }

  /** Every document of a rig, inside another's transaction. */
  async ofRig(manager: EntityManager, rigId: string): Promise<Doc[]> {
    const where = { rigId } as unknown as FindOptionsWhere<Head>;
    return this.read(manager, await manager.find(this.head, { where }));
  }

  /** Deletes inside another's transaction, whoever uses it. */
  async dropIn(manager: EntityManager, id: string): Promise<void> {
    await manager.delete(this.head, id);
    await new Revisions(manager, this.resource, id).forget();
  }

  /** Keeps a new document inside another's transaction. */
  async createIn(manager: EntityManager, doc: Doc): Promise<Kept<Doc>> {
    const taken = await manager.findOne(this.head, { where: { id: doc.id } as FindOptionsWhere<Head> });
    if (taken) throw stale(this.what, 0, (await this.kept(manager, [taken]))[0]!);
    return this.write(manager, doc, 1, await this.faults(manager, doc));
  }

  /** Saves over a version that the same transaction has written. */
  async saveIn(manager: EntityManager, doc: Doc, version: number): Promise<Kept<Doc>> {
    return this.write(manager, doc, version + 1, await this.faults(manager, doc));
  }

  /** The document at a version, which nobody else changes before the transaction is over. */
  async lockIn(manager: EntityManager, id: string, version: number): Promise<Doc> {
    return (await this.lock(manager, id, version)).doc;
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

  /** Those of some documents that are there, in the order asked for. */
  async some(ids: readonly string[]): Promise<Kept<Doc>[]> {
    return this.db.transaction(async (manager) => {
      const heads = await manager.find(this.head, {
        where: { id: In([...ids]) } as unknown as FindOptionsWhere<Head>,
      });
      const byId = new Map((await this.kept(manager, heads)).map((k) => [k.doc.id, k]));
      return ids.flatMap((id) => byId.get(id) ?? []);
    });
  }

  /** Who would lose something if this were saved over what is kept. */
  async losers(id: string, doc: Doc): Promise<ProblemUser[]> {
    return this.db.transaction(async (manager) => {
      const [current] = await this.kept(manager, [await this.headRow(manager, id)]);
      return this.users(manager, current!.doc, doc);
    });
  }

  /** A question in a transaction of its own. */
  protected asked<T>(question: (manager: EntityManager) => Promise<T>): Promise<T> {
    return this.db.transaction(question);
  }

  async get(id: string): Promise<Kept<Doc>> {
    return this.db.transaction(
      async (manager) => (await this.kept(manager, [await this.headRow(manager, id)]))[0]!,
    );
  }

  async create(doc: Doc): Promise<Kept<Doc>> {
    return inTransaction(this.db, (manager) => this.createIn(manager, doc));
  }

  /** Saves over `version`. A version that is not the kept one is told, with what is kept, and nothing is stored. */
  async save(id: string, version: number, doc: Doc, takeOut = false): Promise<Kept<Doc>> {
    if (doc.id !== id) {
      const message = `The address names ${id} and the body ${doc.id}; they have to be the same.`;
      throw invalid(message, [{ path: 'id', message }]);
    }
    return inTransaction(this.db, async (manager) => {
      const current = await this.lock(manager, id, version);
      this.refuseMove(current.doc, doc);
      const users = await this.users(manager, current.doc, doc);
      if (users.length > 0 && !takeOut)
        throw inUse(
          `Nothing was stored: what this change takes away from the ${this.what} is in use.`,
          users,
        );
      if (users.length > 0) await this.takeOutOfUsers(manager, current.doc, doc);
      return this.write(manager, doc, version + 1, await this.newFaults(manager, current.doc, doc));
    });
  }

  async remove(id: string, version: number): Promise<void> {
    await inTransaction(this.db, async (manager) => {
      const current = await this.lock(manager, id, version);
      const users = await this.users(manager, current.doc, null);
      if (users.length > 0) throw inUse(`${current.doc.name} was not deleted: it is in use.`, users);
      await this.dropIn(manager, id);
    });
  }

  /** A page of saves, the newest first. @param before only those older than this version. */
  async revisions(id: string, before: number | null): Promise<Revision[]> {
    await this.headRow(this.db.manager, id);
    return new Revisions(this.db.manager, this.resource, id).list(before);
  }

  /** A document as it was at one save. */
  async revision(id: string, version: number): Promise<Kept<Doc>> {
    const found = await this.db.transaction((manager) =>
      new Revisions(manager, this.resource, id).at(version),
    );
    if (!found) throw gone(`version ${version} of the ${this.what}`, id);
    return { doc: found.doc as unknown as Doc, version, savedAt: found.savedAt.toISOString() };
  }

  /** Gives a save a name, by which it stays however old it gets, or takes the name away. */
  async nameRevision(id: string, version: number, name: string | null): Promise<Revision> {
    return inTransaction(this.db, async (manager) => {
      const { savedAt } = await this.headRow(manager, id, true);
      const revisions = new Revisions(manager, this.resource, id);
      if (!(await revisions.name(version, name))) throw gone(`version ${version} of the ${this.what}`, id);
      const [found] = await revisions.list(version + 1);
      return found ?? { version, savedAt: savedAt.toISOString(), name };
    });
  }

  /** Faults that the kept text does not have already: an old one is shown and does not stop other edits. */
  private async newFaults(manager: EntityManager, before: Doc, after: Doc): Promise<ReferenceFault[]> {
    const faults = await this.faults(manager, after);
    if (faults.length === 0) return faults;
    const old = new Set((await this.faults(manager, before)).map((f) => f.sentence));
    return faults.filter((f) => !old.has(f.sentence));
  }

  /** A document stays with the rig that it was made for: what it says means nothing in another. */
  private refuseMove(before: Doc, after: Doc): void {
    const rigOf = (doc: Doc) => (doc as { rigId?: string }).rigId;
    if (rigOf(before) === rigOf(after)) return;
    const message = `This ${this.what} belongs to another rig; make a new one there.`;
    throw invalid(`Nothing was stored: ${message}`, [{ path: 'rigId', message }]);
  }

  private async write(
    manager: EntityManager,
    doc: Doc,
    version: number,
    faults: readonly ReferenceFault[],
  ): Promise<Kept<Doc>> {
    if (faults.length > 0)
      throw invalid(
        `The ${this.what} was not stored: ${faults[0]!.sentence}`,
        faults.map(({ code, place, sentence }) => ({ path: place.field ?? '', message: sentence, code })),
      );
    const savedAt = new Date();
    const head = { ...this.headOf(doc), version, savedAt } as never;
    // A new document never takes the place of one that came at the same moment.
    if (version === 1) await manager.insert(this.head, head);
    else await manager.save(this.head, head);
    await this.writeRows(manager, doc);
    await new Revisions(manager, this.resource, doc.id).add(version, savedAt, doc as unknown as Json);
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
