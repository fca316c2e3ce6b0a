import {
  LedgerConnectRequest,
  type LedgerDashboardView,
  type LedgerDeedView,
  LedgerExportRequest,
  LedgerKeyRequest,
  LedgerLabelRequest,
  type LedgerNewKey,
  LedgerQuery,
  type LedgerRecords,
  type LedgerRecordView,
  type LedgerReportView,
  LedgerSignInRequest,
  type LedgerView,
  OverrideRequest,
  ReplyRequest,
  ReportRequest,
  ThingRequest,
  type ThingView,
} from '@lantern/contracts';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
  Query,
  StreamableFile,
  UploadedFiles,
  UseInterceptors,
} from '@nestjs/common';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import { PeopleService } from '../../directory/people.service.js';
import { PersonAnswers } from '../../movements/person-answers.service.js';
import { Permit } from '../../platform/auth/permit.js';
import { Answers, Asks } from '../../platform/openapi.js';
import { AppError } from '../../platform/errors/app-error.js';
import { formFiles, namedFiles } from '../../platform/uploads.js';
import { PostsService } from '../posts/posts.service.js';
import { NOTE_WAY, NOTES } from '../posts/ledger-notes.js';
import { LEDGER_SUBMITTER, LedgerDeeds } from './ledger-deeds.service.js';
import { LedgerKeys } from './ledger-keys.service.js';
import { Ledger } from './ledger.service.js';

/** The booking and freight ledger, as one person sees it. */
@ApiTags('stand-ins')
@Controller('stand-ins/ledger/:player')
@Permit('stand-ins.use')
export class LedgerController {
  constructor(
    private readonly ledger: Ledger,
    private readonly deeds: LedgerDeeds,
    private readonly keys: LedgerKeys,
    private readonly people: PeopleService,
    private readonly answers: PersonAnswers,
    private readonly posts: PostsService,
  ) {}

  @Get()
  @Answers('LedgerView')
  async view(@Param('player') player: string): Promise<LedgerView> {
    return this.ledger.view(await this.people.player(player));
  }

  @Post('sign-in')
  @Answers('LedgerDeedView')
  async signIn(
    @Param('player') player: string,
    @Body() request: LedgerSignInRequest,
  ): Promise<LedgerDeedView> {
    return this.ledger.signIn(await this.people.player(player), request);
  }

  /** A page of a list. */
  @Get('records/:object')
  @Asks('LedgerQuery')
  @Answers('LedgerRecords')
  records(@Param('object') object: string, @Query() query: LedgerQuery): LedgerRecords {
    return this.ledger.records(object, query);
  }

  /** Opens a record: a movement of its own. */
  @Post('records/:object/:id')
  @Answers('LedgerRecordView')
  async open(
    @Param('player') player: string,
    @Param('object') object: string,
    @Param('id') id: string,
  ): Promise<LedgerRecordView> {
    return this.ledger.open(await this.people.player(player), object, id);
  }

  @Post('exports')
  @Answers('LedgerDeedView')
  async export(
    @Param('player') player: string,
    @Body() request: LedgerExportRequest,
  ): Promise<LedgerDeedView> {
    return this.ledger.export(await this.people.player(player), request);
  }

  @Put('reports/:report/label')
  @Answers('LedgerReportView')
  async label(
    @Param('player') player: string,
    @Param('report') report: string,
    @Body() { label }: LedgerLabelRequest,
  ): Promise<LedgerReportView> {
    return this.ledger.labelReport(await this.people.player(player), report, label);
  }

  @Post('connections')
  @Answers('LedgerDeedView')
  async connect(
    @Param('player') player: string,
    @Body() { application }: LedgerConnectRequest,
  ): Promise<LedgerDeedView> {
    return this.ledger.connect(await this.people.player(player), application);
  }

  /** The connected application fetches what it may. */
  @Post('connections/:id/fetch')
  @Answers('LedgerDeedView')
  async fetch(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<LedgerDeedView> {
    return this.ledger.fetchBy(await this.people.player(player), id);
  }

  @Post('keys')
  @Answers('LedgerNewKey')
  async makeKey(@Param('player') player: string, @Body() { name }: LedgerKeyRequest): Promise<LedgerNewKey> {
    return this.keys.make(await this.people.player(player), name);
  }

  @Delete('keys/:id')
  @HttpCode(204)
  async endKey(@Param('player') player: string, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.keys.end(await this.people.player(player), id);
  }

  /** Notes between colleagues, those of others where their verdict lets them be read. */
  @Get('notes')
  @Answers('ThingView', 'list')
  async notes(@Param('player') player: string): Promise<ThingView[]> {
    return this.posts.list('business', NOTES, await this.people.player(player));
  }

  /** A note is a movement. */
  @Post('notes')
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(formFiles())
  @Answers('ThingView')
  async write(
    @Param('player') player: string,
    @Body() { text }: ThingRequest,
    @UploadedFiles() files: Express.Multer.File[] = [],
  ): Promise<ThingView> {
    if (text === '' && files.length === 0)
      throw new AppError('empty-movement', 'There is nothing to submit yet.');
    return this.posts.put({
      ...{ window: 'business', place: NOTES, player: await this.people.player(player), way: NOTE_WAY },
      ...{ activity: 'write', takenFrom: '', text, files: namedFiles(files) },
    });
  }

  /** Opens a dashboard: a movement of its own. */
  @Post('dashboards/:report')
  @Answers('LedgerDashboardView')
  async openDashboard(
    @Param('player') player: string,
    @Param('report') report: string,
  ): Promise<LedgerDashboardView> {
    return this.ledger.openDashboard(await this.people.player(player), report);
  }

  /** A dashboard that waited. */
  @Get('deeds/:id/dashboard')
  @Answers('LedgerDashboardView')
  async openedDashboard(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<LedgerDashboardView> {
    return this.ledger.openedDashboard(await this.people.player(player), id);
  }

  /** A record that waited. */
  @Get('deeds/:id/record')
  @Answers('LedgerRecordView')
  async opened(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<LedgerRecordView> {
    return this.ledger.opened(await this.people.player(player), id);
  }

  /** The file of an export that went on. */
  @Get('deeds/:id/file')
  async file(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<StreamableFile> {
    const { deed, bytes } = await this.deeds.result(id, await this.people.player(player));
    return new StreamableFile(bytes, {
      type: 'application/octet-stream',
      disposition: `attachment; filename*=UTF-8''${encodeURIComponent(deed.facts.file?.name ?? 'export')}`,
    });
  }

  /** Signs out, or cuts an application off. */
  @Post('deeds/:id/end')
  @HttpCode(204)
  async end(@Param('player') player: string, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.deeds.end(id, await this.people.player(player));
  }

  @Post('deeds/:id/reply')
  @HttpCode(204)
  async reply(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() reply: ReplyRequest,
  ): Promise<void> {
    await this.answers.reply(await this.refOf(player, id), reply);
  }

  @Post('deeds/:id/override')
  @HttpCode(204)
  async override(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { words }: OverrideRequest,
  ): Promise<void> {
    await this.answers.askOverride(await this.refOf(player, id), words);
  }

  @Post('deeds/:id/report')
  @HttpCode(204)
  async report(
    @Param('player') player: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { words }: ReportRequest,
  ): Promise<void> {
    await this.answers.report(await this.refOf(player, id), words, (manager) =>
      this.deeds.markReported(manager, id),
    );
  }

  private async refOf(player: string, id: string): Promise<{ submitter: string; id: string }> {
    const deed = await this.deeds.own(id, await this.people.player(player));
    return { submitter: LEDGER_SUBMITTER, id: deed.submissionId };
  }
}
