import { Controller, Delete, Get, HttpCode, Inject, Param, Post, Query } from '@nestjs/common';
import { ApiOperation, ApiQuery, ApiResponse, ApiTags } from '@nestjs/swagger';
import {
  BinLineSchema,
  BroughtBackSchema,
  pageSchema,
  RESOURCES,
  type BinLine,
  type BroughtBack,
  type Page,
  type Resource,
} from '@idle-step/contract';
import { IdParam, linesOf } from '../http/body';
import { openApi, Problems } from '../http/describe';
import { gone } from '../http/problem.exception';
import { BinService } from './bin.service';

/** HTTP for what was deleted. */
@ApiTags('bin')
@Controller('api/bin')
export class BinController {
  constructor(@Inject(BinService) private readonly bin: BinService) {}

  @Get()
  @ApiOperation({ summary: 'What was deleted and can be brought back, the last first, in pages' })
  @ApiQuery({ name: 'name', required: false, description: 'only what has this in its name' })
  @ApiQuery({ name: 'from', required: false, description: 'the first line wanted, from 0' })
  @ApiQuery({ name: 'count', required: false })
  @ApiResponse({ status: 200, ...openApi(pageSchema(BinLineSchema)) })
  @Problems([422, 'not valid'])
  lines(
    @Query('name') name?: string,
    @Query('from') from?: string,
    @Query('count') count?: string,
  ): Promise<Page<BinLine>> {
    const lines = linesOf(from, count);
    return this.bin.lines(typeof name === 'string' ? name.trim() : '', lines.from, lines.count);
  }

  @Post(':resource/:id')
  @HttpCode(200)
  @ApiOperation({ summary: 'Bring something back, with its earlier saves; a rig with all that went with it' })
  @ApiResponse({ status: 200, ...openApi(BroughtBackSchema) })
  @Problems([404, 'not in the bin'], [409, 'what it belongs to is gone'])
  bringBack(@Param('resource') resource: string, @IdParam() id: string): Promise<BroughtBack> {
    return this.bin.bringBack(resourceOf(resource), id);
  }

  @Delete(':resource/:id')
  @HttpCode(204)
  @ApiOperation({ summary: 'Delete something in the bin for good, with its saves' })
  @Problems([404, 'not in the bin'])
  empty(@Param('resource') resource: string, @IdParam() id: string): Promise<void> {
    return this.bin.empty(resourceOf(resource), id);
  }
}

function resourceOf(text: string): Resource {
  const found = RESOURCES.find((r) => r === text);
  if (!found) throw gone('kind of thing in the bin called', text);
  return found;
}
