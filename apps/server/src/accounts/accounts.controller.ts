import { AccountRequest, type AccountView, type InvitationView, InviteRequest } from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { AccountsService } from './accounts.service.js';

@ApiTags('accounts')
@Controller('accounts')
export class AccountsController {
  constructor(private readonly accounts: AccountsService) {}

  @Get()
  @Permit('accounts.manage')
  @Answers('AccountView', 'list')
  list(): Promise<AccountView[]> {
    return this.accounts.list();
  }

  @Post()
  @Permit('accounts.manage')
  @Answers('InvitationView')
  invite(@Body() request: InviteRequest, @CallerOf() caller: Caller): Promise<InvitationView> {
    return this.accounts.invite(request, caller);
  }

  @Put(':id')
  @Permit('accounts.manage')
  @Answers('AccountView')
  change(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: AccountRequest,
    @CallerOf() caller: Caller,
  ): Promise<AccountView> {
    return this.accounts.change(id, request, caller);
  }

  @Post(':id/reset')
  @Permit('accounts.manage')
  @HttpCode(200)
  @Answers('InvitationView')
  reset(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<InvitationView> {
    return this.accounts.reset(id, caller);
  }
}
