import { DecideRequest, JudgeWrongRequest, WaitingQuery, type WaitingView } from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Narrowed, Permit } from '../../platform/auth/permit.js';
import { Answers, Asks } from '../../platform/openapi.js';
import { PendingList } from './pending-list.service.js';
import { PendingService } from './pending.service.js';

/** What waits for a reply or a decision. */
@ApiTags('waiting')
@Controller('waiting')
export class PendingController {
  constructor(
    private readonly waiting: PendingService,
    private readonly all: PendingList,
  ) {}

  @Get()
  @Permit('incidents.read')
  @Narrowed()
  @Asks('WaitingQuery')
  @Answers('WaitingView', 'list')
  list(@Query() query: WaitingQuery, @CallerOf() caller: Caller): Promise<WaitingView[]> {
    return this.all.list(caller, query.search?.trim() ?? '');
  }

  /** Lets it go on its way, or not. Who may depends on the rule; nobody decides about their own. */
  @Post(':id/decision')
  @Permit('incidents.read')
  @Narrowed()
  @HttpCode(204)
  decide(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: DecideRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.waiting.decide(id, request, caller);
  }

  /** Says that an approved override was wrong to approve: it counts, and its approver is told. */
  @Post(':id/judged-wrong')
  @Permit('incidents.decide')
  @Narrowed()
  @HttpCode(204)
  judgedWrong(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { reason }: JudgeWrongRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.waiting.judgeWrong(id, reason, caller);
  }
}
