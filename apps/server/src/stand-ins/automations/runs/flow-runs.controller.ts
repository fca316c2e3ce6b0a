import type { FlowRunView } from '@lantern/contracts/crossings';
import { OverrideRequest, ReplyRequest, ReportRequest } from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeopleService, type Player } from '../../../directory/people.service.js';
import { PersonAnswers, type SubmissionRef } from '../../../movements/person-answers.service.js';
import { Permit } from '../../../platform/auth/permit.js';
import { Answers } from '../../../platform/openapi.js';
import { Builder } from '../builder.service.js';
import { FlowRunner } from './flow-runner.service.js';

/** Runs of somebody's flows. */
@ApiTags('stand-ins')
@Controller('stand-ins/automations/:player/automations/:id/runs')
@Permit('stand-ins.use')
export class FlowRunsController {
  constructor(
    private readonly runner: FlowRunner,
    private readonly builder: Builder,
    private readonly people: PeopleService,
    private readonly answers: PersonAnswers,
  ) {}

  @Get()
  @Answers('FlowRunView', 'list')
  async list(@Param('player') player: string, @Param('id') id: string): Promise<FlowRunView[]> {
    await this.owner(player, id);
    return this.runner.list(id);
  }

  /** Runs it once, now. */
  @Post()
  @Answers('FlowRunView')
  async start(@Param('player') player: string, @Param('id') id: string): Promise<FlowRunView> {
    return this.runner.start(id, await this.owner(player, id));
  }

  /** Ends a run that waits. */
  @Post(':run/stop')
  @HttpCode(204)
  async stop(
    @Param('player') player: string,
    @Param('id') id: string,
    @Param('run', ParseUUIDPipe) run: string,
  ): Promise<void> {
    await this.owner(player, id);
    await this.runner.stop(id, run);
  }

  /** The owner answers about the movement of the last step: where it went, there may be no window of theirs. */
  @Post(':run/reply')
  @HttpCode(204)
  async reply(
    @Param('player') player: string,
    @Param('id') id: string,
    @Param('run', ParseUUIDPipe) run: string,
    @Body() reply: ReplyRequest,
  ): Promise<void> {
    await this.answers.reply(await this.refOf(player, id, run), reply);
  }

  @Post(':run/override')
  @HttpCode(204)
  async override(
    @Param('player') player: string,
    @Param('id') id: string,
    @Param('run', ParseUUIDPipe) run: string,
    @Body() { words }: OverrideRequest,
  ): Promise<void> {
    await this.answers.askOverride(await this.refOf(player, id, run), words);
  }

  @Post(':run/report')
  @HttpCode(204)
  async report(
    @Param('player') player: string,
    @Param('id') id: string,
    @Param('run', ParseUUIDPipe) run: string,
    @Body() { words }: ReportRequest,
  ): Promise<void> {
    await this.answers.report(await this.refOf(player, id, run), words);
  }

  private async refOf(player: string, id: string, run: string): Promise<SubmissionRef> {
    const { address } = await this.owner(player, id);
    return this.answers.ofPerson(await this.runner.submissionOf(id, run), address);
  }

  private async owner(player: string, id: string): Promise<Player> {
    const owner = await this.people.player(player);
    await this.builder.demandOwn(id, owner);
    return owner;
  }
}
