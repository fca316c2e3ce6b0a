import { Controller, Get, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Response } from 'express';
import { DataSource } from 'typeorm';
import { GatewayServer } from '../doors/smtp/gateway.server.js';
import { DeskCounts } from '../incidents/counts/desk-counts.service.js';
import { OPEN, Permit } from '../platform/auth/permit.js';
import { PublishedRevision } from '../published/published-revision.js';

/** A database that takes longer is of no use to anybody at this moment. */
const DATABASE_WITHIN_MS = 1_000;

/** What the server says of itself. Nothing that a stranger could use. */
interface Health {
  readonly status: 'ok' | 'not-ok';
  readonly database: 'ok' | 'silent';
  readonly smtp: 'open' | 'closed';
  readonly revision: number | null;
  /** Where counts come from: from memory once everything is read into it. */
  readonly counts: 'memory' | 'database';
}

@ApiTags('health')
@Controller('health')
export class HealthController {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly published: PublishedRevision,
    private readonly gateway: GatewayServer,
    private readonly deskCounts: DeskCounts,
  ) {}

  /** Whether the server can do its work: 200, or 503 within two seconds. */
  @Get()
  @Permit(OPEN)
  async health(@Res({ passthrough: true }) response: Response): Promise<Health> {
    const database = (await this.answers()) ? 'ok' : 'silent';
    const status = database === 'ok' ? 'ok' : 'not-ok';
    if (status !== 'ok') response.status(503);
    const smtp = this.gateway.door.open ? 'open' : 'closed';
    const counts = this.deskCounts.answers ? 'memory' : 'database';
    return { status, database, smtp, revision: this.published.current?.number ?? null, counts };
  }

  private async answers(): Promise<boolean> {
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<false>((resolve) => {
      timer = setTimeout(() => resolve(false), DATABASE_WITHIN_MS);
    });
    const asked = this.database.query('SELECT 1').then(
      () => true,
      () => false,
    );
    try {
      return await Promise.race([asked, late]);
    } finally {
      clearTimeout(timer);
    }
  }
}
