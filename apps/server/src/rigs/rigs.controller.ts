import type { FullRig } from '@idle-step/core/routing';
import { Controller, HttpCode, Inject, Post } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiResponse } from '@nestjs/swagger';
import { ProblemUserSchema, RigSchema, type ProblemUser } from '@idle-step/contract';
import { z } from 'zod';
import { DocBody, IdParam } from '../http/body';
import { openApi, Problems } from '../http/describe';
import { DocController } from '../http/doc.controller';
import { RigsService } from './rigs.service';

@Controller('api/rigs')
export class RigsController extends DocController(RigSchema, 'rig', RigsService) {
  @Inject(RigsService) private readonly rigs!: RigsService;

  @Post(':id/losers')
  @HttpCode(200)
  @ApiOperation({
    summary: 'Songs and presets that would lose something if this rig were saved; nothing is stored',
  })
  @ApiBody(openApi(RigSchema))
  @ApiResponse({ status: 200, ...openApi(z.array(ProblemUserSchema)) })
  @Problems([404, 'gone'], [422, 'not valid'])
  losers(@IdParam() id: string, @DocBody(RigSchema, 'rig') doc: FullRig): Promise<ProblemUser[]> {
    return this.rigs.losers(id, doc);
  }
}
