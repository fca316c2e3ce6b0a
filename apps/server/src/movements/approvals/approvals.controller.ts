import {
  ChangeApprovalRequest,
  EndApprovalRequest,
  type StandingApprovalView,
} from '@lantern/contracts/approvals';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../../platform/auth/permit.js';
import { Answers, Asks } from '../../platform/openapi.js';
import { ApprovalsDesk } from './approvals.service.js';

/** Standing approvals: listed, changed and ended. */
@ApiTags('waiting')
@Controller('approvals')
export class ApprovalsController {
  constructor(private readonly approvals: ApprovalsDesk) {}

  @Get()
  @Permit('incidents.read')
  @Answers('StandingApprovalView', 'list')
  list(@CallerOf() caller: Caller): Promise<StandingApprovalView[]> {
    return this.approvals.list(caller);
  }

  /** Another end, or fewer destinations. It acts at once; the versions before stay in the list. */
  @Put(':id')
  @Permit('overrides.decide')
  @HttpCode(204)
  @Asks('ChangeApprovalRequest')
  change(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: ChangeApprovalRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.approvals.change(id, request, caller);
  }

  @Post(':id/end')
  @Permit('overrides.decide')
  @HttpCode(204)
  @Asks('EndApprovalRequest')
  end(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { words }: EndApprovalRequest,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.approvals.end(id, words, caller);
  }
}
