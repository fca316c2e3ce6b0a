import {
  DecideLoweringRequest,
  type DocumentDetail,
  type DocumentSummary,
  SaveDocumentRequest,
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
import { DocumentDesk } from './documents.service.js';

const DOCX = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document';

/** The document stand-in of a person of the demo. */
@ApiTags('stand-ins')
@Controller('stand-ins/documents')
@Permit('stand-ins.use')
export class DocumentDeskController {
  constructor(private readonly desk: DocumentDesk) {}

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
