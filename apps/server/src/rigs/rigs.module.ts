import { Module } from '@nestjs/common';
import { PresetsModule } from '../presets/presets.module';
import { SongsModule } from '../songs/songs.module';
import { RigsController } from './rigs.controller';
import { RigsService } from './rigs.service';

@Module({
  imports: [SongsModule, PresetsModule],
  controllers: [RigsController],
  providers: [RigsService],
  exports: [RigsService],
})
export class RigsModule {}
