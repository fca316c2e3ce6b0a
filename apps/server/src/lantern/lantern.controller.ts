import type { LanternFileResult, LanternSet } from '@lantern/contracts';
import { MAX_FILE_BYTES } from '@lantern/files';
import { Controller, Get, HttpCode, Post, UploadedFile, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { Answers } from '../platform/openapi.js';
import { fileName } from '../platform/uploads.js';
import { LanternService } from './lantern.service.js';

@ApiTags('lantern')
@Controller('lantern')
@Permit('lantern.use')
export class LanternController {
  constructor(private readonly lantern: LanternService) {}

  /** Patterns and policies, published and as drafted, for the Lantern in the browser. */
  @Get('set')
  @Answers('LanternSet')
  set(@CallerOf() caller: Caller): Promise<LanternSet> {
    return this.lantern.set(caller);
  }

  /** Reads a file and says what is in it by the drafts. Nothing of it is kept. */
  @Post('files')
  @HttpCode(200)
  @ApiConsumes('multipart/form-data')
  @UseInterceptors(FileInterceptor('file', { limits: { fileSize: MAX_FILE_BYTES, files: 1 } }))
  @Answers('LanternFileResult')
  file(@UploadedFile() file?: Express.Multer.File): Promise<LanternFileResult> {
    if (!file) throw new AppError('invalid-request', 'The request contains no file.');
    return this.lantern.file(fileName(file), file.buffer);
  }
}
