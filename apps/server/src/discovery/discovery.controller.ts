import { Readable } from 'node:stream';
import {
  OwnRecordsRequest,
  type ReaderCode,
  ReaderCodeRequest,
  ReaderCost,
  type ReaderView,
} from '@lantern/contracts';
import {
  type DiscoveryPlaceView,
  ItemActRequest,
  type ItemActView,
  type ItemDetail,
  type ItemFacets,
  ItemFacetsQuery,
  type ItemPage,
  ItemsExportQuery,
  ItemsQuery,
  type JobEstimate,
  JobRequest,
  type JobView,
  type PlaceLabelPreview,
  PlaceLabelRequest,
  PlaceRequest,
  type RunsCompared,
  RunsComparedQuery,
  type RunView,
  type WithdrawPreview,
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
  Query,
  Res,
  StreamableFile,
} from '@nestjs/common';
import { ApiProduces, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { Answers, Asks } from '../platform/openapi.js';
import { RunComparison } from './jobs/compare.service.js';
import { Jobs } from './jobs/jobs.service.js';
import { Runs } from './jobs/runs.service.js';
import { DiscoveryPlaces } from './places/places.service.js';
import { ReaderCosts } from './readers/reader-costs.service.js';
import { Readers } from './readers/readers.service.js';
import { ItemsExport } from './results/items-export.service.js';
import { ItemActs } from './results/acts.service.js';
import { Items } from './results/items.service.js';

const Id = () => Param('id', ParseUUIDPipe);

/** Programs near the data. */
@ApiTags('discovery')
@Controller('discovery/readers')
export class ReadersController {
  constructor(
    private readonly readers: Readers,
    private readonly costs: ReaderCosts,
  ) {}

  @Get()
  @Permit('discovery.read')
  @Answers('ReaderView', 'list')
  list(@CallerOf() caller: Caller): Promise<ReaderView[]> {
    return this.readers.list(caller);
  }

  /** A code for one new reader; it is in the answer and nowhere else. */
  @Post('codes')
  @Permit('discovery.manage')
  @Answers('ReaderCode')
  code(@Body() { group }: ReaderCodeRequest, @CallerOf() caller: Caller): Promise<ReaderCode> {
    return this.readers.createCode(group, caller.name);
  }

  @Put(':id/cost')
  @Permit('discovery.manage')
  @HttpCode(204)
  cost(@Id() id: string, @Body() cost: ReaderCost): Promise<void> {
    return this.costs.setOwn(id, cost);
  }

  /** The machine keeps to the limits of its group again. */
  @Delete(':id/cost')
  @Permit('discovery.manage')
  @HttpCode(204)
  costOfGroup(@Id() id: string): Promise<void> {
    return this.costs.setOwn(id, null);
  }

  /** Whether a reader may look for own records and documents. */
  @Put(':id/own-records')
  @Permit('discovery.manage')
  @HttpCode(204)
  ownRecords(@Id() id: string, @Body() { allowed }: OwnRecordsRequest): Promise<void> {
    return this.readers.letHoldRecords(id, allowed);
  }

  @Delete(':id')
  @Permit('discovery.manage')
  @HttpCode(204)
  withdraw(@Id() id: string): Promise<void> {
    return this.readers.withdraw(id);
  }
}

/** Where data lies, and how far what lies there outruns its guard. */
@ApiTags('discovery')
@Controller('discovery/places')
export class DiscoveryPlacesController {
  constructor(private readonly places: DiscoveryPlaces) {}

  @Get()
  @Permit('discovery.read')
  @Answers('DiscoveryPlaceView', 'list')
  list(@CallerOf() caller: Caller): Promise<DiscoveryPlaceView[]> {
    return this.places.list(caller);
  }

  @Post()
  @Permit('discovery.manage')
  create(@Body() request: PlaceRequest): Promise<{ readonly id: string }> {
    return this.places.save(null, request);
  }

  @Put(':id')
  @Permit('discovery.manage')
  change(@Id() id: string, @Body() request: PlaceRequest): Promise<{ readonly id: string }> {
    return this.places.save(id, request);
  }

  @Delete(':id')
  @Permit('discovery.manage')
  @HttpCode(204)
  remove(@Id() id: string): Promise<void> {
    return this.places.remove(id);
  }

  @Post(':id/check')
  @Permit('discovery.run')
  @HttpCode(204)
  check(@Id() id: string): Promise<void> {
    return this.places.check(id);
  }

  @Put(':id/label')
  @Permit('discovery.run')
  @HttpCode(204)
  label(@Id() id: string, @Body() { label }: PlaceLabelRequest): Promise<void> {
    return this.places.setLabel(id, label ?? null);
  }

  /** What a label would end of what was opened before; `none` takes the label off. */
  @Get(':id/label-preview/:label')
  @Permit('discovery.run')
  @Answers('PlaceLabelPreview')
  labelPreview(@Id() id: string, @Param('label') label: string): Promise<PlaceLabelPreview> {
    return this.places.labelPreview(id, label === 'none' ? null : label);
  }

  /** What ending the access of people outside would change. */
  @Get(':id/withdraw')
  @Permit('discovery.run')
  @Answers('WithdrawPreview')
  withdrawPreview(@Id() id: string): Promise<WithdrawPreview> {
    return this.places.withdrawPreview(id);
  }

  @Post(':id/withdraw')
  @Permit('discovery.run')
  @HttpCode(204)
  withdraw(@Id() id: string): Promise<void> {
    return this.places.withdraw(id);
  }
}

/** Jobs and their runs. */
@ApiTags('discovery')
@Controller('discovery')
export class JobsController {
  constructor(
    private readonly jobs: Jobs,
    private readonly runs: Runs,
    private readonly comparison: RunComparison,
  ) {}

  @Get('jobs')
  @Permit('discovery.read')
  @Answers('JobView', 'list')
  list(): Promise<JobView[]> {
    return this.jobs.list();
  }

  @Post('jobs')
  @Permit('discovery.run')
  create(@Body() request: JobRequest): Promise<{ readonly id: string }> {
    return this.jobs.save(null, request);
  }

  @Put('jobs/:id')
  @Permit('discovery.run')
  change(@Id() id: string, @Body() request: JobRequest): Promise<{ readonly id: string }> {
    return this.jobs.save(id, request);
  }

  @Delete('jobs/:id')
  @Permit('discovery.run')
  @HttpCode(204)
  remove(@Id() id: string): Promise<void> {
    return this.jobs.remove(id);
  }

  /** What a job over some places would take; places by id, divided by commas. */
  @Get('estimate')
  @Permit('discovery.read')
  @Answers('JobEstimate')
  estimate(@Query('places') places = ''): Promise<JobEstimate> {
    return this.jobs.estimate(
      String(places)
        .split(',')
        .filter((id) => /^[\da-f-]{36}$/u.test(id)),
    );
  }

  @Post('jobs/:id/runs')
  @Permit('discovery.run')
  start(@Id() id: string, @CallerOf() caller: Caller): Promise<{ readonly id: string }> {
    return this.jobs.start(id, caller.name);
  }

  @Get('compared-runs')
  @Permit('discovery.read')
  @Asks('RunsComparedQuery')
  @Answers('RunsCompared')
  compare(@Query() { from, to }: RunsComparedQuery): Promise<RunsCompared> {
    return this.comparison.compare(from, to);
  }

  @Get('runs/:id')
  @Permit('discovery.read')
  @Answers('RunView')
  run(@Id() id: string): Promise<RunView> {
    return this.runs.view(id);
  }

  @Post('runs/:id/pause')
  @Permit('discovery.run')
  @HttpCode(204)
  pause(@Id() id: string): Promise<void> {
    return this.runs.pause(id);
  }

  @Post('runs/:id/resume')
  @Permit('discovery.run')
  @HttpCode(204)
  resume(@Id() id: string): Promise<void> {
    return this.runs.resume(id);
  }

  @Post('runs/:id/stop')
  @Permit('discovery.run')
  @HttpCode(204)
  stop(@Id() id: string): Promise<void> {
    return this.runs.stop(id);
  }
}

/** What was found, item by item, and what is done about it. */
@ApiTags('discovery')
@Controller('discovery')
export class ItemsController {
  constructor(
    private readonly items: Items,
    private readonly acts: ItemActs,
    private readonly exports: ItemsExport,
  ) {}

  @Get('items')
  @Permit('discovery.read')
  @Asks('ItemsQuery')
  @Answers('ItemPage')
  list(@Query() query: ItemsQuery): Promise<ItemPage> {
    return this.items.page(query);
  }

  @Get('facets')
  @Permit('discovery.read')
  @Asks('ItemFacetsQuery')
  facets(@Query() { filter }: ItemFacetsQuery): Promise<ItemFacets> {
    return this.items.facets(filter);
  }

  /** Exactly what is listed, as a file; written into the audit trail with the number of its rows. */
  @Get('items/export')
  @Permit('discovery.read')
  @Asks('ItemsExportQuery')
  @ApiProduces('text/csv', 'application/jsonl')
  export(
    @Query() query: ItemsExportQuery,
    @CallerOf() caller: Caller,
    @Res({ passthrough: true }) response: Response,
  ): StreamableFile {
    const type = query.format === 'csv' ? 'text/csv; charset=utf-8' : 'application/jsonl; charset=utf-8';
    const pieces = this.exports.begin(query, caller.email);
    const day = new Date().toISOString().slice(0, 10);
    response.setHeader('Content-Disposition', `attachment; filename="found-${day}.${query.format}"`);
    return new StreamableFile(Readable.from(pieces), { type });
  }

  @Get('items/:id')
  @Permit('discovery.read')
  @Answers('ItemDetail')
  get(@Id() id: string, @CallerOf() caller: Caller): Promise<ItemDetail> {
    return this.items.get(id, caller);
  }

  @Get('acts')
  @Permit('discovery.read')
  @Answers('ItemActView', 'list')
  listActs(): Promise<ItemActView[]> {
    return this.acts.list();
  }

  @Post('acts')
  @Permit('discovery.run')
  @Answers('ItemActView')
  act(@Body() request: ItemActRequest, @CallerOf() caller: Caller): Promise<ItemActView> {
    return this.acts.begin(request, caller.name);
  }
}
