import { type RecordJob, type RecordPreview, RecordsRequest } from '@lantern/contracts';
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Answers } from '../../platform/openapi.js';
import { MAX_RECORD_FILE_BYTES } from '../../platform/http/upload-limit.js';
import { sealedStorage } from '../../platform/http/sealed-uploads.js';
import { RecordsService } from './records.service.js';

@ApiTags('patterns')
@Controller('records')
@Permit('patterns.write')
export class RecordsController {
  constructor(private readonly records: RecordsService) {}

  /** Takes a CSV file and says what it holds. It is kept for an hour, for `POST /records`, and nowhere else. */
  @Post('uploads')
  @HttpCode(200)
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(
    FileInterceptor('file', {
      storage: sealedStorage,
      limits: { fileSize: MAX_RECORD_FILE_BYTES, files: 1 },
    }),
  )
  @Answers('RecordPreview')
  upload(@UploadedFile() file?: Express.Multer.File): Promise<RecordPreview> {
    if (!file) throw new AppError('invalid-request', 'The request contains no file.');
    return this.records.preview(file.path);
  }

  /** Begins to hash an uploaded file; only keyed hashes stay. */
  @Post()
  @HttpCode(202)
  @Answers('RecordJob')
  create(@Body() request: RecordsRequest, @CallerOf() caller: Caller): Promise<RecordJob> {
    return this.records.begin(request, caller);
  }

  /** The same in place of records that are there; the old ones serve until the new ones are whole. */
  @Put(':id')
  @HttpCode(202)
  @Answers('RecordJob')
  refresh(
    @Param('id', ParseUUIDPipe) id: string,
    @Body() request: RecordsRequest,
    @CallerOf() caller: Caller,
  ): Promise<RecordJob> {
    return this.records.begin(request, caller, id);
  }

  @Get('jobs/:id')
  @Answers('RecordJob')
  job(@Param('id', ParseUUIDPipe) id: string): RecordJob {
    return this.records.job(id);
  }
}
