import { BulkRequest, type BulkView } from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Narrowed, Permit } from '../../platform/auth/permit.js';
import { Answers } from '../../platform/openapi.js';
import { BulkDecisions } from './bulk.service.js';

/** Decisions about many incidents at once. */
@ApiTags('incidents')
@Controller('bulk-decisions')
export class BulkController {
  constructor(private readonly bulk: BulkDecisions) {}

  @Get()
  @Permit('incidents.decide')
  @Narrowed()
  @Answers('BulkView', 'list')
  list(@CallerOf() caller: Caller): Promise<BulkView[]> {
    return this.bulk.list(caller);
  }

  @Get(':id')
  @Permit('incidents.decide')
  @Narrowed()
  @Answers('BulkView')
  get(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<BulkView> {
    return this.bulk.get(id, caller);
  }

  @Post()
  @Permit('incidents.decide')
  @Narrowed()
  @Answers('BulkView')
  begin(@Body() request: BulkRequest, @CallerOf() caller: Caller): Promise<BulkView> {
    return this.bulk.begin(request, caller);
  }

  @Post(':id/stop')
  @Permit('incidents.decide')
  @Narrowed()
  @HttpCode(200)
  @Answers('BulkView')
  stop(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<BulkView> {
    return this.bulk.stop(id, caller);
  }

  @Post(':id/undo')
  @Permit('incidents.decide')
  @Narrowed()
  @HttpCode(200)
  @Answers('BulkView')
  undo(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<BulkView> {
    return this.bulk.undo(id, caller);
  }
}
