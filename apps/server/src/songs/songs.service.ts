import type { Song } from '@idle-step/core/show';
import { Injectable } from '@nestjs/common';
import {
  songFaults,
  SongSchema,
  SongSummarySchema,
  withoutFaults,
  type Page,
  type ProblemUser,
  type ReferenceFault,
  type SongSummary,
} from '@idle-step/contract';
import { In, type EntityManager } from 'typeorm';
import { asKept } from '../keeping/asKept';
import { Keeper } from '../keeping/keeper';
import { inChunks } from '../keeping/chunks';
import { groupRows, syncRows } from '../keeping/sync-rows';
import { rigFor, rigToComeBackTo } from '../rigs/rig-for';
import { SetEntryRow, SetlistRow } from '../sets/set.entity';
import { SceneRow, SceneValueRow, SongRow } from './song.entity';
import { nth, there } from '@idle-step/core/sure';

@Injectable()
export class SongsService extends Keeper<Song, SongRow> {
  protected readonly resource = 'songs';
  protected readonly what = 'song';
  protected readonly head = SongRow;
  protected readonly schema = SongSchema;

  /** Lines of the list of a rig's songs, by name. */
  summaries(rigId: string, from: number, count: number): Promise<Page<SongSummary>> {
    return this.asked(async (manager) => {
      const total = await this.countOf(manager, rigId);
      // The place in the list is found by names alone: only the rows of the page are read.
      const lines = await manager.find(SongRow, {
        select: { id: true },
        where: { rigId },
        order: { name: 'ASC', id: 'ASC' },
        skip: from,
        take: count,
      });
      const ofPage = In(lines.map((line) => line.id));
      const rows = await manager.find(SongRow, {
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
        where: { id: ofPage },
        order: { name: 'ASC', id: 'ASC' },
      });
      const counts = await manager
        .createQueryBuilder(SceneRow, 'scene')
        .select('scene.songId', 'songId')
        .addSelect('COUNT(*)', 'scenes')
        .where({ songId: ofPage })
        .groupBy('scene.songId')
        .getRawMany<{ songId: string; scenes: string }>();
      const scenesOf = new Map(counts.map((c) => [c.songId, Number(c.scenes)]));
      const items = rows.map((row) =>
        asKept(SongSummarySchema, { ...row, sceneCount: scenesOf.get(row.id) ?? 0 }),
      );
      return { total, items };
    });
  }

  /** The songs of a rig in which one of some identifiers stands, whatever it is there: only these are read then. */
  async idsWith(manager: EntityManager, rigId: string, wanted: readonly string[]): Promise<string[]> {
    const found = new Set<string>();
    for (const some of inChunks(wanted)) {
      const rows = await manager.query<{ id: string }[]>(
        `SELECT s.id FROM song s JOIN scene c ON c.songId = s.id JOIN scene_value v ON v.sceneId = c.id
           WHERE s.rigId = ? AND v.functionId IN (?)
         UNION SELECT id FROM song WHERE rigId = ? AND CONCAT_WS(' ', line, parts) REGEXP ?
         UNION SELECT s.id FROM song s JOIN scene c ON c.songId = s.id
           WHERE s.rigId = ? AND CONCAT_WS(' ', c.transition, c.banks, c.routes, c.armedFunctionIds, c.controls) REGEXP ?`,
        [rigId, some, rigId, some.join('|'), rigId, some.join('|')],
      );
      for (const { id } of rows) found.add(id);
    }
    return [...found];
  }

  protected async read(manager: EntityManager, heads: SongRow[]): Promise<Song[]> {
    const scenes = await manager.findBy(SceneRow, { songId: In(heads.map((h) => h.id)) });
    const values = groupRows(
      await manager.findBy(SceneValueRow, { sceneId: In(scenes.map((s) => s.id)) }),
      'sceneId',
    );
    const scenesOf = groupRows(scenes, 'songId');
    return heads.map(({ version: _v, savedAt: _s, ...head }) =>
      asKept(SongSchema, {
        ...head,
        scenes: (scenesOf.get(head.id) ?? []).map(({ songId: _song, position: _at, ...scene }) => ({
          ...scene,
          values: (values.get(scene.id) ?? []).map(({ functionId, value, way, note }) => ({
            functionId,
            value,
            way,
            ...(note === null ? {} : { note }),
          })),
        })),
      }),
    );
  }

  protected headOf({ scenes: _scenes, ...head }: Song) {
    return head;
  }

  protected async writeRows(manager: EntityManager, docs: readonly Song[]): Promise<void> {
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
      scenes.flatMap((scene) =>
        scene.values.map((v, position) => ({ ...v, note: v.note ?? null, sceneId: scene.id, position })),
      ),
    );
  }

  protected async faults(manager: EntityManager, docs: readonly Song[]): Promise<ReferenceFault[][]> {
    const rig = await rigFor(manager, nth(docs, 0).rigId);
    return docs.map((doc) => (Array.isArray(rig) ? rig : songFaults(rig, doc)));
  }

  protected async fitted(manager: EntityManager, doc: Song): Promise<Song> {
    return there(withoutFaults(await rigToComeBackTo(manager, doc.rigId), doc));
  }

  protected async users(manager: EntityManager, before: Song, after: Song | null): Promise<ProblemUser[]> {
    if (after) return [];
    const entries = await manager.findBy(SetEntryRow, { songId: before.id });
    const sets = await manager.findBy(SetlistRow, { id: In(entries.map((e) => e.setlistId)) });
    return sets.map(({ id, name }) => ({ kind: 'set', id, name, place: '' }));
  }
}
