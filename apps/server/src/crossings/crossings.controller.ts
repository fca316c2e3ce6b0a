import { AUTOMATION_SCHEMA } from '@lantern/contracts';
import {
  type AutomationGapsView,
  type AutomationKept,
  AutomationsQuery,
  type AutomationSummary,
  type AutomationView,
  BreachesExportQuery,
  BreachesQuery,
  type BreachesView,
  CROSSING_KINDS,
  type CrossingKind,
  CrossingPartRequest,
  type CrossingsView,
  HandedAutomationRequest,
  JudgeAutomationRequest,
  KeepAutomationRequest,
  type MayItRun,
  MayItRunRequest,
  type JudgedBy,
  JUDGED_BY,
  type OwnersTold,
  TellOwnersRequest,
} from '@lantern/contracts/crossings';
import type { AutomationVerdict } from '@lantern/core/automations';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseEnumPipe,
  Post,
  Put,
  Query,
  Res,
  StreamableFile,
} from '@nestjs/common';
import { ApiProduces, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import {
  AGENT,
  AgentOf,
  type Caller,
  CallerOf,
  type CallingAgent,
  OPEN,
  Permit,
} from '../platform/auth/permit.js';
import { Answers, Asks } from '../platform/openapi.js';
import { Automations } from './automations.service.js';
import { AutomationTelling } from './automation-telling.service.js';
import { BreachesExport } from './breaches-export.service.js';
import { OwnerTelling } from './owner-telling.service.js';
import { CrossingDrafts } from './crossing-drafts.service.js';

const among = <Value extends string>(values: readonly Value[]) =>
  new ParseEnumPipe(Object.fromEntries(values.map((each) => [each, each])));

/** What may cross between services, as authors write it. */
@ApiTags('crossings')
@Controller('crossings')
export class CrossingsController {
  constructor(
    private readonly drafts: CrossingDrafts,
    private readonly automations: Automations,
    private readonly exports: BreachesExport,
    private readonly telling: OwnerTelling,
  ) {}

  @Get()
  @Permit('policies.read')
  @Answers('CrossingsView')
  list(): Promise<CrossingsView> {
    return this.drafts.list();
  }

  /** Automations in breach by what is published, or by the drafts: before publishing, what would stop. */
  @Get('breaches')
  @Permit('policies.read')
  @Asks('BreachesQuery')
  @Answers('BreachesView')
  breaches(@Query() { by, search }: BreachesQuery): Promise<BreachesView> {
    return this.automations.breaches(by, search);
  }

  /** What about automations nothing guards. */
  @Get('gaps')
  @Permit('policies.read')
  @Asks('AutomationsQuery')
  @Answers('AutomationGapsView')
  gaps(@Query() { by }: AutomationsQuery): Promise<AutomationGapsView> {
    return this.automations.gaps(by);
  }

  /** The same as a file; written into the audit trail with the number of its rows. */
  @Get('breaches/export')
  @Permit('policies.read')
  @Asks('BreachesExportQuery')
  @ApiProduces('text/csv', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
  async export(
    @Query() { by, search = '', format }: BreachesExportQuery,
    @CallerOf() caller: Caller,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StreamableFile> {
    const file = await this.exports.as(format, { by, search }, caller.email);
    const day = new Date().toISOString().slice(0, 10);
    response.setHeader('Content-Disposition', `attachment; filename="breaches-${day}.${format}"`);
    return new StreamableFile(file, { type: TYPES[format] });
  }

  /** Tells the owners of what is listed, by when to mend it. */
  @Post('breaches/told')
  @Permit('policies.write')
  @HttpCode(200)
  @Answers('OwnersTold')
  tell(@Body() request: TellOwnersRequest, @CallerOf() caller: Caller): Promise<OwnersTold> {
    return this.telling.tell(request, caller.email);
  }

  @Post(':kind')
  @Permit('policies.write')
  create(
    @Param('kind', among(CROSSING_KINDS)) kind: CrossingKind,
    @Body() request: CrossingPartRequest,
    @CallerOf() caller: Caller,
  ): Promise<{ readonly id: string }> {
    return this.drafts.save(kind, null, request, caller);
  }

  @Put(':kind/:id')
  @Permit('policies.write')
  save(
    @Param('kind', among(CROSSING_KINDS)) kind: CrossingKind,
    @Param('id') id: string,
    @Body() request: CrossingPartRequest,
    @CallerOf() caller: Caller,
  ): Promise<{ readonly id: string }> {
    return this.drafts.save(kind, id, request, caller);
  }

  @Delete(':kind/:id')
  @Permit('policies.write')
  @HttpCode(204)
  remove(@Param('kind', among(CROSSING_KINDS)) kind: CrossingKind, @Param('id') id: string): Promise<void> {
    return this.drafts.remove(kind, id);
  }
}

/** Flows and assistants. */
@ApiTags('crossings')
@Controller('automations')
export class AutomationsController {
  constructor(
    private readonly automations: Automations,
    private readonly telling: AutomationTelling,
  ) {}

  @Get()
  @Permit('policies.read')
  @Asks('AutomationsQuery')
  @Answers('AutomationSummary', 'list')
  list(@Query() { by }: AutomationsQuery): Promise<AutomationSummary[]> {
    return this.automations.list(by);
  }

  /** May it run, by what is published and by the drafts? Nothing is kept. */
  @Post('may-it-run')
  @Permit('policies.read')
  @HttpCode(200)
  @Answers('MayItRun')
  mayItRun(@Body() request: MayItRunRequest): Promise<MayItRun> {
    return this.telling.mayItRun(request);
  }

  @Get(':id')
  @Permit('policies.read')
  @Answers('AutomationView')
  get(@Param('id') id: string): Promise<AutomationView> {
    return this.automations.get(id);
  }

  /** What the published sets, or the drafts, say about one that is not kept. */
  @Post('judged/:by')
  @Permit('policies.read')
  @HttpCode(200)
  judge(
    @Param('by', among(JUDGED_BY)) by: JudgedBy,
    @Body() { automation }: JudgeAutomationRequest,
  ): Promise<AutomationVerdict> {
    return this.automations.judge(automation, by);
  }
}

/** Where other systems hand in their flows and assistants. The key goes in the header `authorization: Bearer …`. */
@ApiTags('intake')
@Controller('intake/automations')
export class AutomationDoor {
  constructor(
    private readonly automations: Automations,
    private readonly telling: AutomationTelling,
  ) {}

  /** The published JSON Schema (2020-12) of one flow or assistant. */
  @Get('schema')
  @Permit(OPEN)
  schema(): object {
    return AUTOMATION_SCHEMA;
  }

  /** The verdict with its trace, before anything is built; nothing is kept. */
  @Post('judged')
  @Permit(AGENT)
  @HttpCode(200)
  async judge(@Body() request: HandedAutomationRequest): Promise<AutomationVerdict> {
    return this.automations.judge(await this.telling.handedIn(request), 'published');
  }

  /** Keeps it, or what changed about it; `isOn` of the answer says whether it may run. */
  @Post()
  @Permit(AGENT)
  @HttpCode(200)
  @Answers('AutomationKept')
  async keep(
    @AgentOf() agent: CallingAgent,
    @Body() request: KeepAutomationRequest,
  ): Promise<AutomationKept> {
    const automation = await this.telling.handedIn(request);
    // Each agent has ids of its own: no other one can change what it handed in.
    const id = `${agent.id.slice(0, 8)} ${automation.id}`.slice(0, 120);
    return this.automations.keep({ ...automation, id }, { isOn: request.isOn, by: agent.id });
  }
}

const TYPES = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
} as const;
