import type { FullRig } from '@idle-step/core/routing';
import { Controller, Delete, Get, HttpCode, Inject, Post, Res } from '@nestjs/common';
import { ApiBody, ApiHeader, ApiOperation, ApiResponse, ApiTags } from '@nestjs/swagger';
import {
  keptSchema,
  RigFileSchema,
  RigPartSchema,
  RigProgressSchema,
  RigSchema,
  type Kept,
  type RigFile,
  type RigPart,
  type RigProgress,
} from '@idle-step/contract';
import type { Response } from 'express';
import { DocBody, FromVersion, IdParam } from '../http/body';
import { openApi, Problems, tagged } from '../http/describe';
import { invalid } from '../http/problem.exception';
import { streamJson } from '../http/stream';
import { WholeRigs } from './whole.service';

/** HTTP for a rig with everything that belongs to it. */
@ApiTags('rig')
@Controller('api/whole-rigs')
export class WholeRigsController {
  constructor(@Inject(WholeRigs) private readonly whole: WholeRigs) {}

  @Get(':id')
  @ApiOperation({ summary: 'A rig with its presets, songs and sets, as the text of a rig file' })
  @ApiResponse({ status: 200, ...openApi(RigFileSchema) })
  @Problems([404, 'gone'])
  get(@IdParam() id: string, @Res() response: Response): Promise<void> {
    return streamJson(response, 'whole rig', this.whole.text(id));
  }

  @Get(':id/progress')
  @ApiOperation({ summary: 'How far it is that a rig is kept, deleted or brought back' })
  @ApiResponse({ status: 200, ...openApi(RigProgressSchema) })
  progress(@IdParam() id: string): RigProgress {
    return this.whole.progressOf(id);
  }

  @Post(':id/parts')
  @HttpCode(204)
  @ApiOperation({ summary: 'Lay presets, songs and sets aside for a new rig that is too large for one body' })
  @ApiBody(openApi(RigPartSchema))
  @Problems([400, 'not JSON'], [409, 'there already'], [413, 'too large'], [422, 'not valid'])
  layAside(@IdParam() id: string, @DocBody(RigPartSchema, 'part') part: RigPart): Promise<void> {
    return this.whole.layAside(id, part);
  }

  @Delete(':id/parts')
  @HttpCode(204)
  @ApiOperation({ summary: 'Throw away what was laid aside for a rig that does not come' })
  leaveParts(@IdParam() id: string): Promise<void> {
    return this.whole.leaveParts(id);
  }

  @Post(':id')
  @ApiOperation({ summary: 'Keep a new rig with all that was laid aside for it: all of it or nothing' })
  @ApiBody(openApi(RigSchema))
  @ApiResponse({ status: 201, ...openApi(keptSchema(RigSchema)) })
  @Problems([400, 'not JSON'], [409, 'there already'], [413, 'too large'], [422, 'not valid'])
  async createFromParts(
    @IdParam() id: string,
    @DocBody(RigSchema, 'rig') rig: FullRig,
    @Res({ passthrough: true }) response: Response,
  ): Promise<Kept<FullRig>> {
    if (rig.id !== id) {
      const message = `The address names ${id} and the body ${rig.id}; they have to be the same.`;
      throw invalid(message, [{ path: 'id', message }]);
    }
    return tagged(response, await this.whole.createFromParts(rig));
  }

  @Post()
  @ApiOperation({ summary: 'Keep a new rig with its presets, songs and sets: all of it or nothing' })
  @ApiBody(openApi(RigFileSchema))
  @ApiResponse({ status: 201, ...openApi(keptSchema(RigSchema)) })
  @Problems([400, 'not JSON'], [409, 'there already'], [413, 'too large'], [422, 'not valid'])
  async create(
    @DocBody(RigFileSchema, 'rig') file: RigFile,
    @Res({ passthrough: true }) response: Response,
  ): Promise<Kept<FullRig>> {
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
