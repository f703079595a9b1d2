import { Controller, Get, Inject, Query } from '@nestjs/common';
import { ApiOperation, ApiQuery, ApiResponse } from '@nestjs/swagger';
import { pageSchema, SongSchema, SongSummarySchema, type Page, type SongSummary } from '@idle-step/contract';
import { idOf, linesOf } from '../http/body';
import { openApi, Problems } from '../http/describe';
import { DocController } from '../http/doc.controller';
import { SongsService } from './songs.service';

@Controller('api/songs')
export class SongsController extends DocController(SongSchema, 'song', SongsService) {
  @Inject(SongsService) private readonly songs!: SongsService;

  @Get('summaries')
  @ApiOperation({ summary: 'The list of the songs of a rig, by name, in pages, without their scenes' })
  @ApiQuery({ name: 'rigId' })
  @ApiQuery({ name: 'from', required: false, description: 'the first line wanted, from 0' })
  @ApiQuery({ name: 'count', required: false })
  @ApiResponse({ status: 200, ...openApi(pageSchema(SongSummarySchema)) })
  @Problems([422, 'not valid'])
  summaries(
    @Query('rigId') rigId = '',
    @Query('from') from?: string,
    @Query('count') count?: string,
  ): Promise<Page<SongSummary>> {
    const lines = linesOf(from, count);
    return this.songs.summaries(idOf(rigId, 'rigId'), lines.from, lines.count);
  }
}
