import { type ChooserView, SuggestRequest, type LabelSuggestion } from '@lantern/contracts';
import { type Carrier, CARRIERS } from '@lantern/core/labels';
import { Body, Controller, Get, HttpCode, Param, ParseEnumPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeopleService } from '../directory/people.service.js';
import { Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { LabelsAtWork } from './labels-at-work.service.js';

const asCarrier = new ParseEnumPipe(Object.fromEntries(CARRIERS.map((carrier) => [carrier, carrier])));

/** What somebody can choose for what they write, and what it calls for. */
@ApiTags('stand-ins')
@Controller('stand-ins/labels/:player/:carrier')
@Permit('stand-ins.use')
export class LabelsAtWorkController {
  constructor(
    private readonly labels: LabelsAtWork,
    private readonly people: PeopleService,
  ) {}

  /** The labels this person can choose, and on which terms; nothing where nothing is offered. */
  @Get()
  @Answers('ChooserView')
  async chooser(
    @Param('player') player: string,
    @Param('carrier', asCarrier) carrier: Carrier,
  ): Promise<ChooserView> {
    return this.labels.chooser(await this.people.player(player), carrier);
  }

  /** The label that a text calls for while it is written. Nothing of it is kept. */
  @Post('suggestions')
  @HttpCode(200)
  async suggest(
    @Param('player') player: string,
    @Param('carrier', asCarrier) carrier: Carrier,
    @Body() { text, label = null, sharedOutside = false }: SuggestRequest,
  ): Promise<{ suggestion: LabelSuggestion | null }> {
    const { address } = await this.people.player(player);
    return {
      suggestion: await this.labels.suggested(address, { carrier, text, label, sharedOutside }),
    };
  }
}
