import { Injectable } from '@nestjs/common';
import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import { PresetsService } from '../presets/presets.service';
import { RigsService } from '../rigs/rigs.service';
import { SetsService } from '../sets/sets.service';
import { SongsService } from '../songs/songs.service';

/** Loads the demo through the same services as any user's documents. */
@Injectable()
export class DemoService {
  constructor(
    private readonly rigs: RigsService,
    private readonly presets: PresetsService,
    private readonly songs: SongsService,
    private readonly sets: SetsService,
  ) {}

  /** @returns whether it was loaded: only where nothing is kept yet. */
  async loadIfEmpty(): Promise<boolean> {
    if ((await this.rigs.list()).length > 0) return false;
    // A preset needs its board and a board in force its preset, so the rig is saved before and after the presets.
    const bare = { ...demoRig, boards: demoRig.boards.map((b) => ({ ...b, presetId: null })) };
    const { version } = await this.rigs.create(bare);
    for (const preset of demoPresets) await this.presets.create(preset);
    await this.rigs.save(demoRig.id, version, demoRig);
    for (const song of demoSongs) await this.songs.create(song);
    for (const set of demoSets) await this.sets.create(set);
    return true;
  }
}
