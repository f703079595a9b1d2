import type { FullRig } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import type { Preset } from '@idle-step/core/floor';
import { Inject, Injectable } from '@nestjs/common';
import {
  referenceFault,
  RigSchema,
  spoiledBy,
  takenAway,
  withoutFaults,
  type ProblemUser,
  type ReferenceFault,
} from '@idle-step/contract';
import { In, type EntityManager } from 'typeorm';
import { Keeper } from '../keeping/keeper';
import { PresetRow } from '../presets/preset.entity';
import { PresetsService } from '../presets/presets.service';
import { SetlistRow } from '../sets/set.entity';
import { SongRow } from '../songs/song.entity';
import { SongsService } from '../songs/songs.service';
import { RigRow } from './rig.entity';
import { readRigs, writeRigRows } from './rig.rows';

@Injectable()
export class RigsService extends Keeper<FullRig, RigRow> {
  protected readonly resource = 'rigs';
  protected readonly what = 'rig';
  protected readonly head = RigRow;
  protected readonly schema = RigSchema;

  constructor(
    @Inject(SongsService) private readonly songs: SongsService,
    @Inject(PresetsService) private readonly presets: PresetsService,
  ) {
    super();
  }

  /** Whatever the change spoils goes from songs and presets; presets of boards that go, go. */
  protected override async takeOutOfUsers(
    manager: EntityManager,
    before: FullRig,
    after: FullRig,
  ): Promise<void> {
    const without = <D extends Song | Preset>(doc: D): D | null =>
      spoiledBy(before, after, doc).length === 0 ? doc : withoutFaults(after, doc);
    const gone = takenAway(before, after);
    await this.songs.rewriteAll(manager, await this.songs.idsWith(manager, before.id, gone), without);
    await this.presets.rewriteAll(manager, await this.presets.idsOf(manager, before.id), without);
  }

  protected read(manager: EntityManager, heads: RigRow[]): Promise<FullRig[]> {
    return readRigs(manager, heads);
  }

  protected headOf({ id, name, middleC, stepGuardMs, routing }: FullRig) {
    return { id, name, middleC, stepGuardMs, othersTo: routing.othersTo };
  }

  protected async writeRows(manager: EntityManager, docs: readonly FullRig[]): Promise<void> {
    for (const doc of docs) await writeRigRows(manager, doc);
  }

  /** The preset in force on a board has to be one of that board's. */
  protected async faults(manager: EntityManager, docs: readonly FullRig[]): Promise<ReferenceFault[][]> {
    const wanted = docs.flatMap((doc) => doc.boards.flatMap((b) => b.presetId ?? []));
    const there = wanted.length === 0 ? [] : await manager.findBy(PresetRow, { id: In(wanted) });
    const presets = new Map(there.map((p) => [p.id, p]));
    return docs.map((doc) =>
      doc.boards.flatMap((board, i) => {
        if (board.presetId === null || presets.get(board.presetId)?.boardId === board.id) return [];
        return [
          referenceFault(
            'gone',
            `boards.${i}.presetId`,
            'The preset of this board is gone, or belongs to another board.',
          ),
        ];
      }),
    );
  }

  /** Without the presets in force that are gone. */
  protected fitted(
    _manager: EntityManager,
    doc: FullRig,
    faults: readonly ReferenceFault[],
  ): Promise<FullRig> {
    const fields = new Set(faults.map((f) => f.place.field));
    const boards = doc.boards.map((b, i) =>
      fields.has(`boards.${i}.presetId`) ? { ...b, presetId: null } : b,
    );
    return Promise.resolve({ ...doc, boards });
  }

  protected async users(
    manager: EntityManager,
    before: FullRig,
    after: FullRig | null,
  ): Promise<ProblemUser[]> {
    if (!after) return this.usersOfRig(manager, before);
    // Thousands of songs are not read for an edit that takes nothing away from them.
    const gone = takenAway(before, after);
    if (gone.length === 0) return [];
    const spoiled = (kind: string, docs: readonly (Song | Preset)[]): ProblemUser[] =>
      docs.flatMap((doc) => {
        const places = spoiledBy(before, after, doc).map((f) => f.where);
        return [...new Set(places)].map((place) => ({ kind, id: doc.id, name: doc.name, place }));
      });
    return [
      ...spoiled('song', await this.songs.those(manager, await this.songs.idsWith(manager, before.id, gone))),
      ...spoiled('preset', await this.presets.ofRig(manager, before.id)),
    ];
  }

  private async usersOfRig(manager: EntityManager, { id: rigId }: FullRig): Promise<ProblemUser[]> {
    const named = async (entity: typeof SongRow | typeof PresetRow | typeof SetlistRow, kind: string) =>
      (await manager.findBy(entity, { rigId })).map(({ id, name }) => ({ kind, id, name, place: '' }));
    return [
      ...(await named(PresetRow, 'preset')),
      ...(await named(SongRow, 'song')),
      ...(await named(SetlistRow, 'set')),
    ];
  }
}
