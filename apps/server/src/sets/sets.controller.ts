import { Controller, Get, Inject, Query } from '@nestjs/common';
import { ApiOperation, ApiQuery, ApiResponse } from '@nestjs/swagger';
import { pageSchema, SetlistSchema, SetSummarySchema, type Page, type SetSummary } from '@idle-step/contract';
import { idOf, linesOf } from '../http/body';
import { openApi, Problems } from '../http/describe';
import { DocController } from '../http/doc.controller';
import { SetsService } from './sets.service';

@Controller('api/sets')
export class SetsController extends DocController(SetlistSchema, 'set', SetsService) {
  @Inject(SetsService) private readonly sets!: SetsService;

  @Get('summaries')
  @ApiOperation({ summary: 'The list of the sets of a rig, by name, in pages, without their running orders' })
  @ApiQuery({ name: 'rigId' })
  @ApiQuery({ name: 'songId', required: false, description: 'only sets in which this song stands' })
  @ApiQuery({ name: 'from', required: false, description: 'the first line wanted, from 0' })
  @ApiQuery({ name: 'count', required: false })
  @ApiResponse({ status: 200, ...openApi(pageSchema(SetSummarySchema)) })
  @Problems([422, 'not valid'])
  summaries(
    @Query('rigId') rigId = '',
    @Query('songId') songId?: string,
    @Query('from') from?: string,
    @Query('count') count?: string,
  ): Promise<Page<SetSummary>> {
    const lines = linesOf(from, count);
    const song = songId === undefined ? null : idOf(songId, 'songId');
    return this.sets.summaries(idOf(rigId, 'rigId'), song, lines.from, lines.count);
  }
}
