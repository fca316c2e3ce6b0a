import type { CeilingRecord, CoverageView } from '@lantern/contracts';
import { Controller, Get, Param, ParseUUIDPipe, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { CoverageService } from './coverage.service.js';

@ApiTags('policies')
@Controller('coverage')
export class CoverageController {
  constructor(private readonly coverage: CoverageService) {}

  /** What happens to each kind of data on each way out, by the revision in force or by the drafts (`of=drafts`). */
  @Get()
  @Permit('policies.read')
  @Answers('CoverageView')
  view(@CallerOf() caller: Caller, @Query('of') side = 'published'): Promise<CoverageView> {
    return this.coverage.view(side === 'drafts' ? 'drafts' : 'published', caller);
  }

  /** What the ceilings of a policy caught, before somebody raises one. */
  @Get('ceilings/:policy')
  @Permit('policies.read')
  @Answers('CeilingRecord')
  ceiling(@Param('policy', ParseUUIDPipe) policy: string): Promise<CeilingRecord> {
    return this.coverage.ceilingRecord(policy);
  }
}
