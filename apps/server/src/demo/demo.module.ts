import { Module } from '@nestjs/common';
import { PresetsModule } from '../presets/presets.module';
import { RigsModule } from '../rigs/rigs.module';
import { SetsModule } from '../sets/sets.module';
import { SongsModule } from '../songs/songs.module';
import { DemoService } from './demo.service';

@Module({ imports: [RigsModule, PresetsModule, SongsModule, SetsModule], providers: [DemoService] })
export class DemoModule {}
