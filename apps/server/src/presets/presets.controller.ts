import { Controller } from '@nestjs/common';
import { PresetSchema } from '@idle-step/contract';
import { DocController } from '../http/doc.controller';
import { PresetsService } from './presets.service';

@Controller('api/presets')
export class PresetsController extends DocController(PresetSchema, 'preset', PresetsService) {}
