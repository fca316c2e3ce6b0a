import {
  type CleanedMail,
  CleanMailRequest,
  FilesOfMailRequest,
  type HighestOfFiles,
  type MailDetail,
  type MailSummary,
  OverrideRequest,
  ReplyRequest,
  ReportRequest,
  SendMailRequest,
  type SendMailResult,
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
  UploadedFiles,
  UseInterceptors,
} from '@nestjs/common';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { PeopleService } from '../../directory/people.service.js';
import { Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { formFiles, namedFiles } from '../../platform/uploads.js';
import { MailWindow } from './mail-window.service.js';
import { MailLabels } from '../../movements/mail/mail-labels.service.js';
import { MailboxService } from './mailbox.service.js';
import { type MailFile } from '../../movements/mail/mailboxes.js';

/** The mail window of a person of the demo. */
@ApiTags('stand-ins')
@Controller('stand-ins/mail')
@Permit('stand-ins.use')
export class MailController {
  constructor(
    private readonly mailboxes: MailboxService,
    private readonly window: MailWindow,
    private readonly people: PeopleService,
    private readonly labels: MailLabels,
    @InjectEntityManager() private readonly manager: EntityManager,
  ) {}

  @Get(':person/messages')
  @Answers('MailSummary', 'list')
  list(@Param('person', ParseUUIDPipe) person: string): Promise<MailSummary[]> {
    return this.mailboxes.list(person);
  }

  @Get(':person/messages/:id')
  @Answers('MailDetail')
  get(
    @Param('person', ParseUUIDPipe) person: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<MailDetail> {
    return this.mailboxes.get(person, id);
  }

  @Delete(':person/messages/:id')
  @HttpCode(204)
  remove(
    @Param('person', ParseUUIDPipe) person: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<void> {
    return this.mailboxes.remove(this.manager, person, id);
  }

  /** The highest label of the files of a mail that is being written. Nothing of them is kept. */
  @Post('labels-of-files')
  @HttpCode(200)
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(formFiles())
  @Answers('HighestOfFiles')
  async highestOfFiles(
    @Body() request: FilesOfMailRequest,
    @UploadedFiles() files: Express.Multer.File[] = [],
  ): Promise<HighestOfFiles> {
    const label = await this.labels.highestOf(await this.allFiles(request, files));
    return {
      label: label && { id: label.id, name: label.name, rank: label.rank, colour: label.colour },
    };
  }

  /** Sends a mail. A refusal is an answer, not an error: the mail comes back as a draft with its notice. */
  @Post('messages')
  @HttpCode(200)
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(formFiles())
  @Answers('SendMailResult')
  async send(
    @Body() request: SendMailRequest,
    @UploadedFiles() files: Express.Multer.File[] = [],
  ): Promise<SendMailResult> {
    const person = await this.people.getPerson(request.person);
    const sent = await this.window.send({
      person,
      to: request.to,
      subject: request.subject,
      body: request.body,
      files: await this.allFiles(request, files),
      draft: request.draft ?? null,
      at: new Date(),
      ...(request.label === undefined ? {} : { label: request.label || null }),
    });
    if (sent.status === 'sent') return { status: 'sent', message: sent.messageId, notice: sent.notice };
    const mail = await this.mailboxes.get(person.id, sent.messageId);
    return sent.status === 'waiting'
      ? { status: 'waiting', message: mail }
      : { status: 'refused', draft: mail };
  }

  /** The person answers the question that holds a mail back. */
  @Post(':person/messages/:id/reply')
  @HttpCode(204)
  async reply(
    @Param('person', ParseUUIDPipe) person: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: ReplyRequest,
  ): Promise<void> {
    await this.window.reply(await this.people.getPerson(person), id, request);
  }

  /** Asks whoever the rule names to let a blocked mail go. */
  @Post(':person/messages/:id/override')
  @HttpCode(204)
  async override(
    @Param('person', ParseUUIDPipe) person: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { words }: OverrideRequest,
  ): Promise<void> {
    await this.window.askOverride(await this.people.getPerson(person), id, words);
  }

  /** Says that what was found is none; the incident is marked so. */
  @Post(':person/messages/:id/report')
  @HttpCode(204)
  async report(
    @Param('person', ParseUUIDPipe) person: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { words }: ReportRequest,
  ): Promise<void> {
    await this.window.report(await this.people.getPerson(person), id, words);
  }

  /** Subject and text without the values that would stop the mail. Nothing is sent or kept. */
  @Post(':person/without-values')
  @HttpCode(200)
  @Answers('CleanedMail')
  async withoutValues(
    @Param('person', ParseUUIDPipe) id: string,
    @Body() { to, subject, body, draft }: CleanMailRequest,
  ): Promise<CleanedMail> {
    const person = await this.people.getPerson(id);
    const attachments = draft ? (await this.mailboxes.get(id, draft)).attachments : [];
    const files = draft
      ? await this.mailboxes.files(
          id,
          draft,
          attachments.map((file) => file.id),
        )
      : [];
    return this.window.withoutValues({ person, to, subject, body, files });
  }

  /** Files that stay from a draft, and those that come along. */
  private async allFiles(
    { person, draft, keep }: FilesOfMailRequest & { readonly person?: string },
    files: readonly Express.Multer.File[],
  ): Promise<MailFile[]> {
    const kept = draft && person ? await this.mailboxes.files(person, draft, keep ?? []) : [];
    return [...kept, ...namedFiles(files)];
  }
}
