import {
  AccountRequest,
  type AccountView,
  FactorRolesRequest,
  type FactorRolesView,
  type InvitationView,
  InviteRequest,
} from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { FactorDemand } from './factor-demand.service.js';
import { AccountsService } from './accounts.service.js';

@ApiTags('accounts')
@Controller('accounts')
export class AccountsController {
  constructor(
    private readonly accounts: AccountsService,
    private readonly demand: FactorDemand,
  ) {}

  @Get()
  @Permit('accounts.manage')
  @Answers('AccountView', 'list')
  list(): Promise<AccountView[]> {
    return this.accounts.list();
  }

  /** Roles that need a second factor. */
  @Get('factor-roles')
  @Permit('accounts.manage')
  @Answers('FactorRolesView')
  factorRoles(): Promise<FactorRolesView> {
    return this.demand.view();
  }

  /** Holds from the next request of each account on. */
  @Put('factor-roles')
  @Permit('accounts.manage')
  @Answers('FactorRolesView')
  setFactorRoles(@Body() { roles }: FactorRolesRequest): Promise<FactorRolesView> {
    return this.demand.set(roles);
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
