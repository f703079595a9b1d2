import { Module } from '@nestjs/common';
import { RecordsController } from './records.controller';
import { RecordsService } from './records.service';

@Module({ controllers: [RecordsController], providers: [RecordsService] })
export class RecordsModule {}
