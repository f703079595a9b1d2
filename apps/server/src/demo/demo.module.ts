import { Module } from '@nestjs/common';
import { RigsModule } from '../rigs/rigs.module';
import { WholeRigsModule } from '../whole/whole.module';
import { DemoService } from './demo.service';

@Module({ imports: [RigsModule, WholeRigsModule], providers: [DemoService] })
export class DemoModule {}
