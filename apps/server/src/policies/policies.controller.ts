import { PolicyOrderRequest, PolicyRequest, type PolicyView, SavePolicyRequest } from '@lantern/contracts';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { PoliciesService } from './policies.service.js';

@ApiTags('policies')
@Controller('policies')
export class PoliciesController {
  constructor(private readonly policies: PoliciesService) {}

  @Get()
  @Permit('policies.read')
  @Answers('PolicyView', 'list')
  list(@CallerOf() caller: Caller): Promise<PolicyView[]> {
    return this.policies.list(caller);
  }

  @Get(':id')
  @Permit('policies.read')
  @Answers('PolicyView')
  get(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<PolicyView> {
    return this.policies.get(id, caller);
  }

  @Post()
  @Permit('policies.write')
  @Answers('PolicyView')
  create(@Body() { policy }: PolicyRequest, @CallerOf() caller: Caller): Promise<PolicyView> {
    return this.policies.create(policy, caller);
  }

  /** Puts all policies in a new reading order. */
  @Put('order')
  @Permit('policies.write')
  @Answers('PolicyView', 'list')
  order(@Body() { policies }: PolicyOrderRequest, @CallerOf() caller: Caller): Promise<PolicyView[]> {
    return this.policies.order(policies, caller);
  }

  /** Saves a draft, complete or not; its problems come back with it. */
  @Put(':id')
  @Permit('policies.write')
  @Answers('PolicyView')
  save(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: SavePolicyRequest,
    @CallerOf() caller: Caller,
  ): Promise<PolicyView> {
    return this.policies.save(id, request, caller);
  }

  @Delete(':id')
  @Permit('policies.write')
  @HttpCode(204)
  remove(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<void> {
    return this.policies.remove(id, caller);
  }
}
