import type { FlowRunView } from '@lantern/contracts/crossings';
import { Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeopleService, type Player } from '../../../directory/people.service.js';
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

  private async owner(player: string, id: string): Promise<Player> {
    const owner = await this.people.player(player);
    await this.builder.demandOwn(id, owner);
    return owner;
  }
}
