import type { Setlist } from '@idle-step/core/show';
import { Injectable } from '@nestjs/common';
import {
  referenceFault,
  type Page,
  type ProblemUser,
  type ReferenceFault,
  type SetSummary,
  SetlistSchema,
} from '@idle-step/contract';
import { In, type EntityManager } from 'typeorm';
import { asKept } from '../keeping/asKept';
import { Keeper } from '../keeping/keeper';
import { groupRows, syncRows } from '../keeping/sync-rows';
import { rigFor, rigToComeBackTo } from '../rigs/rig-for';
import { SongRow } from '../songs/song.entity';
import { SetEntryRow, SetlistRow } from './set.entity';
import { nth } from '@idle-step/core/sure';

@Injectable()
export class SetsService extends Keeper<Setlist, SetlistRow> {
  protected readonly resource = 'sets';
  protected readonly what = 'set';
  protected readonly head = SetlistRow;
  protected readonly schema = SetlistSchema;

  /** Lines of the list of a rig's sets, by name. @param songId only those in which this song stands. */
  summaries(rigId: string, songId: string | null, from: number, count: number): Promise<Page<SetSummary>> {
    return this.asked(async (manager) => {
      const within =
        songId === null
          ? {}
          : { id: In((await manager.findBy(SetEntryRow, { songId })).map((e) => e.setlistId)) };
      const [rows, total] = await manager.findAndCount(SetlistRow, {
        select: { id: true, rigId: true, name: true, date: true, place: true },
        where: { rigId, ...within },
        order: { name: 'ASC', id: 'ASC' },
        skip: from,
        take: count,
      });
      const counts = await manager
        .createQueryBuilder(SetEntryRow, 'entry')
        .select('entry.setlistId', 'setlistId')
        .addSelect('COUNT(*)', 'songs')
        .where({ setlistId: In(rows.map((r) => r.id)), kind: 'song' })
        .groupBy('entry.setlistId')
        .getRawMany<{ setlistId: string; songs: string }>();
      const songsOf = new Map(counts.map((c) => [c.setlistId, Number(c.songs)]));
      const items = rows.map(({ id, rigId: rig, name, date, place }): SetSummary => {
        return { id, rigId: rig, name, date, place, songCount: songsOf.get(id) ?? 0 };
      });
      return { total, items };
    });
  }

  protected async read(manager: EntityManager, heads: SetlistRow[]): Promise<Setlist[]> {
    const entries = groupRows(
      await manager.findBy(SetEntryRow, { setlistId: In(heads.map((h) => h.id)) }),
      'setlistId',
    );
    return heads.map(({ version: _v, savedAt: _s, ...head }) =>
      asKept(SetlistSchema, { ...head, entries: (entries.get(head.id) ?? []).map(readEntry) }),
    );
  }

  protected headOf({ entries: _entries, ...head }: Setlist) {
    return head;
  }

  protected async writeRows(manager: EntityManager, docs: readonly Setlist[]): Promise<void> {
    await syncRows(
      manager,
      SetEntryRow,
      { column: 'setlistId', ids: docs.map((d) => d.id) },
      ['id'],
      docs.flatMap((doc) =>
        doc.entries.map((entry, position) => ({
          id: entry.id,
          setlistId: doc.id,
          position,
          kind: entry.kind,
          songId: entry.kind === 'song' ? entry.songId : null,
          name: entry.kind === 'song' ? null : entry.name,
          lengthS: entry.lengthS,
          isEncore: entry.isEncore,
          notTonight: entry.notTonight,
          remark: entry.remark,
          leftOutSceneIds: entry.kind === 'song' ? entry.leftOutSceneIds : null,
        })),
      ),
    );
  }

  protected async faults(manager: EntityManager, docs: readonly Setlist[]): Promise<ReferenceFault[][]> {
    const rig = await rigFor(manager, nth(docs, 0).rigId);
    if (Array.isArray(rig)) return docs.map(() => rig);
    const there = await songsThere(manager, docs);
    return docs.map((doc) =>
      doc.entries.flatMap((entry, i) => {
        if (entry.kind !== 'song' || there.get(entry.songId) === doc.rigId) return [];
        return [
          referenceFault(
            'gone',
            `entries.${i}.songId`,
            `The song in line ${i + 1} of the running order is gone.`,
          ),
        ];
      }),
    );
  }

  protected async fitted(manager: EntityManager, doc: Setlist): Promise<Setlist> {
    await rigToComeBackTo(manager, doc.rigId);
    const there = await songsThere(manager, [doc]);
    return {
      ...doc,
      entries: doc.entries.filter((e) => e.kind !== 'song' || there.get(e.songId) === doc.rigId),
    };
  }

  protected users(): Promise<ProblemUser[]> {
    return Promise.resolve([]);
  }
}

const readEntry = ({
  setlistId: _set,
  position: _at,
  kind,
  name,
  songId,
  leftOutSceneIds,
  ...shared
}: SetEntryRow) =>
  kind === 'song'
    ? { ...shared, kind, songId, leftOutSceneIds: leftOutSceneIds ?? [] }
    : { ...shared, kind, name };

/** The rigs of the songs that stand in some sets, by song; those that are gone are missing. */
async function songsThere(
  manager: EntityManager,
  docs: readonly Setlist[],
): Promise<ReadonlyMap<string, string>> {
  const wanted = new Set(docs.flatMap((d) => d.entries.flatMap((e) => (e.kind === 'song' ? e.songId : []))));
  const rows = await manager.find(SongRow, {
    where: { id: In([...wanted]) },
    select: { id: true, rigId: true },
  });
  return new Map(rows.map((s) => [s.id, s.rigId]));
}
