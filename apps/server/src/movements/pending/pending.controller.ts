import { DecideRequest, type WaitingView } from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { PendingService } from './pending.service.js';

/** What waits for a reply or a decision. */
@ApiTags('waiting')
@Controller('waiting')
export class PendingController {
  constructor(private readonly waiting: PendingService) {}

  @Get()
  @Permit('incidents.read')
  @Answers('WaitingView', 'list')
  list(@CallerOf() caller: Caller): Promise<WaitingView[]> {
    return this.waiting.list(caller);
  }

  /** Lets it go on its way, or not. Who may depends on the rule; nobody decides about their own. */
  @Post(':id/decision')
  @Permit('incidents.read')
  @HttpCode(204)
  decide(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: DecideRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.waiting.decide(id, request, caller);
  }
}
