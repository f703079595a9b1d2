import { Controller } from '@nestjs/common';
import { RigSchema } from '@idle-step/contract';
import { DocController } from '../http/doc.controller';
import { RigsService } from './rigs.service';

@Controller('api/rigs')
export class RigsController extends DocController(RigSchema, 'rig', RigsService) {}
