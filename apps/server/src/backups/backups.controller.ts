import { Controller, Get, HttpCode, Inject, Param, Post, Res } from '@nestjs/common';
import { ApiOperation, ApiResponse, ApiTags } from '@nestjs/swagger';
import {
  BackupSchema,
  BackupsSchema,
  RigFileSchema,
  RigProgressSchema,
  type Backup,
  type Backups,
  type RigProgress,
} from '@idle-step/contract';
import type { Response } from 'express';
import { IdParam } from '../http/body';
import { openApi, Problems } from '../http/describe';
import { streamJson } from '../http/stream';
import { BackupsService } from './backups.service';

/** HTTP for backups of all rigs. */
@ApiTags('backup')
@Controller('api/backups')
export class BackupsController {
  constructor(@Inject(BackupsService) private readonly backups: BackupsService) {}

  @Get()
  @ApiOperation({ summary: 'The backups of all rigs, the newest first, and where they lie' })
  @ApiResponse({ status: 200, ...openApi(BackupsSchema) })
  list(): Promise<Backups> {
    return this.backups.list();
  }

  @Post()
  @HttpCode(201)
  @ApiOperation({ summary: 'Make a backup of all rigs now' })
  @ApiResponse({ status: 201, ...openApi(BackupSchema) })
  @Problems([409, 'no folder'])
  make(): Promise<Backup> {
    return this.backups.make();
  }

  @Get('progress')
  @ApiOperation({ summary: 'How far the backup on its way is' })
  @ApiResponse({ status: 200, ...openApi(RigProgressSchema) })
  progress(): RigProgress {
    return this.backups.progressNow();
  }

  @Get(':name/:id')
  @ApiOperation({ summary: 'A rig out of a backup, as the text of a rig file' })
  @ApiResponse({ status: 200, ...openApi(RigFileSchema) })
  @Problems([404, 'gone'])
  get(@Param('name') name: string, @IdParam() id: string, @Res() response: Response): Promise<void> {
    return streamJson(response, 'backup', this.backups.text(name, id));
  }
}
