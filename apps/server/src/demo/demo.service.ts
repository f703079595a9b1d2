import { Injectable } from '@nestjs/common';
import { RIG_FILE_FORMAT, RigFileSchema } from '@idle-step/contract';
import { demoPresets, demoRig, demoSets, demoSongs } from '@idle-step/demo';
import { RigsService } from '../rigs/rigs.service';
import { WholeRigs } from '../whole/whole.service';

/** Loads the demo through the same services as any user's documents. */
@Injectable()
export class DemoService {
  constructor(
    private readonly rigs: RigsService,
    private readonly whole: WholeRigs,
  ) {}

  /** @returns whether it was loaded: only where nothing is kept yet, and no rig waits in the bin. */
  async loadIfEmpty(): Promise<boolean> {
    if (await this.rigs.isAnyKept()) return false;
    await this.whole.create(
      RigFileSchema.parse({
        format: RIG_FILE_FORMAT,
        version: 1,
        rig: demoRig,
        presets: demoPresets,
        songs: demoSongs,
        sets: demoSets,
      }),
    );
    return true;
  }
}
