import {
  type LedgerAnswer,
  LedgerExportRequest,
  LedgerQuery,
  ProofRequest,
  ReplyRequest,
} from '@lantern/contracts';
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Query,
  StreamableFile,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeopleService } from '../../directory/people.service.js';
import { PersonAnswers } from '../../movements/person-answers.service.js';
import { type CallingProgram, Permit, PROGRAM, ProgramOf } from '../../platform/auth/permit.js';
import { Answers, Asks } from '../../platform/openapi.js';
import { LEDGER_SUBMITTER, LedgerDeeds } from './ledger-deeds.service.js';
import { Ledger } from './ledger.service.js';

/**
 * The ledger's interface for programs. The key of a person goes in the header `authorization: Bearer …`; it is checked
 * before anything is read. What waits is asked for again by its id.
 */
@ApiTags('stand-ins')
@Controller('stand-ins/ledger-interface')
@Permit(PROGRAM)
export class LedgerInterfaceController {
  constructor(
    private readonly ledger: Ledger,
    private readonly deeds: LedgerDeeds,
    private readonly people: PeopleService,
    private readonly answers: PersonAnswers,
  ) {}

  @Get('records/:object')
  @Asks('LedgerQuery')
  @Answers('LedgerAnswer')
  async records(
    @ProgramOf() program: CallingProgram,
    @Param('object') object: string,
    @Query() query: LedgerQuery,
  ): Promise<LedgerAnswer> {
    const player = await this.people.player(program.person);
    return this.ledger.answer(player, (await this.ledger.query(player, object, query)).id);
  }

  @Post('exports')
  @HttpCode(200)
  @Answers('LedgerAnswer')
  async export(
    @ProgramOf() program: CallingProgram,
    @Body() request: LedgerExportRequest,
  ): Promise<LedgerAnswer> {
    const player = await this.people.player(program.person);
    return this.ledger.answer(player, (await this.ledger.export(player, request, 'interface')).id);
  }

  /** Where something that was asked for stands, with its records once it goes on. */
  @Get('deeds/:id')
  @Answers('LedgerAnswer')
  async find(
    @ProgramOf() program: CallingProgram,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<LedgerAnswer> {
    return this.ledger.answer(await this.people.player(program.person), id);
  }

  @Get('deeds/:id/file')
  async file(
    @ProgramOf() program: CallingProgram,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<StreamableFile> {
    const { bytes } = await this.deeds.result(id, await this.people.player(program.person));
    return new StreamableFile(bytes, { type: 'application/octet-stream' });
  }

  /** The code of the person's second factor. */
  @Post('deeds/:id/proof')
  @HttpCode(200)
  @Answers('LedgerAnswer')
  async prove(
    @ProgramOf() program: CallingProgram,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() given: ProofRequest,
  ): Promise<LedgerAnswer> {
    const player = await this.people.player(program.person);
    const { submissionId } = await this.deeds.own(id, player);
    await this.answers.prove({ submitter: LEDGER_SUBMITTER, id: submissionId }, given);
    return this.ledger.answer(player, id);
  }

  @Post('deeds/:id/reply')
  @HttpCode(200)
  @Answers('LedgerAnswer')
  async reply(
    @ProgramOf() program: CallingProgram,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() reply: ReplyRequest,
  ): Promise<LedgerAnswer> {
    const player = await this.people.player(program.person);
    const { submissionId } = await this.deeds.own(id, player);
    await this.answers.reply({ submitter: LEDGER_SUBMITTER, id: submissionId }, reply);
    return this.ledger.answer(player, id);
  }
}
