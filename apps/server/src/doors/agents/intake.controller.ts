import type { PasskeyOptionsView } from '@lantern/contracts/passkeys';
import {
  AgentRequest,
  type AgentView,
  ChannelSettingRequest,
  type ChannelView,
  type FindingsAnswer,
  type IntakeAnswer,
  type IntakeVerdict,
  MOVEMENT_SCHEMA,
  type NewAgent,
  OverrideRequest,
  PageRequest,
  ProofRequest,
  ReplyRequest,
  ReportRequest,
} from '@lantern/contracts';
import { CHANNELS } from '@lantern/core/movement';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseEnumPipe,
  ParseUUIDPipe,
  Post,
  Put,
  Req,
} from '@nestjs/common';
import { ApiBody, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import {
  AGENT,
  AgentOf,
  type Caller,
  CallerOf,
  type CallingAgent,
  OPEN,
  Permit,
} from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { ChannelSettings } from '../../movements/channels/channel-settings.service.js';
import { AgentsService } from './agents.service.js';
import { Movements } from '../../movements/movements.service.js';
import { FindingsIntake } from './findings.service.js';
import { IntakeService } from './intake.service.js';
import { PersonAnswers } from '../../movements/person-answers.service.js';

/** The body as it came; what is not JSON by its type is none. */
const bytesOf = (body: unknown): Buffer => (Buffer.isBuffer(body) ? body : Buffer.alloc(0));

/** Where agents hand in movements. The key goes in the header `authorization: Bearer …`. */
@ApiTags('intake')
@Controller('intake')
export class IntakeController {
  constructor(
    private readonly intake: IntakeService,
    private readonly reported: FindingsIntake,
    private readonly movements: Movements,
    private readonly answers: PersonAnswers,
  ) {}

  /** The published JSON Schema (2020-12) of one movement. */
  @Get('schema')
  @Permit(OPEN)
  schema(): object {
    return MOVEMENT_SCHEMA;
  }

  /** Judges up to 50 movements in their order. 429 with `retry-after` where too much is being judged. */
  @Post('movements')
  @Permit(AGENT)
  @HttpCode(200)
  @Answers('IntakeAnswer')
  @ApiBody({ schema: { $ref: '#/components/schemas/IntakeRequest' } })
  async take(@AgentOf() agent: CallingAgent, @Req() request: Request): Promise<IntakeAnswer> {
    return { results: await this.intake.takeAll(agent.id, bytesOf(request.body)) };
  }

  /**
   * Takes up to 500 findings of other systems, in the form of OCSF: one, a list, or one a line. Each becomes an incident under
   * the name of its system, once; rules are not asked.
   */
  @Post('findings')
  @Permit(AGENT)
  @HttpCode(200)
  @Answers('FindingsAnswer')
  async findings(@AgentOf() agent: CallingAgent, @Req() request: Request): Promise<FindingsAnswer> {
    return { results: await this.reported.takeAll(agent.id, bytesOf(request.body)) };
  }

  /** Where a movement stands now: what waited may have been freed. */
  @Get('movements/:id')
  @Permit(AGENT)
  @Answers('IntakeVerdict')
  find(@AgentOf() agent: CallingAgent, @Param('id', ParseUUIDPipe) id: string): Promise<IntakeVerdict> {
    return this.movements.find(agent.id, id);
  }

  /**
   * The page on which a question is asked is open, or closes. A question with `whileOpen` ends as it states 90 seconds
   * after the last word that its page is open, and 20 seconds after the word that it closes.
   */
  @Post('movements/:id/page')
  @Permit(AGENT)
  @HttpCode(200)
  @Answers('IntakeVerdict')
  page(
    @AgentOf() agent: CallingAgent,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { open }: PageRequest,
  ): Promise<IntakeVerdict> {
    return this.movements.page(agent.id, id, open);
  }

  /** The person's reply to a question: a reason of the rule, or words of their own, and where it leads. */
  @Post('movements/:id/reply')
  @Permit(AGENT)
  @HttpCode(200)
  @Answers('IntakeVerdict')
  reply(
    @AgentOf() agent: CallingAgent,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() reply: ReplyRequest,
  ): Promise<IntakeVerdict> {
    return this.answers.reply({ submitter: agent.id, id }, reply);
  }

  /** What the person's browser needs to answer with a passkey, in the JSON form of WebAuthn. */
  @Post('movements/:id/proof/challenge')
  @Permit(AGENT)
  @HttpCode(200)
  @Answers('PasskeyOptionsView')
  toProve(
    @AgentOf() agent: CallingAgent,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<PasskeyOptionsView> {
    return this.answers.toProve({ submitter: agent.id, id });
  }

  /** Checks a code of the person's second factor, or the answer of a passkey, if `notice.proof` is set. With the right code the movement goes on. */
  @Post('movements/:id/proof')
  @Permit(AGENT)
  @HttpCode(200)
  @Answers('IntakeVerdict')
  proof(
    @AgentOf() agent: CallingAgent,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() given: ProofRequest,
  ): Promise<IntakeVerdict> {
    return this.answers.prove({ submitter: agent.id, id }, given);
  }

  /** The person asks somebody to let a blocked movement go. */
  @Post('movements/:id/override')
  @Permit(AGENT)
  @HttpCode(200)
  @Answers('IntakeVerdict')
  override(
    @AgentOf() agent: CallingAgent,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { words }: OverrideRequest,
  ): Promise<IntakeVerdict> {
    return this.answers.askOverride({ submitter: agent.id, id }, words);
  }

  /** The person says that what was found is none; the incident is marked so. */
  @Post('movements/:id/report')
  @Permit(AGENT)
  @HttpCode(204)
  async report(
    @AgentOf() agent: CallingAgent,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { words }: ReportRequest,
  ): Promise<void> {
    await this.answers.report({ submitter: agent.id, id }, words);
  }
}

/** Agents and their keys. */
@ApiTags('intake')
@Controller('agents')
export class AgentsController {
  constructor(private readonly agents: AgentsService) {}

  @Get()
  @Permit('people.read')
  @Answers('AgentView', 'list')
  list(): Promise<AgentView[]> {
    return this.agents.list();
  }

  @Post()
  @Permit('agents.manage')
  @Answers('NewAgent')
  create(@Body() request: AgentRequest, @CallerOf() caller: Caller): Promise<NewAgent> {
    return this.agents.create(request, caller);
  }

  @Delete(':id')
  @Permit('agents.manage')
  @HttpCode(204)
  revoke(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.agents.revoke(id);
  }
}

/** What is stated for each channel. */
@ApiTags('intake')
@Controller('channels')
export class ChannelsController {
  constructor(private readonly settings: ChannelSettings) {}

  @Get()
  @Permit('policies.read')
  @Answers('ChannelView', 'list')
  list(): ChannelView[] {
    return this.settings.list();
  }

  @Put(':channel')
  @Permit('agents.manage')
  @Answers('ChannelView', 'list')
  set(
    @Param('channel', new ParseEnumPipe(Object.fromEntries(CHANNELS.map((each) => [each, each]))))
    channel: ChannelView['channel'],
    @Body() request: ChannelSettingRequest,
  ): Promise<ChannelView[]> {
    return this.settings.set(channel, request);
  }
}
