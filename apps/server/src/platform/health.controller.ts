import { Controller, Get } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { PublishedRevision } from '../policies/published-revision.js';
import { OPEN, Permit } from './auth/permit.js';

@ApiTags('health')
@Controller('health')
export class HealthController {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly published: PublishedRevision,
  ) {}

  /** Whether the server can do its work. Says nothing that a stranger could use. */
  @Get()
  @Permit(OPEN)
  async health(): Promise<{ status: 'ok'; database: 'ok'; revision: number | null }> {
    await this.database.query('SELECT 1');
    return { status: 'ok', database: 'ok', revision: this.published.current?.number ?? null };
  }
}
