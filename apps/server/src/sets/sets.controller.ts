import { Controller } from '@nestjs/common';
import { SetlistSchema } from '@idle-step/contract';
import { DocController } from '../http/doc.controller';
import { SetsService } from './sets.service';

@Controller('api/sets')
export class SetsController extends DocController(SetlistSchema, 'set', SetsService) {}
