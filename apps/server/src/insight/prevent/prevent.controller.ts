import {
  type PreventionView,
  PreventRequest,
  type PreventView,
  TakeChangeRequest,
} from '@lantern/contracts/insight';
import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { Prevent } from './prevent.service.js';
import { Preventions } from './preventions.service.js';

/** From a false positive to a better rule. */
@ApiTags('insight')
@Controller('insight/prevent')
export class PreventController {
  constructor(
    private readonly prevent: Prevent,
    private readonly preventions: Preventions,
  ) {}

  /** Changes that would have prevented false positives, with what each would have done. Takes some seconds. */
  @Post()
  @HttpCode(200)
  @Permit('replay.run')
  @Answers('PreventView')
  options(@Body() request: PreventRequest, @CallerOf() caller: Caller): Promise<PreventView> {
    return this.prevent.options(request, caller);
  }

  /** Makes one of them in the drafts. */
  @Post('take')
  @HttpCode(200)
  @Permit('replay.run')
  @Answers('PreventionView', 'list')
  take(@Body() request: TakeChangeRequest, @CallerOf() caller: Caller): Promise<PreventionView[]> {
    return this.preventions.take(request, caller);
  }

  /** Changes that were made about a rule, and whether they kept their promise. */
  @Get('rules/:rule')
  @Permit('incidents.read')
  @Answers('PreventionView', 'list')
  ofRule(@Param('rule') rule: string, @CallerOf() caller: Caller): Promise<PreventionView[]> {
    return this.preventions.of(rule, caller);
  }
}
