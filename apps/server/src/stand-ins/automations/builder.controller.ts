import {
  type AutomationKept,
  AutomationRequest,
  type AutomationSummary,
  type AutomationView,
  type BuilderRegister,
  JudgeAutomationRequest,
  type JudgedWhileBuilding,
} from '@lantern/contracts/crossings';
import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeopleService } from '../../directory/people.service.js';
import { Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { Builder } from './builder.service.js';

/** The program in which people of the house build flows and assistants. */
@ApiTags('stand-ins')
@Controller('stand-ins/automations/:player')
@Permit('stand-ins.use')
export class BuilderController {
  constructor(
    private readonly builder: Builder,
    private readonly people: PeopleService,
  ) {}

  @Get('register')
  @Answers('BuilderRegister')
  async register(@Param('player') player: string): Promise<BuilderRegister> {
    return this.builder.register(await this.people.player(player));
  }

  @Get('automations')
  @Answers('AutomationSummary', 'list')
  async mine(@Param('player') player: string): Promise<AutomationSummary[]> {
    return this.builder.mine(await this.people.player(player));
  }

  @Get('automations/:id')
  @Answers('AutomationView')
  async get(@Param('player') player: string, @Param('id') id: string): Promise<AutomationView> {
    return this.builder.get(id, await this.people.player(player));
  }

  /** What would be said about it as it stands; asked with every choice. */
  @Post('judged')
  @HttpCode(200)
  @Answers('JudgedWhileBuilding')
  async judge(
    @Param('player') player: string,
    @Body() { automation }: JudgeAutomationRequest,
  ): Promise<JudgedWhileBuilding> {
    return this.builder.judge(automation, await this.people.player(player));
  }

  @Put('automations')
  @Answers('AutomationKept')
  async save(@Param('player') player: string, @Body() request: AutomationRequest): Promise<AutomationKept> {
    return this.builder.save(request, await this.people.player(player));
  }

  @Delete('automations/:id')
  @HttpCode(204)
  async remove(@Param('player') player: string, @Param('id') id: string): Promise<void> {
    await this.builder.remove(id, await this.people.player(player));
  }
}
