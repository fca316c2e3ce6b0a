import { type ReplayItem, ReplayItemsQuery, ReplayRequest, type ReplayView } from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';
import { ReplayService } from './replay.service.js';

/** The drafts over the journal, and the difference to what is published. */
@ApiTags('replays')
@Controller('replays')
export class ReplayController {
  constructor(private readonly replays: ReplayService) {}

  @Get()
  @Permit('replay.run')
  @Answers('ReplayView', 'list')
  list(): Promise<ReplayView[]> {
    return this.replays.list();
  }

  @Get(':id')
  @Permit('replay.run')
  @Answers('ReplayView')
  get(@Param('id', ParseUUIDPipe) id: string): Promise<ReplayView> {
    return this.replays.get(id);
  }

  @Get(':id/items')
  @Permit('replay.run')
  @Answers('ReplayItem', 'list')
  items(@Param('id', ParseUUIDPipe) id: string, @Query() { shift }: ReplayItemsQuery): Promise<ReplayItem[]> {
    return this.replays.items(id, shift);
  }

  @Post()
  @Permit('replay.run')
  @Answers('ReplayView')
  start(@Body() request: ReplayRequest, @CallerOf() caller: Caller): Promise<ReplayView> {
    return this.replays.start(request, caller);
  }

  /** Stops it where it is; what was judged until then stays. */
  @Post(':id/stop')
  @Permit('replay.run')
  @HttpCode(200)
  @Answers('ReplayView')
  stop(@Param('id', ParseUUIDPipe) id: string): Promise<ReplayView> {
    return this.replays.stop(id);
  }
}
