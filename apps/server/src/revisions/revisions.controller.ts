import {
  type Comparison,
  type DraftView,
  PublishRequest,
  type RevisionView,
  RollBackRequest,
} from '@lantern/contracts';
import { Body, Controller, Get, Param, ParseIntPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { TwoPeople } from '../accounts/access/two-people.service.js';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { RevisionsService } from './revisions.service.js';
import { seenBy } from '../published/silence.js';

@ApiTags('revisions')
@Controller('revisions')
export class RevisionsController {
  constructor(
    private readonly revisions: RevisionsService,
    private readonly twoPeople: TwoPeople,
  ) {}

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
  async draft(@CallerOf() caller: Caller): Promise<DraftView> {
    const draft = await this.revisions.draft();
    const agreed = (await this.twoPeople.waiting('publish', [draft.fingerprint])).get(draft.fingerprint);
    return {
      ...draft,
      changes: visible(draft.changes, caller),
      agreed: agreed ? { by: agreed.by, at: agreed.at.toISOString() } : null,
    };
  }

  /** What differs between a revision and another, or the drafts where `to` is left out. */
  @Get(':from/changes')
  @Permit('policies.read')
  @Answers('Comparison')
  async compare(
    @Param('from', ParseIntPipe) from: number,
    @CallerOf() caller: Caller,
    @Query('to', new ParseIntPipe({ optional: true })) to?: number,
  ): Promise<Comparison> {
    const compared = await this.revisions.compare(from, to ?? null);
    return { ...compared, changes: visible(compared.changes, caller) };
  }

  @Post()
  @Permit('policies.publish')
  @Answers('RevisionView')
  publish(@Body() request: PublishRequest, @CallerOf() caller: Caller): Promise<RevisionView> {
    return this.revisions.publish(request, caller);
  }

  /** Publishes an old revision once more, as a new one. */
  @Post(':number/again')
  @Permit('policies.publish')
  @Answers('RevisionView')
  rollBack(
    @Param('number', ParseIntPipe) number: number,
    @Body() { reason }: RollBackRequest,
    @CallerOf() caller: Caller,
  ): Promise<RevisionView> {
    return this.revisions.rollBack(number, reason, caller);
  }
}

/** Changes without the silent rules this account may not see. */
function visible(changes: DraftView['changes'], caller: Caller): DraftView['changes'] {
  return changes.map((change) => ({
    ...change,
    before: change.before && seenBy(change.before, caller),
    after: change.after && seenBy(change.after, caller),
  }));
}
