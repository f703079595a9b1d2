import { Injectable } from '@nestjs/common';
import {
  songFaults,
  SongSchema,
  withoutFaults,
  type Page,
  type ProblemUser,
  type ReferenceFault,
  type SceneDoc,
  type SongDoc,
  type SongSummary,
} from '@idle-step/contract';
import { In, type EntityManager } from 'typeorm';
import { Keeper } from '../keeping/keeper';
import { groupRows, syncRows } from '../keeping/sync-rows';
import { rigFor, rigToComeBackTo } from '../rigs/rig-for';
import { SetEntryRow, SetlistRow } from '../sets/set.entity';
import { SceneRow, SceneValueRow, SongRow } from './song.entity';

@Injectable()
export class SongsService extends Keeper<SongDoc, SongRow> {
  protected readonly resource = 'songs';
  protected readonly what = 'song';
  protected readonly head = SongRow;
  protected readonly schema = SongSchema;

  /** Lines of the list of a rig's songs, by name. */
  summaries(rigId: string, from: number, count: number): Promise<Page<SongSummary>> {
    return this.asked(async (manager) => {
      const [rows, total] = await manager.findAndCount(SongRow, {
        select: {
          id: true,
          rigId: true,
          name: true,
          tempoBpm: true,
          beatsPerBar: true,
          beatUnit: true,
          lengthS: true,
          key: true,
          remark: true,
          tags: true,
        },
        where: { rigId },
        order: { name: 'ASC', id: 'ASC' },
        skip: from,
        take: count,
      });
      const counts = await manager
        .createQueryBuilder(SceneRow, 'scene')
        .select('scene.songId', 'songId')
        .addSelect('COUNT(*)', 'scenes')
        .where({ songId: In(rows.map((r) => r.id)) })
        .groupBy('scene.songId')
        .getRawMany<{ songId: string; scenes: string }>();
      const scenesOf = new Map(counts.map((c) => [c.songId, Number(c.scenes)]));
      const items = rows.map((row): SongSummary => ({
        ...(row as unknown as SongSummary),
        sceneCount: scenesOf.get(row.id) ?? 0,
      }));
      return { total, items };
    });
  }

  protected async read(manager: EntityManager, heads: SongRow[]): Promise<SongDoc[]> {
    const scenes = await manager.findBy(SceneRow, { songId: In(heads.map((h) => h.id)) });
    const values = groupRows(
      await manager.findBy(SceneValueRow, { sceneId: In(scenes.map((s) => s.id)) }),
      'sceneId',
    );
    const scenesOf = groupRows(scenes, 'songId');
    return heads.map(({ version: _v, savedAt: _s, ...head }) => ({
      ...(head as Omit<SongDoc, 'scenes'>),
      scenes: (scenesOf.get(head.id) ?? []).map(({ songId: _song, position: _at, ...scene }) => ({
        ...(scene as Omit<SceneDoc, 'values'>),
        values: (values.get(scene.id) ?? []).map(({ functionId, value, way }) => ({
          functionId,
          value,
          way: way as SceneDoc['values'][number]['way'],
        })),
      })),
    }));
  }

  protected headOf({ scenes: _scenes, ...head }: SongDoc) {
    return head;
  }

  protected async writeRows(manager: EntityManager, docs: readonly SongDoc[]): Promise<void> {
    const scenes = docs.flatMap((d) => d.scenes);
    await syncRows(
      manager,
      SceneRow,
      { column: 'songId', ids: docs.map((d) => d.id) },
      ['id'],
      docs.flatMap((doc) =>
        doc.scenes.map(({ values: _values, ...scene }, position) => ({ ...scene, songId: doc.id, position })),
      ),
    );
    await syncRows(
      manager,
      SceneValueRow,
      { column: 'sceneId', ids: scenes.map((s) => s.id) },
      ['sceneId', 'functionId'],
      scenes.flatMap((scene) => scene.values.map((v, position) => ({ ...v, sceneId: scene.id, position }))),
    );
  }

  protected async faults(manager: EntityManager, docs: readonly SongDoc[]): Promise<ReferenceFault[][]> {
    const rig = await rigFor(manager, docs[0]!.rigId);
    return docs.map((doc) => (Array.isArray(rig) ? rig : songFaults(rig, doc)));
  }

  protected async fitted(manager: EntityManager, doc: SongDoc): Promise<SongDoc> {
    return withoutFaults(await rigToComeBackTo(manager, doc.rigId), doc)!;
  }

  protected async users(
    manager: EntityManager,
    before: SongDoc,
    after: SongDoc | null,
  ): Promise<ProblemUser[]> {
    if (after) return [];
    const entries = await manager.findBy(SetEntryRow, { songId: before.id });
    const sets = await manager.findBy(SetlistRow, { id: In(entries.map((e) => e.setlistId)) });
    return sets.map(({ id, name }) => ({ kind: 'set', id, name, place: '' }));
  }
}
