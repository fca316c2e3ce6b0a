import { type DraftView, PublishRequest, type RevisionView } from '@lantern/contracts';
import { Body, Controller, Get, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { RevisionsService } from './revisions.service.js';

@ApiTags('revisions')
@Controller('revisions')
export class RevisionsController {
  constructor(private readonly revisions: RevisionsService) {}

  @Get()
  @Permit('policies.read')
  @Answers('RevisionView', 'list')
  list(): Promise<RevisionView[]> {
    return this.revisions.list();
  }

  /** What publishing the drafts would change, and what keeps it from happening. */
  @Get('draft')
  @Permit('policies.read')
  @Answers('DraftView')
  draft(): Promise<DraftView> {
    return this.revisions.draft();
  }

  @Post()
  @Permit('policies.publish')
  @Answers('RevisionView')
  publish(@Body() request: PublishRequest, @CallerOf() caller: Caller): Promise<RevisionView> {
    return this.revisions.publish(request, caller);
  }
}
