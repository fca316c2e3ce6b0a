import { Readable } from 'node:stream';
import { ExportQuery } from '@lantern/contracts';
import { Controller, Get, Header, Param, ParseIntPipe, Query, Res, StreamableFile } from '@nestjs/common';
import { ApiProduces, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { type Caller, CallerOf, Narrowed, Permit } from '../../platform/auth/permit.js';
import { Asks } from '../../platform/openapi.js';
import { sightOf } from '../../platform/auth/sight.js';
import { CaseFolders } from './case-folder.service.js';
import { Exports } from './export.service.js';

@ApiTags('incidents')
@Controller('incidents')
export class ExportController {
  constructor(
    private readonly exports: Exports,
    private readonly folders: CaseFolders,
  ) {}

  /** Exactly what is listed, as a file; written into the audit trail with the number of its rows. */
  @Get('export')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('ExportQuery')
  @ApiProduces('text/csv', 'application/jsonl')
  @Header('Cache-Control', 'no-store')
  export(
    @Query() query: ExportQuery,
    @CallerOf() caller: Caller,
    @Res({ passthrough: true }) response: Response,
  ): StreamableFile {
    const { writer, pieces } = this.exports.begin(query, sightOf(caller), caller.email);
    response.setHeader('Content-Type', writer.contentType);
    const day = new Date().toISOString().slice(0, 10);
    response.setHeader(
      'Content-Disposition',
      `attachment; filename="${query.listed}-${day}.${writer.extension}"`,
    );
    return new StreamableFile(Readable.from(pieces), { type: writer.contentType });
  }

  /** An incident or its whole case as one folder: a page that reads alone, and JSON. */
  @Get(':number/folder')
  @Permit('incidents.read')
  @Narrowed()
  @ApiProduces('application/zip')
  @Header('Cache-Control', 'no-store')
  async folder(
    @Param('number', ParseIntPipe) number: number,
    @CallerOf() caller: Caller,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StreamableFile> {
    const archive = await this.folders.of(number, caller);
    response.setHeader('Content-Disposition', `attachment; filename="incident-${number}.zip"`);
    return new StreamableFile(archive, { type: 'application/zip' });
  }
}
