import {
  DeputyRequest,
  type DeputyView,
  type LimitChoicesView,
  type NewServiceKeyView,
  type OwnRoleView,
  RoleRequest,
  ServiceAccountRequest,
  ServiceKeyRequest,
  type ServiceKeyView,
  TwoPeopleRequest,
  type TwoPeopleView,
} from '@lantern/contracts/access';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit, SIGNED_IN } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { Deputies } from './deputies.service.js';
import { OwnRoles } from './roles.service.js';
import { TwoPeople } from './two-people.service.js';
import { ServiceAccounts } from './service-accounts.service.js';

/** Roles of one's own, deputies and programs. */
@ApiTags('accounts')
@Controller()
export class AccessController {
  constructor(
    private readonly roles: OwnRoles,
    private readonly deputies: Deputies,
    private readonly services: ServiceAccounts,
    private readonly twoPeople: TwoPeople,
  ) {}

  @Get('roles')
  @Permit('accounts.manage')
  @Answers('OwnRoleView', 'list')
  list(): Promise<OwnRoleView[]> {
    return this.roles.list();
  }

  /** Departments that limits can name. */
  @Get('roles/choices')
  @Permit('accounts.manage')
  @Answers('LimitChoicesView')
  async choices(): Promise<LimitChoicesView> {
    return { departments: await this.roles.departments() };
  }

  @Post('roles')
  @Permit('accounts.manage')
  @Answers('OwnRoleView', 'list')
  create(@Body() request: RoleRequest, @CallerOf() caller: Caller): Promise<OwnRoleView[]> {
    return this.roles.create(request, caller);
  }

  /** Ends the sessions of everybody who holds it. */
  @Put('roles/:id')
  @Permit('accounts.manage')
  @Answers('OwnRoleView', 'list')
  change(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: RoleRequest,
    @CallerOf() caller: Caller,
  ): Promise<OwnRoleView[]> {
    return this.roles.change(id, request, caller);
  }

  @Delete('roles/:id')
  @Permit('accounts.manage')
  @Answers('OwnRoleView', 'list')
  remove(@Param('id', ParseUUIDPipe) id: string): Promise<OwnRoleView[]> {
    return this.roles.remove(id);
  }

  /** Acts that take two people. */
  @Get('two-people')
  @Permit('policies.read')
  @Answers('TwoPeopleView')
  async kinds(): Promise<TwoPeopleView> {
    return { kinds: await this.twoPeople.kinds() };
  }

  @Put('two-people')
  @Permit('accounts.manage')
  @Answers('TwoPeopleView')
  async setKinds(@Body() { kinds }: TwoPeopleRequest, @CallerOf() caller: Caller): Promise<TwoPeopleView> {
    return { kinds: await this.twoPeople.set(kinds, caller) };
  }

  /** Everybody's absences, for administrators. */
  @Get('deputies')
  @Permit('accounts.manage')
  @Answers('DeputyView', 'list')
  all(): Promise<DeputyView[]> {
    return this.deputies.list();
  }

  @Get('own-account/deputies')
  @Permit(SIGNED_IN)
  @Answers('DeputyView', 'list')
  own(@CallerOf() caller: Caller): Promise<DeputyView[]> {
    return this.deputies.list(caller.accountId);
  }

  /** Names who stands in for the caller. */
  @Post('own-account/deputies')
  @Permit(SIGNED_IN)
  @Answers('DeputyView', 'list')
  name(@Body() request: DeputyRequest, @CallerOf() caller: Caller): Promise<DeputyView[]> {
    return this.deputies.name(request, caller);
  }

  @Delete('own-account/deputies/:id')
  @Permit(SIGNED_IN)
  @Answers('DeputyView', 'list')
  end(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<DeputyView[]> {
    return this.deputies.end(id, caller);
  }

  @Post('service-accounts')
  @Permit('accounts.manage')
  @HttpCode(204)
  createService(@Body() request: ServiceAccountRequest): Promise<void> {
    return this.services.create(request);
  }

  @Get('service-accounts/keys')
  @Permit('accounts.manage')
  @Answers('ServiceKeyView', 'list')
  keys(): Promise<ServiceKeyView[]> {
    return this.services.keys();
  }

  /** A new key, shown once. */
  @Post('service-accounts/:id/keys')
  @Permit('accounts.manage')
  @Answers('NewServiceKeyView')
  makeKey(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: ServiceKeyRequest,
    @CallerOf() caller: Caller,
  ): Promise<NewServiceKeyView> {
    return this.services.make(id, request, caller);
  }

  @Delete('service-accounts/keys/:id')
  @Permit('accounts.manage')
  @HttpCode(204)
  withdraw(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.services.withdraw(id);
  }
}
