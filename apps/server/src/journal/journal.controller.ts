import { JournalSettingRequest, type JournalView } from '@lantern/contracts';
import { type Channel, CHANNELS } from '@lantern/core/movement';
import { Body, Controller, Get, Param, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Permit } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { Answers } from '../platform/openapi.js';
import { JournalService } from './journal.service.js';

/** What is kept of movements for replay. */
@ApiTags('journal')
@Controller('journal')
export class JournalController {
  constructor(private readonly journal: JournalService) {}

  @Get()
  @Permit('policies.read')
  @Answers('JournalView', 'list')
  view(): Promise<JournalView[]> {
    return this.journal.view();
  }

  @Put(':channel')
  @Permit('journal.set')
  @Answers('JournalView', 'list')
  set(@Param('channel') channel: string, @Body() request: JournalSettingRequest): Promise<JournalView[]> {
    if (!CHANNELS.some((known) => known === channel))
      throw new AppError('not-found', 'There is no such channel.');
    return this.journal.set(channel as Channel, request);
  }
}
