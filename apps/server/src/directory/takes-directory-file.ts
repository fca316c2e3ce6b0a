import { MAX_DIRECTORY_FILE_BYTES } from '@lantern/contracts/directory';
import { applyDecorators, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiConsumes } from '@nestjs/swagger';
import { sealedStorage } from '../platform/http/sealed-uploads.js';

/** Marks a route that takes one file of people, machines or places. It is encrypted while it waits on the disk. */
export const TakesDirectoryFile = () =>
  applyDecorators(
    ApiConsumes('multipart/form-data'),
    UseInterceptors(
      FileInterceptor('file', {
        storage: sealedStorage,
        limits: { fileSize: MAX_DIRECTORY_FILE_BYTES, files: 1 },
      }),
    ),
  );
