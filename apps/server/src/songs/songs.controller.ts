import { Controller } from '@nestjs/common';
import { SongSchema } from '@idle-step/contract';
import { DocController } from '../http/doc.controller';
import { SongsService } from './songs.service';

@Controller('api/songs')
export class SongsController extends DocController(SongSchema, 'song', SongsService) {}
