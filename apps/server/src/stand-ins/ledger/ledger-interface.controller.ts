import { once } from 'node:events';
import {
  type LedgerAnswer,
  type LedgerDeedView,
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
  Res,
  StreamableFile,
} from '@nestjs/common';
import { ApiProduces, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import Papa from 'papaparse';
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

  /**
   * All records of a kind as CSV, sent as they are read: each batch is asked about before it is sent. An export that is cut
   * ends there, with the reason in the trailer `x-cut`; it goes on from `from` once that is answered.
   */
  @Get('streams/:object')
  @Asks('LedgerQuery')
  @ApiProduces('text/csv')
  async stream(
    @ProgramOf() program: CallingProgram,
    @Param('object') object: string,
    @Query() { from = 0 }: LedgerQuery,
    @Res() response: Response,
  ): Promise<void> {
    const player = await this.people.player(program.person);
    const batches = this.ledger.stream(player, object, from);
    // What is wrong with the request is answered before anything is sent.
    let next = await batches.next();
    response.setHeader('Trailer', 'x-rows, x-cut');
    response.type('text/csv; charset=utf-8');
    let given = 0;
    let cut: LedgerDeedView | null = null;
    for (; !next.done && !response.destroyed; next = await batches.next()) {
      if ('cut' in next.value) {
        cut = next.value.cut;
        continue;
      }
      const { fields, rows } = next.value;
      const lines = Papa.unparse(given === 0 ? [[...fields], ...rows] : [...rows], { escapeFormulae: true });
      given += rows.length;
      if (!response.write(`${lines}\r\n`))
        await Promise.race([once(response, 'drain'), once(response, 'close')]);
    }
    response.addTrailers({ 'x-rows': String(given), ...(cut ? { 'x-cut': `${cut.state} ${cut.id}` } : {}) });
    response.end();
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
