import { Module } from '@nestjs/common';
import { PresetsModule } from '../presets/presets.module';
import { RigsModule } from '../rigs/rigs.module';
import { SetsModule } from '../sets/sets.module';
import { SongsModule } from '../songs/songs.module';
import { WholeRigsController } from './whole.controller';
import { WholeRigs } from './whole.service';

@Module({
  imports: [RigsModule, PresetsModule, SongsModule, SetsModule],
  controllers: [WholeRigsController],
  providers: [WholeRigs],
  exports: [WholeRigs],
})
export class WholeRigsModule {}
