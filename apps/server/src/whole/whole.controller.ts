import { Controller, Delete, Get, HttpCode, Inject, Post, Res } from '@nestjs/common';
import { ApiBody, ApiHeader, ApiOperation, ApiResponse, ApiTags } from '@nestjs/swagger';
import {
  keptSchema,
  RigFileSchema,
  RigSchema,
  type Kept,
  type RigDoc,
  type RigFile,
} from '@idle-step/contract';
import type { Response } from 'express';
import { DocBody, FromVersion, IdParam } from '../http/body';
import { openApi, Problems, tagged } from '../http/describe';
import { WholeRigs } from './whole.service';

/** HTTP for a rig with everything that belongs to it. */
@ApiTags('rig')
@Controller('api/whole-rigs')
export class WholeRigsController {
  constructor(@Inject(WholeRigs) private readonly whole: WholeRigs) {}

  @Get(':id')
  @ApiOperation({ summary: 'A rig with its presets, songs and sets' })
  @ApiResponse({ status: 200, ...openApi(RigFileSchema) })
  @Problems([404, 'gone'])
  get(@IdParam() id: string): Promise<RigFile> {
    return this.whole.get(id);
  }

  @Post()
  @ApiOperation({ summary: 'Keep a new rig with its presets, songs and sets: all of it or nothing' })
  @ApiBody(openApi(RigFileSchema))
  @ApiResponse({ status: 201, ...openApi(keptSchema(RigSchema)) })
  @Problems([400, 'not JSON'], [409, 'there already'], [413, 'too large'], [422, 'not valid'])
  async create(
    @DocBody(RigFileSchema, 'rig') file: RigFile,
    @Res({ passthrough: true }) response: Response,
  ): Promise<Kept<RigDoc>> {
    return tagged(response, await this.whole.create(file));
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({
    summary: 'Delete a rig with its presets, songs and sets; it can be brought back from the bin',
  })
  @ApiHeader({ name: 'If-Match', required: true })
  @Problems([404, 'gone'], [409, 'saved elsewhere meanwhile'], [428, 'no If-Match'])
  remove(@IdParam() id: string, @FromVersion('rig') version: number): Promise<void> {
    return this.whole.remove(id, version);
  }
}
