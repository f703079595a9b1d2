import { Controller, Delete, Get, HttpCode, Inject, Post, Query } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiQuery, ApiResponse, ApiTags } from '@nestjs/swagger';
import {
  EveningLineSchema,
  EveningLogSchema,
  EveningReportSchema,
  ReportedSchema,
  type EveningLine,
  type EveningLog,
  type EveningReport,
} from '@idle-step/contract';
import { z } from 'zod';
import { DocBody, IdParam, idOf } from '../http/body';
import { openApi, Problems } from '../http/describe';
import { EveningsService } from './evenings.service';

/** HTTP for the logs of what was played. */
@ApiTags('evening')
@Controller('api/evenings')
export class EveningsController {
  constructor(@Inject(EveningsService) private readonly evenings: EveningsService) {}

  @Post()
  @HttpCode(200)
  @ApiOperation({ summary: 'Tell lines of the log of an evening; what was told before is not told twice' })
  @ApiBody(openApi(EveningReportSchema))
  @ApiResponse({ status: 200, ...openApi(ReportedSchema) })
  @Problems([400, 'not JSON'], [404, 'the rig is gone'], [409, 'of another rig'], [422, 'not valid'])
  report(@DocBody(EveningReportSchema, 'log') report: EveningReport): Promise<{ lineCount: number }> {
    return this.evenings.report(report);
  }

  @Get()
  @ApiOperation({ summary: 'The evenings of a rig, the last one first' })
  @ApiQuery({ name: 'rigId' })
  @ApiResponse({ status: 200, ...openApi(z.array(EveningLineSchema)) })
  @Problems([422, 'not valid'])
  list(@Query('rigId') rigId = ''): Promise<EveningLine[]> {
    return this.evenings.list(idOf(rigId, 'rigId'));
  }

  @Get(':id')
  @ApiOperation({ summary: 'An evening with its log' })
  @ApiResponse({ status: 200, ...openApi(EveningLogSchema) })
  @Problems([404, 'gone'])
  get(@IdParam() id: string): Promise<EveningLog> {
    return this.evenings.get(id);
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete the log of an evening' })
  @Problems([404, 'gone'])
  remove(@IdParam() id: string): Promise<void> {
    return this.evenings.remove(id);
  }
}
