import { type IntakeAnswer, type IntakeVerdict, PageRequest, ReplyRequest } from '@lantern/contracts';
import {
  UseWatchDraft,
  type WatchGroupView,
  WatchingTold,
  type WatchOrders,
  WatchRequest,
} from '@lantern/contracts/discovery';
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
  Req,
} from '@nestjs/common';
import { ApiBody, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { Movements } from '../../movements/movements.service.js';
import { PersonAnswers } from '../../movements/person-answers.service.js';
import { type Caller, CallerOf, Permit, READER, ReaderOf } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Answers } from '../../platform/openapi.js';
import type { ReaderEntity } from '../readers/reader.entity.js';
import { Readers } from '../readers/readers.service.js';
import { WatchedMovements } from './watched-movements.service.js';
import { WatchDrafts } from './watch-drafts.service.js';
import { Watching } from './watching.service.js';

/** What machines that watch ask and hand in. */
@ApiTags('readers')
@Controller('reader')
@Permit(READER)
export class WatchProtocolController {
  constructor(
    private readonly watching: Watching,
    private readonly watched: WatchedMovements,
    private readonly movements: Movements,
    private readonly answers: PersonAnswers,
    private readonly readers: Readers,
  ) {}

  /** What to watch, and the published policies to judge by while the workbench cannot be reached. */
  @Get('watch')
  @Answers('WatchOrders')
  orders(@ReaderOf() reader: ReaderEntity): Promise<WatchOrders> {
    return this.watching.ordersFor(reader);
  }

  /** What a machine says of its watching, between two requests for work. */
  @Post('watching')
  @HttpCode(204)
  told(@ReaderOf() reader: ReaderEntity, @Body() told: WatchingTold): Promise<void> {
    return this.readers.watches(reader, told);
  }

  /** Files that arrived in watched folders, as the intake takes movements. */
  @Post('movements')
  @HttpCode(200)
  @Answers('IntakeAnswer')
  @ApiBody({ schema: { $ref: '#/components/schemas/IntakeRequest' } })
  async take(@ReaderOf() reader: ReaderEntity, @Req() request: Request): Promise<IntakeAnswer> {
    const body: unknown = request.body;
    return { results: await this.watched.take(reader, Buffer.isBuffer(body) ? body : Buffer.alloc(0)) };
  }

  /** Where a movement stands now: what waited may have been freed. */
  @Get('movements/:id')
  @Answers('IntakeVerdict')
  find(@ReaderOf() reader: ReaderEntity, @Param('id', ParseUUIDPipe) id: string): Promise<IntakeVerdict> {
    return this.movements.find(reader.id, id);
  }

  /** The machine still asks: a question that lives while its page is open goes on. */
  @Post('movements/:id/page')
  @HttpCode(200)
  @Answers('IntakeVerdict')
  page(
    @ReaderOf() reader: ReaderEntity,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { open }: PageRequest,
  ): Promise<IntakeVerdict> {
    return this.movements.page(reader.id, id, open);
  }

  /** The reply of whoever works at the machine. */
  @Post('movements/:id/reply')
  @HttpCode(200)
  @Answers('IntakeVerdict')
  reply(
    @ReaderOf() reader: ReaderEntity,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() reply: ReplyRequest,
  ): Promise<IntakeVerdict> {
    return this.answers.reply({ submitter: reader.id, id }, reply);
  }
}

/** What groups of machines watch and may cost. */
@ApiTags('discovery')
@Controller('discovery/watching')
export class WatchingController {
  constructor(private readonly drafts: WatchDrafts) {}

  @Get()
  @Permit('discovery.read')
  @Answers('WatchGroupView', 'list')
  list(): Promise<WatchGroupView[]> {
    return this.drafts.list();
  }

  /** Keeps a draft: nothing changes for the machines. */
  @Put(':group/draft')
  @Permit('discovery.manage')
  save(
    @Param('group') group: string,
    @Body() request: WatchRequest,
    @CallerOf() caller: Caller,
  ): Promise<{ readonly id: string }> {
    return this.drafts.save(named(group), request, caller.name);
  }

  @Delete(':group/draft/:id')
  @Permit('discovery.manage')
  @HttpCode(204)
  discard(@Param('group') group: string, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.drafts.discard(named(group), id);
  }

  /** Puts the draft in force. */
  @Post(':group/settings')
  @Permit('discovery.manage')
  @HttpCode(204)
  use(
    @Param('group') group: string,
    @Body() { draft }: UseWatchDraft,
    @CallerOf() caller: Caller,
  ): Promise<void> {
    return this.drafts.use(named(group), draft, caller);
  }
}

function named(group: string): string {
  const name = group.trim();
  if (name === '' || name.length > 60)
    throw new AppError('invalid-request', 'A group has a name of 1 to 60 letters. Nothing was saved.');
  return name;
}
