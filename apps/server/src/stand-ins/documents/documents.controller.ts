import {
  DecideLoweringRequest,
  type DocumentDetail,
  type DocumentSummary,
  SaveDocumentRequest,
  ShareReplyRequest,
  ShareWordsRequest,
  TryRequest,
} from '@lantern/contracts';
import { MAX_FILE_BYTES } from '@lantern/files';
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
  Res,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { Permit } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Answers } from '../../platform/openapi.js';
import { fileName } from '../../platform/uploads.js';
import { PeopleService } from '../../directory/people.service.js';
import { DocumentMovements } from './document-movements.service.js';
import { DocumentWindow } from './documents.service.js';

const DOCX = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';

/** The document stand-in of a person of the demo. */
@ApiTags('stand-ins')
@Controller('stand-ins/documents')
@Permit('stand-ins.use')
export class DocumentWindowController {
  constructor(
    private readonly desk: DocumentWindow,
    private readonly movements: DocumentMovements,
    private readonly people: PeopleService,
  ) {}

  @Get(':person')
  @Answers('DocumentSummary', 'list')
  list(@Param('person', ParseUUIDPipe) person: string): Promise<DocumentSummary[]> {
    return this.desk.list(person);
  }

  @Get(':person/:id')
  @Answers('DocumentDetail')
  get(
    @Param('person', ParseUUIDPipe) person: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<DocumentDetail> {
    return this.desk.get(person, id);
  }

  /** The real file, with its label in it. */
  @Get(':person/:id/file')
  async file(
    @Param('person', ParseUUIDPipe) person: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Res() response: Response,
  ): Promise<void> {
    const { name, bytes } = await this.desk.file(person, id);
    response
      .setHeader('content-type', DOCX)
      .setHeader(
        'content-disposition',
        `attachment; filename*=UTF-8''${encodeURIComponent(name.endsWith('.docx') ? name : `${name}.docx`)}`,
      )
      .send(Buffer.from(bytes));
  }

  @Post()
  @Answers('DocumentDetail')
  create(@Body() request: SaveDocumentRequest): Promise<DocumentDetail> {
    return this.desk.save(null, request);
  }

  @Put(':id')
  @Answers('DocumentDetail')
  save(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: SaveDocumentRequest,
  ): Promise<DocumentDetail> {
    return this.desk.save(id, request);
  }

  /** Takes a real .docx in. */
  @Post(':person/files')
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(FileInterceptor('file', { limits: { fileSize: MAX_FILE_BYTES, files: 1 } }))
  @Answers('DocumentDetail')
  take(
    @Param('person', ParseUUIDPipe) person: string,
    @UploadedFile() file: Express.Multer.File | undefined,
  ): Promise<DocumentDetail> {
    if (!file)
      throw new AppError('invalid-request', 'No file came along.', {
        fields: [{ field: 'file', message: 'must be a file' }],
      });
    return this.desk.take(person, fileName(file), file.buffer);
  }

  /** Takes a piece out, makes another, or passes on; refused with the clause that says so. */
  @Post(':id/attempts')
  @HttpCode(200)
  @Answers('DocumentDetail')
  attempt(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { person, effect, to }: TryRequest,
  ): Promise<DocumentDetail> {
    return this.desk.attempt(person, id, effect, to);
  }

  /** The person answers the question about a share. */
  @Post('shares/:share/reply')
  @HttpCode(204)
  async reply(
    @Param('share', ParseUUIDPipe) share: string,
    @Body() request: ShareReplyRequest,
  ): Promise<void> {
    await this.movements.reply(share, await this.people.getPerson(request.person), request);
  }

  /** Asks somebody to let a share happen. */
  @Post('shares/:share/override')
  @HttpCode(204)
  async override(
    @Param('share', ParseUUIDPipe) share: string,
    @Body() { person, words }: ShareWordsRequest,
  ): Promise<void> {
    await this.movements.askOverride(share, await this.people.getPerson(person), words);
  }

  /** Says that what was found is none. */
  @Post('shares/:share/report')
  @HttpCode(204)
  async report(
    @Param('share', ParseUUIDPipe) share: string,
    @Body() { person, words }: ShareWordsRequest,
  ): Promise<void> {
    await this.movements.report(share, await this.people.getPerson(person), words);
  }

  @Post(':id/lowering')
  @HttpCode(200)
  @Answers('DocumentDetail')
  decide(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { person, agrees }: DecideLoweringRequest,
  ): Promise<DocumentDetail> {
    return this.desk.decideLowering(person, id, agrees);
  }
}
