import { Module, type DynamicModule } from '@nestjs/common';
import { WholeRigsModule } from '../whole/whole.module';
import { BackupsController } from './backups.controller';
import { BACKUP_FOLDER, BackupsService } from './backups.service';

@Module({})
export class BackupsModule {
  /** @param folder where backups lie, or `null` for none. */
  static in(folder: string | null): DynamicModule {
    return {
      module: BackupsModule,
      imports: [WholeRigsModule],
      controllers: [BackupsController],
      providers: [BackupsService, { provide: BACKUP_FOLDER, useValue: folder }],
      exports: [BackupsService],
    };
  }
}
