import { Inject, Injectable } from '@nestjs/common';
import { RIG_FILE_FORMAT, type Kept, type RigDoc, type RigFile } from '@idle-step/contract';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { inTransaction } from '../keeping/transaction';
import { PresetsService } from '../presets/presets.service';
import { RigsService } from '../rigs/rigs.service';
import { SetsService } from '../sets/sets.service';
import { SongsService } from '../songs/songs.service';

/** A rig with everything that belongs to it, kept, read and deleted as one: whole or not at all. */
@Injectable()
export class WholeRigs {
  constructor(
    @InjectDataSource() private readonly db: DataSource,
    @Inject(RigsService) private readonly rigs: RigsService,
    @Inject(PresetsService) private readonly presets: PresetsService,
    @Inject(SongsService) private readonly songs: SongsService,
    @Inject(SetsService) private readonly sets: SetsService,
  ) {}

  create({ rig, presets, songs, sets }: RigFile): Promise<Kept<RigDoc>> {
    return inTransaction(this.db, (manager) =>
      this.kept(manager, rig, async () => {
        await this.presets.createAllIn(manager, presets);
        return async () => {
          await this.songs.createAllIn(manager, songs);
          await this.sets.createAllIn(manager, sets);
        };
      }),
    );
  }

  async get(id: string): Promise<RigFile> {
    const { doc: rig } = await this.rigs.get(id);
    return this.db.transaction(async (manager) => ({
      format: RIG_FILE_FORMAT,
      version: 1,
      rig,
      presets: await this.presets.ofRig(manager, id),
      songs: await this.songs.ofRig(manager, id),
      sets: await this.sets.ofRig(manager, id),
    }));
  }

  /** Deletes a rig with everything of it: all of it goes into the bin, and comes back as one. */
  remove(id: string, version: number): Promise<void> {
    return inTransaction(this.db, async (manager) => {
      const rig = await this.rigs.lockIn(manager, id, version);
      await this.sets.binAllIn(manager, id);
      await this.songs.binAllIn(manager, id);
      await this.presets.binAllIn(manager, id);
      await this.rigs.binIn(manager, [rig], false);
    });
  }

  /** Brings a rig back from the bin, with everything that went with it. */
  async bringBackIn(manager: EntityManager, rig: RigDoc): Promise<void> {
    await this.kept(manager, rig, async () => {
      await this.presets.bringAllBackIn(manager, rig.id);
      return async () => {
        await this.songs.bringAllBackIn(manager, rig.id);
        await this.sets.bringAllBackIn(manager, rig.id);
      };
    });
  }

  /**
   * Keeps a rig and its parts. A preset needs its board and a board in force its preset, so the rig is written before and
   * after the presets.
   */
  private async kept(
    manager: EntityManager,
    rig: RigDoc,
    presets: () => Promise<() => Promise<void>>,
  ): Promise<Kept<RigDoc>> {
    const bare = { ...rig, boards: rig.boards.map((b) => ({ ...b, presetId: null })) };
    const first = await this.rigs.createIn(manager, bare);
    const others = await presets();
    const kept = rig.boards.some((b) => b.presetId !== null)
      ? await this.rigs.saveIn(manager, rig, first.version)
      : first;
    await others();
    return kept;
  }
}
