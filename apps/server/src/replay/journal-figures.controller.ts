import { type JournalFigures, JournalFiguresRequest } from '@lantern/contracts';
import { Body, Controller, HttpCode, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { JournalFiguresService } from './journal-figures.service.js';

@ApiTags('patterns')
@Controller('specimens')
export class JournalFiguresController {
  constructor(private readonly journal: JournalFiguresService) {}

  /** Finds an edited pattern in the newest kept movements, beside the pattern as it was. */
  @Post('journal')
  @Permit('replay.run')
  @HttpCode(200)
  @Answers('JournalFigures')
  figures(@Body() request: JournalFiguresRequest): Promise<JournalFigures> {
    return this.journal.figures(request);
  }
}
