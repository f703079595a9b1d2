import { Module } from '@nestjs/common';
import { EveningsController } from './evenings.controller';
import { EveningsService } from './evenings.service';

@Module({ controllers: [EveningsController], providers: [EveningsService] })
export class EveningsModule {}
