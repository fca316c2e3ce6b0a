import {
  ActedReport,
  CheckedReport,
  type Enrolled,
  EnrolRequest,
  FailedReport,
  ListedReport,
  ReadReport,
  RenewRequest,
  type WorkAnswer,
  WorkRequest,
} from '@lantern/contracts/discovery';
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Req,
  Res,
  StreamableFile,
} from '@nestjs/common';
import { ApiBody, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { OPEN, Permit, READER, ReaderOf } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import type { LookedFor } from './discovery-context.js';
import { Listings } from './jobs/listing.service.js';
import { OwnKnowledge } from './jobs/own-knowledge.service.js';
import { Readings } from './jobs/reading.service.js';
import { WorkService } from './jobs/work.service.js';
import type { ReaderEntity } from './readers/reader.entity.js';
import { Readers } from './readers/readers.service.js';

/** What readers ask and report. They ask; nothing ever connects to them. */
@ApiTags('readers')
@Controller('reader')
export class ReaderProtocolController {
  constructor(
    private readonly readers: Readers,
    private readonly work: WorkService,
    private readonly listings: Listings,
    private readonly readings: Readings,
    private readonly knowledge: OwnKnowledge,
  ) {}

  /** A code that lives minutes and works once, for the public keys of a new reader. */
  @Post('enrol')
  @Permit(OPEN)
  @HttpCode(200)
  @Answers('Enrolled')
  enrol(@Body() request: EnrolRequest): Promise<Enrolled> {
    return this.readers.enrol(request);
  }

  @Post('keys')
  @Permit(READER)
  @HttpCode(200)
  renew(
    @ReaderOf() reader: ReaderEntity,
    @Body() { keys }: RenewRequest,
  ): Promise<{ readonly keyEndsAt: string }> {
    return this.readers.renew(reader.id, keys);
  }

  /** Patterns and labels of the published revision. Own records and sample documents stay on the server. */
  @Get('patterns')
  @Permit(READER)
  patterns(): LookedFor {
    return this.work.lookedFor();
  }

  /** What time it is here: a reader learns how far away the workbench is, and how wrong its clock. */
  @Get('clock')
  @Permit(READER)
  clock(): { readonly now: string } {
    return { now: new Date().toISOString() };
  }

  /** The next piece of work; waits for one as long as the reader says. */
  @Post('work')
  @Permit(READER)
  @HttpCode(200)
  @Answers('WorkAnswer')
  next(
    @ReaderOf() reader: ReaderEntity,
    @Body() said: WorkRequest,
    @Req() request: Request,
  ): Promise<WorkAnswer> {
    const relay = request.header('x-lantern-relay') ?? '';
    return this.work.next(reader, said, {
      isGone: () => request.socket.destroyed,
      through: /^[\da-f-]{36}$/u.test(relay) ? relay : null,
    });
  }

  @Post('parts/:id/listed')
  @Permit(READER)
  @HttpCode(204)
  listed(
    @ReaderOf() reader: ReaderEntity,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() report: ListedReport,
  ): Promise<void> {
    return this.listings.listed(reader, id, report);
  }

  @Post('parts/:id/read')
  @Permit(READER)
  @HttpCode(204)
  read(
    @ReaderOf() reader: ReaderEntity,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() report: ReadReport,
  ): Promise<void> {
    return this.readings.read(reader, id, report);
  }

  @Post('parts/:id/checked')
  @Permit(READER)
  @HttpCode(204)
  checked(
    @ReaderOf() reader: ReaderEntity,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() report: CheckedReport,
  ): Promise<void> {
    return this.readings.checked(reader, id, report);
  }

  @Post('parts/:id/acted')
  @Permit(READER)
  @HttpCode(204)
  acted(
    @ReaderOf() reader: ReaderEntity,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() report: ActedReport,
  ): Promise<void> {
    return this.readings.acted(reader, id, report);
  }

  /** Own records and documents for a reader that may look for them, while it has a part of a run in hand. */
  @Get('parts/:id/knowledge')
  @Permit(READER)
  async knowledgeOf(
    @ReaderOf() reader: ReaderEntity,
    @Param('id', ParseUUIDPipe) id: string,
    @Res({ passthrough: true }) response: Response,
  ): Promise<StreamableFile> {
    const { key, bytes } = await this.knowledge.sealed(reader, id);
    response.setHeader('x-lantern-key', key);
    return new StreamableFile(bytes, { type: 'application/octet-stream' });
  }

  /** An item that somebody asked for whole. */
  @Post('parts/:id/fetched')
  @Permit(READER)
  @HttpCode(204)
  @ApiBody({ schema: { $ref: '#/components/schemas/FetchedReport' } })
  fetched(
    @ReaderOf() reader: ReaderEntity,
    @Param('id', ParseUUIDPipe) id: string,
    @Req() request: Request,
  ): Promise<void> {
    const body: unknown = request.body;
    return this.readings.fetched(reader, id, Buffer.isBuffer(body) ? body : Buffer.alloc(0));
  }

  @Post('parts/:id/failed')
  @Permit(READER)
  @HttpCode(204)
  failed(
    @ReaderOf() reader: ReaderEntity,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() report: FailedReport,
  ): Promise<void> {
    return this.readings.failed(reader, id, report);
  }
}
