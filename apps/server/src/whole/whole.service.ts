import type { FullRig } from '@idle-step/core/routing';
import { Inject, Injectable } from '@nestjs/common';
import {
  RIG_FILE_FORMAT,
  type Kept,
  type RigFile,
  type RigPart,
  type RigProgress,
} from '@idle-step/contract';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource, type EntityManager } from 'typeorm';
import { Bin } from '../bin/bin';
import { jsonList } from '../http/stream';
import { inTransaction, readingAtOnce } from '../keeping/transaction';
import { PresetsService } from '../presets/presets.service';
import { RigsService } from '../rigs/rigs.service';
import { SetsService } from '../sets/sets.service';
import { SongsService } from '../songs/songs.service';
import { Progress } from './progress';

/** A rig with everything that belongs to it, kept, read and deleted as one: whole or not at all. */
@Injectable()
export class WholeRigs {
  private readonly progress = new Progress();

  constructor(
    @InjectDataSource() private readonly db: DataSource,
    @Inject(RigsService) private readonly rigs: RigsService,
    @Inject(PresetsService) private readonly presets: PresetsService,
    @Inject(SongsService) private readonly songs: SongsService,
    @Inject(SetsService) private readonly sets: SetsService,
  ) {}

  create({ rig, presets, songs, sets }: RigFile): Promise<Kept<FullRig>> {
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

  /** The text of a rig file in pieces, all as it is at one moment. */
  async *text(id: string): AsyncGenerator<string> {
    const { rigs, presets, songs, sets } = this;
    yield* readingAtOnce(this.db, async function* (manager) {
      const rig = await rigs.getIn(manager, id);
      yield `{"format":${JSON.stringify(RIG_FILE_FORMAT)},"version":1,"rig":${JSON.stringify(rig)},"presets":`;
      yield* jsonList(presets.piecesOfRig(manager, id));
      yield ',"songs":';
      yield* jsonList(songs.piecesOfRig(manager, id));
      yield ',"sets":';
      yield* jsonList(sets.piecesOfRig(manager, id));
      yield '}\n';
    });
  }

  /**
   * Lays a part of a rig aside that comes in several, until the rig itself comes. The same part may come again.
   * What never gets its rig is thrown away after a day.
   */
  async layAside(id: string, { presets, songs, sets }: RigPart): Promise<void> {
    await inTransaction(this.db, async (manager) => {
      await this.rigs.refuseTaken(manager, id);
      await this.presets.layAside(manager, id, presets);
      await this.songs.layAside(manager, id, songs);
      await this.sets.layAside(manager, id, sets);
    });
  }

  /** Keeps a rig with all its parts that were laid aside: whole, or not at all. */
  createFromParts(rig: FullRig): Promise<Kept<FullRig>> {
    return inTransaction(this.db, async (manager) => {
      await this.rigs.refuseTaken(manager, rig.id);
      return this.bringBackIn(manager, rig);
    });
  }

  /** Throws away what was laid aside: the rig does not come. */
  async leaveParts(id: string): Promise<void> {
    await inTransaction(this.db, (manager) => new Bin(manager).leaveParts(id));
  }

  /** Deletes a rig with everything of it: all of it goes into the bin, and comes back as one. */
  remove(id: string, version: number): Promise<void> {
    return this.progress.during(id, (of, done) =>
      inTransaction(this.db, async (manager) => {
        const rig = await this.rigs.lockIn(manager, id, version);
        of(await this.songs.countOf(manager, id));
        await this.sets.binAllIn(manager, id);
        await this.songs.binAllIn(manager, id, done);
        await this.presets.binAllIn(manager, id);
        await this.rigs.binIn(manager, [rig], false);
      }),
    );
  }

  /** How far it is that a rig is kept, deleted or brought back. */
  progressOf(id: string): RigProgress {
    return this.progress.at(id);
  }

  /** Brings a rig back from the bin, with everything that went with it. */
  bringBackIn(manager: EntityManager, rig: FullRig): Promise<Kept<FullRig>> {
    return this.progress.during(rig.id, async (of, done) => {
      of(await new Bin(manager).countOfRig('songs', rig.id));
      return this.kept(manager, rig, async () => {
        await this.presets.bringAllBackIn(manager, rig.id);
        return async () => {
          await this.songs.bringAllBackIn(manager, rig.id, done);
          await this.sets.bringAllBackIn(manager, rig.id);
        };
      });
    });
  }

  /**
   * Keeps a rig and its parts. A preset needs its board and a board in force its preset, so the rig is written before and
   * after the presets.
   */
  private async kept(
    manager: EntityManager,
    rig: FullRig,
    presets: () => Promise<() => Promise<void>>,
  ): Promise<Kept<FullRig>> {
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
