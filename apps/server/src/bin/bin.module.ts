import { Module } from '@nestjs/common';
import { PresetsModule } from '../presets/presets.module';
import { RigsModule } from '../rigs/rigs.module';
import { SetsModule } from '../sets/sets.module';
import { SongsModule } from '../songs/songs.module';
import { WholeRigsModule } from '../whole/whole.module';
import { BinController } from './bin.controller';
import { BinService } from './bin.service';

@Module({
  imports: [RigsModule, PresetsModule, SongsModule, SetsModule, WholeRigsModule],
  controllers: [BinController],
  providers: [BinService],
})
export class BinModule {}
