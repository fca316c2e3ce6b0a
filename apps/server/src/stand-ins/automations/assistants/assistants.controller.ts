import { OverrideRequest, ReplyRequest, ReportRequest } from '@lantern/contracts';
import { AskAssistantRequest, type AssistantOffer, type AssistantTalk } from '@lantern/contracts/crossings';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeopleService } from '../../../directory/people.service.js';
import { PersonAnswers } from '../../../movements/person-answers.service.js';
import { Permit } from '../../../platform/auth/permit.js';
import { Answers } from '../../../platform/openapi.js';
import { Assistants } from './assistants.service.js';

/** Assistants that somebody may ask, and what they asked. */
@ApiTags('stand-ins')
@Controller('stand-ins/automations/:player')
@Permit('stand-ins.use')
export class AssistantsController {
  constructor(
    private readonly assistants: Assistants,
    private readonly answers: PersonAnswers,
    private readonly people: PeopleService,
  ) {}

  @Get('assistants')
  @Answers('AssistantOffer', 'list')
  async offered(@Param('player') player: string): Promise<AssistantOffer[]> {
    return this.assistants.offered(await this.people.player(player));
  }

  @Get('assistants/:id/talks')
  @Answers('AssistantTalk', 'list')
  async list(@Param('player') player: string, @Param('id') id: string): Promise<AssistantTalk[]> {
    return this.assistants.list(id, await this.people.player(player));
  }

  /** Question and answer are movements, each judged. */
  @Post('assistants/:id/talks')
  @Answers('AssistantTalk')
  async ask(
    @Param('player') player: string,
    @Param('id') id: string,
    @Body() { question }: AskAssistantRequest,
  ): Promise<AssistantTalk> {
    return this.assistants.ask(id, await this.people.player(player), question);
  }

  @Post('talks/:talk/reply')
  @HttpCode(204)
  async reply(
    @Param('player') player: string,
    @Param('talk', ParseUUIDPipe) talk: string,
    @Body() reply: ReplyRequest,
  ): Promise<void> {
    await this.answers.reply(await this.refOf(player, talk), reply);
  }

  @Post('talks/:talk/override')
  @HttpCode(204)
  async override(
    @Param('player') player: string,
    @Param('talk', ParseUUIDPipe) talk: string,
    @Body() { words }: OverrideRequest,
  ): Promise<void> {
    await this.answers.askOverride(await this.refOf(player, talk), words);
  }

  @Post('talks/:talk/report')
  @HttpCode(204)
  async report(
    @Param('player') player: string,
    @Param('talk', ParseUUIDPipe) talk: string,
    @Body() { words }: ReportRequest,
  ): Promise<void> {
    await this.answers.report(await this.refOf(player, talk), words, (manager) =>
      this.assistants.markReported(manager, talk),
    );
  }

  private async refOf(player: string, talk: string): Promise<{ submitter: string; id: string }> {
    return this.assistants.refOf(talk, await this.people.player(player));
  }
}
