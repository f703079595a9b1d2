import { Controller, Delete, Get, HttpCode, Inject, Put, Query } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiQuery, ApiResponse, ApiTags } from '@nestjs/swagger';
import { GearRecordSchema, type GearRecord } from '@idle-step/contract';
import { z } from 'zod';
import { DocBody, IdParam, idOf } from '../http/body';
import { openApi, Problems } from '../http/describe';
import { invalid } from '../http/problem.exception';
import { RecordsService } from './records.service';

/** HTTP for what is known of real gear. */
@ApiTags('record')
@Controller('api/records')
export class RecordsController {
  constructor(@Inject(RecordsService) private readonly records: RecordsService) {}

  @Get()
  @ApiOperation({ summary: 'What is known of the gear of a rig: memories of boards, dumps, line checks' })
  @ApiQuery({ name: 'rigId' })
  @ApiResponse({ status: 200, ...openApi(z.array(GearRecordSchema)) })
  @Problems([422, 'not valid'])
  list(@Query('rigId') rigId = ''): Promise<GearRecord[]> {
    return this.records.list(idOf(rigId, 'rigId'));
  }

  @Put(':id')
  @ApiOperation({ summary: 'Keep what is known of a thing, in place of what was known before' })
  @ApiBody(openApi(GearRecordSchema))
  @ApiResponse({ status: 200, ...openApi(GearRecordSchema) })
  @Problems([400, 'not JSON'], [404, 'the rig is gone'], [409, 'of another rig'], [422, 'not valid'])
  keep(@IdParam() id: string, @DocBody(GearRecordSchema, 'record') record: GearRecord): Promise<GearRecord> {
    if (record.id !== id)
      throw invalid('The record was not stored: its identifier is not that of the address.', []);
    return this.records.keep(record);
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Forget what is known of a thing' })
  @Problems([404, 'gone'])
  remove(@IdParam() id: string): Promise<void> {
    return this.records.remove(id);
  }
}
