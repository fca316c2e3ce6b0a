import {
  type AlikeView,
  AroundQuery,
  type AroundView,
  type AssigneeView,
  type CaseView,
  DeskSettingRequest,
  type DeskSettingView,
  type DeskViewView,
  type PresenceView,
  type RemarksView,
  ViewRequest,
} from '@lantern/contracts';
import { isZone } from '@lantern/core/policy';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  ParseUUIDPipe,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { AccountsService } from '../accounts/accounts.service.js';
import { type Caller, CallerOf, Narrowed, Permit } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { Answers, Asks } from '../platform/openapi.js';
import { AlikeIncidents } from './alike/alike.service.js';
import { Surroundings } from './around/around.service.js';
import { Presence } from './presence.service.js';
import { PromisesService } from './promises.service.js';
import { sightOf } from '../platform/auth/sight.js';
import { DeskViews } from './views/desk-views.service.js';

/** What stands around incidents: look-alikes, cases, time lines, saved views, promised times. */
@ApiTags('incidents')
@Controller()
export class DeskController {
  constructor(
    private readonly similar: AlikeIncidents,
    private readonly surroundings: Surroundings,
    private readonly views: DeskViews,
    private readonly promises: PromisesService,
    private readonly presence: Presence,
    private readonly accounts: AccountsService,
  ) {}

  @Get('incidents/around')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('AroundQuery')
  @Answers('AroundView')
  around(@Query() query: AroundQuery, @CallerOf() caller: Caller): Promise<AroundView> {
    return this.surroundings.around(query, sightOf(caller));
  }

  /** Accounts that incidents can be handed to. */
  @Get('incidents/assignees')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('AssigneeView', 'list')
  async assignees(): Promise<AssigneeView[]> {
    const holders = await this.accounts.holding('incidents.decide');
    return holders.map(({ name, email }) => ({ name, email }));
  }

  @Get('incidents/:number/alike')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('AlikeView')
  alike(@Param('number', ParseIntPipe) number: number, @CallerOf() caller: Caller): Promise<AlikeView> {
    return this.similar.alike(number, sightOf(caller));
  }

  @Get('incidents/:number/case')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('CaseView')
  case(@Param('number', ParseIntPipe) number: number, @CallerOf() caller: Caller): Promise<CaseView> {
    return this.similar.case(number, sightOf(caller));
  }

  /** Takes an attempt out of its case. */
  @Delete('incidents/:number/case')
  @Permit('incidents.decide')
  @Narrowed()
  @HttpCode(204)
  leaveCase(@Param('number', ParseIntPipe) number: number, @CallerOf() caller: Caller): Promise<void> {
    return this.similar.leaveCase(number, caller);
  }

  @Get('incidents/:number/remarks')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('RemarksView')
  remarks(@Param('number', ParseIntPipe) number: number, @CallerOf() caller: Caller): Promise<RemarksView> {
    return this.surroundings.remarks(number, sightOf(caller));
  }

  /** Says that the caller has an incident open; answers who else has. Changes nothing that lasts. */
  @Get('incidents/:number/presence')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('PresenceView')
  async present(
    @Param('number', ParseIntPipe) number: number,
    @CallerOf() caller: Caller,
  ): Promise<PresenceView> {
    return { others: await this.presence.note(number, caller, Date.now()) };
  }

  @Get('desk/views')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('DeskViewView', 'list')
  list(@CallerOf() caller: Caller): Promise<DeskViewView[]> {
    return this.views.list(caller);
  }

  @Post('desk/views')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('DeskViewView', 'list')
  add(@Body() request: ViewRequest, @CallerOf() caller: Caller): Promise<DeskViewView[]> {
    return this.views.save(null, request, caller);
  }

  @Put('desk/views/:id')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('DeskViewView', 'list')
  change(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: ViewRequest,
    @CallerOf() caller: Caller,
  ): Promise<DeskViewView[]> {
    return this.views.save(id, request, caller);
  }

  @Delete('desk/views/:id')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('DeskViewView', 'list')
  remove(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<DeskViewView[]> {
    return this.views.remove(id, caller);
  }

  /** Working hours, and within how many of them incidents are to be decided. */
  @Get('desk/setting')
  @Permit('incidents.read')
  @Narrowed()
  @Answers('DeskSettingView')
  setting(): DeskSettingView {
    return this.promises.current;
  }

  @Put('desk/setting')
  @Permit('incidents.route')
  @Answers('DeskSettingView')
  async set(@Body() request: DeskSettingRequest, @CallerOf() caller: Caller): Promise<DeskSettingView> {
    const { hours } = request;
    if (!isZone(hours.zone)) throw new AppError('invalid-request', 'This time zone is not known.');
    if (hours.from >= hours.to)
      throw new AppError('invalid-request', 'Work must begin before it ends on the same day.');
    await this.promises.change({ hours: { ...hours }, promises: { ...request.promises } }, caller.name);
    return this.promises.current;
  }
}
