import type { Kept, ProblemUser, ReferenceFault, Resource, Revision } from '@idle-step/contract';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, In, type EntityManager, type EntityTarget, type FindOptionsWhere } from 'typeorm';
import type { z } from 'zod';
import { Bin } from '../bin/bin';
import type { BinnedRow } from '../bin/binned.entity';
import { gone, inUse, invalid, stale, taken } from '../http/problem.exception';
import { Revisions } from '../revisions/revisions';
import { asKept } from './asKept';
import { inChunks } from './chunks';
import { insertRows } from './sync-rows';
import { inTransaction, readingAtOnce } from './transaction';
import { nth, there } from '@idle-step/core/sure';

/** What the head row of every kept document has. */
export type HeadRow = { id: string; name: string; version: number; savedAt: Date };

/** What HTTP may ask of a keeper. */
export type DocStore<Doc> = {
  list(rigId?: string): AsyncGenerator<readonly Kept<Doc>[]>;
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
  /** What its text looks like. */
  protected abstract readonly schema: z.ZodType<Doc>;

  @InjectDataSource() private readonly db!: DataSource;

  /** The documents of some head rows, in their order. */
  protected abstract read(manager: EntityManager, heads: Head[]): Promise<Doc[]>;
  /** The columns of the head row besides version and time. */
  protected abstract headOf(doc: Doc): Omit<Head, 'version' | 'savedAt'>;
  /** Writes everything below the head rows of some documents. */
  protected abstract writeRows(manager: EntityManager, docs: readonly Doc[]): Promise<void>;
  /**
   * What each of some documents of one rig says that does not hold against what else is kept. What else they are held
   * against cannot change before the write is over.
   */
  protected abstract faults(manager: EntityManager, docs: readonly Doc[]): Promise<ReferenceFault[][]>;
  /** Who would lose something by a change; `after` is `null` for a delete. */
  protected abstract users(manager: EntityManager, before: Doc, after: Doc | null): Promise<ProblemUser[]>;

  /** A document from the bin without what points at what is gone meanwhile; nothing is taken out where all holds. */
  protected abstract fitted(
    manager: EntityManager,
    doc: Doc,
    faults: readonly ReferenceFault[],
  ): Promise<Doc>;

  /** Boards on which a document is in force. */
  protected inForceOn(_manager: EntityManager, _id: string): Promise<string[]> {
    return Promise.resolve([]);
  }

  /** Takes what a change removes out of everything that uses it, in the same transaction. */
  protected takeOutOfUsers(_manager: EntityManager, _before: Doc, _after: Doc): Promise<void> {
    throw new Error(`Nothing uses parts of a ${this.what}`);
  }

  /** Changes some documents inside another's transaction; those given back as they were are left alone. */
  async rewriteAll(
    manager: EntityManager,
    ids: readonly string[],
    change: (doc: Doc) => Doc | null,
  ): Promise<void> {
    for (const some of inChunks(ids)) {
      const heads = await manager.find(this.head, {
        where: byIds<Head>(some),
        lock: { mode: 'pessimistic_write' },
      });
      for (const { doc, version } of await this.kept(manager, heads)) {
        const next = change(doc);
        if (next === null) await this.binIn(manager, [{ doc, version }], false);
        else if (next !== doc) await this.write(manager, next, version + 1, []);
      }
    }
  }

  /** The identifiers of all of a rig. */
  async idsOf(manager: EntityManager, rigId: string): Promise<string[]> {
    return (await this.lines(manager, ofRig<Head>(rigId))).map((line) => line.id);
  }

  /** Some documents, inside another's transaction. */
  async those(manager: EntityManager, ids: readonly string[]): Promise<Doc[]> {
    const docs: Doc[] = [];
    for (const some of inChunks(ids)) {
      const where = byIds<Head>(some);
      docs.push(...(await this.read(manager, await manager.find(this.head, { where }))));
    }
    return docs;
  }

  /** Every document of a rig in pieces, inside another's transaction. */
  async *piecesOfRig(manager: EntityManager, rigId: string): AsyncGenerator<readonly Doc[]> {
    const lines = await this.lines(manager, ofRig<Head>(rigId));
    for await (const heads of this.headPieces(manager, lines)) yield this.read(manager, heads);
  }

  /** Every document of a rig, inside another's transaction. */
  async ofRig(manager: EntityManager, rigId: string): Promise<Doc[]> {
    const docs: Doc[] = [];
    for await (const some of this.piecesOfRig(manager, rigId)) docs.push(...some);
    return docs;
  }

  /**
   * Deletes inside another's transaction, whoever uses them: they go into the bin.
   * @param isWithRig because their rig goes, so that they come back with it.
   */
  async binIn(
    manager: EntityManager,
    kept: readonly Pick<Kept<Doc>, 'doc' | 'version'>[],
    isWithRig: boolean,
  ): Promise<void> {
    const deletedAt = new Date();
    const rows: BinnedRow[] = [];
    for (const { doc, version } of kept)
      rows.push({
        resource: this.resource,
        documentId: doc.id,
        rigId: rigOf(doc),
        isWithRig,
        name: doc.name,
        deletedAt,
        version,
        doc,
        // A rig that comes back brings its boards as they were.
        inForceOn: isWithRig ? [] : await this.inForceOn(manager, doc.id),
      });
    await new Bin(manager).put(rows);
    await manager.delete(this.head, { id: In(kept.map((k) => k.doc.id)) });
  }

  /** How many of a rig there are. */
  countOf(manager: EntityManager, rigId: string): Promise<number> {
    return manager.countBy(this.head, ofRig<Head>(rigId));
  }

  /** Every document of a rig goes into the bin with it. @param done told how many each piece had. */
  async binAllIn(manager: EntityManager, rigId: string, done: (count: number) => void = none): Promise<void> {
    const lines = await this.lines(manager, ofRig<Head>(rigId));
    for await (const heads of this.headPieces(manager, lines)) {
      await this.binIn(manager, await this.kept(manager, heads), true);
      done(heads.length);
    }
  }

  /** Lays new documents of a rig aside until that comes itself. They may come again; another rig's are refused. */
  async layAside(manager: EntityManager, rigId: string, docs: readonly Doc[]): Promise<void> {
    const laidAt = new Date();
    for (const some of inChunks(docs)) {
      for (const doc of some)
        if (rigOf(doc) !== rigId)
          throw invalid(`Nothing was stored: ${doc.name} belongs to another rig.`, [
            { path: 'rigId', message: 'It belongs to another rig.' },
          ]);
      await new Bin(manager).layAside(
        some.map((doc) => ({
          resource: this.resource,
          documentId: doc.id,
          rigId,
          isWithRig: true,
          name: doc.name,
          deletedAt: laidAt,
          version: 0,
          doc,
          inForceOn: [],
        })),
      );
    }
  }

  /** Refuses an identifier that is kept already, or waits in the bin. */
  async refuseTaken(manager: EntityManager, id: string): Promise<void> {
    const there = await manager.findOne(this.head, { where: byIds<Head>([id]) });
    if (there) throw stale(this.what, 0, await this.keptOne(manager, there));
    if (await new Bin(manager).find(this.resource, id))
      throw taken(`A ${this.what} of this identifier is in the bin; bring that back instead.`);
  }

  /** A document inside another's transaction. */
  async getIn(manager: EntityManager, id: string): Promise<Doc> {
    return (await this.keptOne(manager, await this.headRow(manager, id))).doc;
  }

  /** Keeps a document from the bin, as far as it still fits. @returns what does not, in sentences. */
  async bringBackIn(manager: EntityManager, row: BinnedRow): Promise<string[]> {
    const doc = this.parsed(row.doc);
    const [faults] = await this.faults(manager, [doc]);
    const fitting = there(faults).length > 0 ? await this.fitted(manager, doc, there(faults)) : doc;
    await this.createIn(manager, fitting);
    return there(faults).map((f) => f.sentence);
  }

  /** Keeps everything that went into the bin with a rig. @param done told how many each piece had. */
  async bringAllBackIn(
    manager: EntityManager,
    rigId: string,
    done: (count: number) => void = none,
  ): Promise<void> {
    const bin = new Bin(manager);
    for (;;) {
      const rows = await bin.someOfRig(this.resource, rigId);
      if (rows.length === 0) return;
      await this.createAllIn(
        manager,
        rows.map((row) => this.parsed(row.doc)),
      );
      done(rows.length);
    }
  }

  /** Keeps a new document inside another's transaction; one that was deleted goes on from its saves. */
  async createIn(manager: EntityManager, doc: Doc): Promise<Kept<Doc>> {
    const [kept] = await this.createAllIn(manager, [doc]);
    return there(kept);
  }

  /** Keeps new documents of one rig inside another's transaction. */
  async createAllIn(manager: EntityManager, docs: readonly Doc[]): Promise<Kept<Doc>[]> {
    const created: Kept<Doc>[] = [];
    for (const some of inChunks(docs)) {
      const ids = some.map((d) => d.id);
      const [there] = await manager.find(this.head, { where: byIds<Head>(ids), take: 1 });
      if (there) throw stale(this.what, 0, await this.keptOne(manager, there));
      const faults = await this.faults(manager, some);
      faults.forEach((f) => this.refuse(f));
      const versions = await new Bin(manager).take(this.resource, ids);
      const savedAt = new Date();
      const items = some.map((doc) => ({ doc, version: (versions.get(doc.id) ?? 0) + 1, savedAt }));
      // A new document never takes the place of one that came at the same moment.
      await insertRows(
        manager,
        this.head,
        items.map(({ doc, version }) => ({ ...this.headOf(doc), version, savedAt })),
      );
      await this.writeRows(manager, some);
      await Revisions.addWhole(manager, this.resource, items);
      created.push(...items.map((item) => ({ ...item, savedAt: savedAt.toISOString() })));
    }
    return created;
  }

  /** Saves over a version that the same transaction has written. */
  async saveIn(manager: EntityManager, doc: Doc, version: number): Promise<Kept<Doc>> {
    return this.write(manager, doc, version + 1, nth(await this.faults(manager, [doc]), 0));
  }

  /** Changes a document as it is kept, inside another's transaction. */
  async changeIn(manager: EntityManager, id: string, change: (doc: Doc) => Doc): Promise<void> {
    const { doc, version } = await this.keptOne(manager, await this.headRow(manager, id, true));
    await this.saveIn(manager, change(doc), version);
  }

  /** The document at a version, which nobody else changes before the transaction is over. */
  lockIn(manager: EntityManager, id: string, version: number): Promise<Kept<Doc>> {
    return this.lock(manager, id, version);
  }

  /** By name, in pieces; only those of one rig where it is given. All as they are at one moment. */
  async *list(rigId?: string): AsyncGenerator<readonly Kept<Doc>[]> {
    const where = rigId === undefined ? {} : ofRig<Head>(rigId);
    yield* readingAtOnce(this.db, (manager) => this.pieces(manager, where));
  }

  private async *pieces(
    manager: EntityManager,
    where: FindOptionsWhere<Head>,
  ): AsyncGenerator<readonly Kept<Doc>[]> {
    const lines = await this.lines(manager, where);
    const { compare } = new Intl.Collator();
    lines.sort((a, b) => compare(a.name, b.name));
    for await (const heads of this.headPieces(manager, lines)) yield this.kept(manager, heads);
  }

  /** Identifiers and names alone: of thousands the rest is read in pieces. */
  private lines(
    manager: EntityManager,
    where: FindOptionsWhere<Head>,
  ): Promise<{ id: string; name: string }[]> {
    return manager
      .createQueryBuilder(this.head, 'head')
      .select('head.id', 'id')
      .addSelect('head.name', 'name')
      .where(where)
      .getRawMany<{ id: string; name: string }>();
  }

  /** The head rows of some lines in pieces, in their order. */
  private async *headPieces(
    manager: EntityManager,
    lines: readonly { readonly id: string }[],
  ): AsyncGenerator<Head[]> {
    for (const some of inChunks(lines)) {
      const where = byIds<Head>(some.map((l) => l.id));
      const byId = new Map((await manager.find(this.head, { where })).map((h) => [h.id, h]));
      yield some.flatMap((l) => byId.get(l.id) ?? []);
    }
  }

  /** Whether one at least is kept, or waits in the bin. */
  async isAnyKept(): Promise<boolean> {
    const { manager } = this.db;
    return (await manager.exists(this.head)) || (await new Bin(manager).isAny(this.resource));
  }

  /** Those of some documents that are there, in the order asked for. */
  async some(ids: readonly string[]): Promise<Kept<Doc>[]> {
    return this.db.transaction(async (manager) => {
      const heads = await manager.find(this.head, {
        where: byIds<Head>(ids),
      });
      const byId = new Map((await this.kept(manager, heads)).map((k) => [k.doc.id, k]));
      return ids.flatMap((id) => byId.get(id) ?? []);
    });
  }

  /** Who would lose something if this were saved over what is kept. */
  async losers(id: string, doc: Doc): Promise<ProblemUser[]> {
    return this.db.transaction(async (manager) => {
      const current = await this.keptOne(manager, await this.headRow(manager, id));
      return this.users(manager, current.doc, doc);
    });
  }

  /** A question in a transaction of its own. */
  protected asked<T>(question: (manager: EntityManager) => Promise<T>): Promise<T> {
    return this.db.transaction(question);
  }

  async get(id: string): Promise<Kept<Doc>> {
    return this.db.transaction(async (manager) => this.keptOne(manager, await this.headRow(manager, id)));
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
      await this.binIn(manager, [current], false);
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
    // A save is kept under the kind of its document.
    return { doc: found.doc as Doc, version, savedAt: found.savedAt.toISOString() };
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
    const [faults, old] = await this.faults(manager, [after, before]);
    const known = new Set(there(old).map((f) => f.sentence));
    return there(faults).filter((f) => !known.has(f.sentence));
  }

  /** A document stays with the rig that it was made for: what it says means nothing in another. */
  private refuseMove(before: Doc, after: Doc): void {
    if (rigOf(before) === rigOf(after)) return;
    const message = `This ${this.what} belongs to another rig; make a new one there.`;
    throw invalid(`Nothing was stored: ${message}`, [{ path: 'rigId', message }]);
  }

  private refuse(faults: readonly ReferenceFault[]): void {
    if (faults.length > 0)
      throw invalid(
        `The ${this.what} was not stored: ${nth(faults, 0).sentence}`,
        faults.map(({ code, place, sentence }) => ({ path: place.field ?? '', message: sentence, code })),
      );
  }

  /** As it was when it was deleted, with what was added to documents since. */
  private parsed(doc: unknown): Doc {
    return asKept(this.schema, doc);
  }

  private async write(
    manager: EntityManager,
    doc: Doc,
    version: number,
    faults: readonly ReferenceFault[],
  ): Promise<Kept<Doc>> {
    this.refuse(faults);
    const savedAt = new Date();
    // TypeORM's type for a row to write is not known for a head that is any of four.
    await manager.save(this.head, { ...this.headOf(doc), version, savedAt } as never);
    await this.writeRows(manager, [doc]);
    await new Revisions(manager, this.resource, doc.id).add(version, savedAt, doc);
    return { doc, version, savedAt: savedAt.toISOString() };
  }

  private async lock(manager: EntityManager, id: string, version: number): Promise<Kept<Doc>> {
    const row = await this.headRow(manager, id, true);
    const current = await this.keptOne(manager, row);
    if (row.version !== version) throw stale(this.what, version, current);
    return current;
  }

  private async headRow(manager: EntityManager, id: string, lock = false): Promise<Head> {
    const where = byIds<Head>([id]);
    const row = await manager.findOne(
      this.head,
      lock ? { where, lock: { mode: 'pessimistic_write' } } : { where },
    );
    if (!row) throw gone(this.what, id);
    return row;
  }

  private async keptOne(manager: EntityManager, head: Head): Promise<Kept<Doc>> {
    const [one] = await this.kept(manager, [head]);
    return there(one);
  }

  private async kept(manager: EntityManager, heads: Head[]): Promise<Kept<Doc>[]> {
    const docs: Doc[] = [];
    for (const some of inChunks(heads)) docs.push(...(await this.read(manager, [...some])));
    return heads.map((head, i) => ({
      doc: nth(docs, i),
      version: head.version,
      savedAt: head.savedAt.toISOString(),
    }));
  }
}

/** The rig that a document belongs to; of a rig itself. */
const rigOf = (doc: { readonly id: string; readonly rigId?: string }): string => doc.rigId ?? doc.id;

const none = (): void => undefined;

/** Rows by their identifiers. */
const byIds = <Head>(ids: readonly string[]): FindOptionsWhere<Head> => where({ id: In([...ids]) });

/** Those that belong to a rig. */
const ofRig = <Head>(rigId: string): FindOptionsWhere<Head> => where({ rigId });

/** TypeORM's type asks for a kind of row that is known; every head row has these fields. */
const where = <Head>(fields: object): FindOptionsWhere<Head> => fields as FindOptionsWhere<Head>;
