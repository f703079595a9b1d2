import { Inject, Injectable } from '@nestjs/common';
import { RIG_FILE_FORMAT, type Kept, type RigDoc, type RigFile } from '@idle-step/contract';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
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
    return inTransaction(this.db, async (manager) => {
      // A preset needs its board and a board in force its preset, so the rig is written before and after the presets.
      const bare = { ...rig, boards: rig.boards.map((b) => ({ ...b, presetId: null })) };
      const first = await this.rigs.createIn(manager, bare);
      for (const preset of presets) await this.presets.createIn(manager, preset);
      const kept = rig.boards.some((b) => b.presetId !== null)
        ? await this.rigs.saveIn(manager, rig, first.version)
        : first;
      for (const song of songs) await this.songs.createIn(manager, song);
      for (const set of sets) await this.sets.createIn(manager, set);
      return kept;
    });
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

  /** @returns what was deleted, so that it can be brought back as it was. */
  remove(id: string, version: number): Promise<RigFile> {
    return inTransaction(this.db, async (manager) => {
      const rig = await this.rigs.lockIn(manager, id, version);
      const file: RigFile = {
        format: RIG_FILE_FORMAT,
        version: 1,
        rig,
        presets: await this.presets.ofRig(manager, id),
        songs: await this.songs.ofRig(manager, id),
        sets: await this.sets.ofRig(manager, id),
      };
      for (const set of file.sets) await this.sets.dropIn(manager, set.id);
      for (const song of file.songs) await this.songs.dropIn(manager, song.id);
      for (const preset of file.presets) await this.presets.dropIn(manager, preset.id);
      await this.rigs.dropIn(manager, id);
      return file;
    });
  }
}
