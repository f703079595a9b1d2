import { Controller, Get, ServiceUnavailableException } from '@nestjs/common';
import { ApiOperation, ApiTags } from '@nestjs/swagger';
import { DataSource } from 'typeorm';

@ApiTags('health')
@Controller('api/health')
export class HealthController {
  constructor(private readonly db: DataSource) {}

  @Get()
  @ApiOperation({ summary: 'Whether the server can save' })
  async health(): Promise<{ status: 'ok' }> {
    try {
      await this.db.query('SELECT 1');
    } catch {
      throw new ServiceUnavailableException('The database does not answer, so nothing can be saved');
    }
    return { status: 'ok' };
  }
}
