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
  Headers,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Query,
  StreamableFile,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PersonAnswers } from '../../movements/person-answers.service.js';
import { OPEN, Permit } from '../../platform/auth/permit.js';
import { Answers, Asks } from '../../platform/openapi.js';
import { LEDGER_SUBMITTER, LedgerDeeds } from './ledger-deeds.service.js';
import { LedgerKeys } from './ledger-keys.service.js';
import { Ledger } from './ledger.service.js';

/**
 * The ledger's interface for programs. The key of a person goes in the header `authorization: Bearer …`; it is checked
 * before anything is read. What waits is asked for again by its id.
 */
@ApiTags('stand-ins')
@Controller('stand-ins/ledger-interface')
@Permit(OPEN)
export class LedgerInterfaceController {
  constructor(
    private readonly ledger: Ledger,
    private readonly deeds: LedgerDeeds,
    private readonly keys: LedgerKeys,
    private readonly answers: PersonAnswers,
  ) {}

  @Get('records/:object')
  @Asks('LedgerQuery')
  @Answers('LedgerAnswer')
  async records(
    @Headers('authorization') key: string | undefined,
    @Param('object') object: string,
    @Query() query: LedgerQuery,
  ): Promise<LedgerAnswer> {
    const player = await this.keys.playerOf(key);
    return this.ledger.answer(player, (await this.ledger.query(player, object, query)).id);
  }

  @Post('exports')
  @HttpCode(200)
  @Answers('LedgerAnswer')
  async export(
    @Headers('authorization') key: string | undefined,
    @Body() request: LedgerExportRequest,
  ): Promise<LedgerAnswer> {
    const player = await this.keys.playerOf(key);
    return this.ledger.answer(player, (await this.ledger.export(player, request, 'interface')).id);
  }

  /** Where something that was asked for stands, with its records once it goes on. */
  @Get('deeds/:id')
  @Answers('LedgerAnswer')
  async find(
    @Headers('authorization') key: string | undefined,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<LedgerAnswer> {
    return this.ledger.answer(await this.keys.playerOf(key), id);
  }

  @Get('deeds/:id/file')
  async file(
    @Headers('authorization') key: string | undefined,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<StreamableFile> {
    const { bytes } = await this.deeds.result(id, await this.keys.playerOf(key));
    return new StreamableFile(bytes, { type: 'application/octet-stream' });
  }

  /** The code of the person's second factor. */
  @Post('deeds/:id/proof')
  @HttpCode(200)
  @Answers('LedgerAnswer')
  async prove(
    @Headers('authorization') key: string | undefined,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { code }: ProofRequest,
  ): Promise<LedgerAnswer> {
    const player = await this.keys.playerOf(key);
    const { submissionId } = await this.deeds.own(id, player);
    await this.answers.prove({ submitter: LEDGER_SUBMITTER, id: submissionId }, code);
    return this.ledger.answer(player, id);
  }

  @Post('deeds/:id/reply')
  @HttpCode(200)
  @Answers('LedgerAnswer')
  async reply(
    @Headers('authorization') key: string | undefined,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() reply: ReplyRequest,
  ): Promise<LedgerAnswer> {
    const player = await this.keys.playerOf(key);
    const { submissionId } = await this.deeds.own(id, player);
    await this.answers.reply({ submitter: LEDGER_SUBMITTER, id: submissionId }, reply);
    return this.ledger.answer(player, id);
  }
}
