import { type DocumentsJob, DocumentsRequest, MAX_SAMPLE_FILES } from '@lantern/contracts';
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
  UploadedFiles,
  UseInterceptors,
} from '@nestjs/common';
import { FileFieldsInterceptor } from '@nestjs/platform-express';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { fileName } from '../../platform/uploads.js';
import { sealedStorage } from '../../platform/http/sealed-uploads.js';
import { DocumentsService, type SampleFile } from './documents.service.js';

type Uploaded = Partial<Record<'like' | 'unlike', Express.Multer.File[]>>;

const files = () =>
  FileFieldsInterceptor(
    [
      { name: 'like', maxCount: MAX_SAMPLE_FILES },
      { name: 'unlike', maxCount: MAX_SAMPLE_FILES },
    ],
    { storage: sealedStorage, limits: { fileSize: MAX_FILE_BYTES, files: MAX_SAMPLE_FILES } },
  );

const sampleFiles = (uploaded: Uploaded = {}): SampleFile[] =>
  (['like', 'unlike'] as const).flatMap((side) =>
    (uploaded[side] ?? []).map((file) => ({ path: file.path, name: fileName(file), side })),
  );

@ApiTags('patterns')
@Controller('document-patterns')
@Permit('patterns.write')
export class DocumentsController {
  constructor(private readonly documents: DocumentsService) {}

  /** Begins to learn a pattern from sample files: `like` are meant, `unlike` are not. */
  @Post()
  @HttpCode(202)
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(files())
  @Answers('DocumentsJob')
  create(
    @Body() request: DocumentsRequest,
    @CallerOf() caller: Caller,
    @UploadedFiles() uploaded?: Uploaded,
  ): Promise<DocumentsJob> {
    return this.documents.begin(request, sampleFiles(uploaded), caller);
  }

  /** Learns again with more samples, fewer, or other settings; what was learnt serves until then. */
  @Put(':id')
  @HttpCode(202)
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(files())
  @Answers('DocumentsJob')
  again(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: DocumentsRequest,
    @CallerOf() caller: Caller,
    @UploadedFiles() uploaded?: Uploaded,
  ): Promise<DocumentsJob> {
    return this.documents.begin(request, sampleFiles(uploaded), caller, id);
  }

  @Get('jobs/:id')
  @Answers('DocumentsJob')
  job(@Param('id', ParseUUIDPipe) id: string): DocumentsJob {
    return this.documents.job(id);
  }
}
