import {
  type LabelRunExpectation,
  LabelRunItemsQuery,
  type LabelRunPage,
  LabelRunRequest,
  type LabelRunView,
  type PlaceView,
} from '@lantern/contracts';
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../../platform/auth/permit.js';
import { Answers, Asks } from '../../platform/openapi.js';
import { RunExpectation } from './run-expectation.service.js';
import { LabelRunsService } from './label-runs.service.js';
import { PlacesService } from './places.service.js';

@ApiTags('labels')
@Controller('places')
export class PlacesController {
  constructor(private readonly places: PlacesService) {}

  @Get()
  @Permit('labels.read')
  @Answers('PlaceView', 'list')
  list(): Promise<PlaceView[]> {
    return this.places.list();
  }
}

/** Automatic labelling of places: looked at first, then turned on, stopped, gone on with and undone. */
@ApiTags('labels')
@Controller('label-runs')
export class LabelRunsController {
  constructor(
    private readonly runs: LabelRunsService,
    private readonly expected: RunExpectation,
  ) {}

  @Get()
  @Permit('labels.read')
  @Answers('LabelRunView', 'list')
  list(): Promise<LabelRunView[]> {
    return this.runs.list();
  }

  /** What a run over some places is expected to cost; places by id, divided by commas, all where none is named. */
  @Get('expectation')
  @Permit('labels.read')
  @Answers('LabelRunExpectation')
  expectation(@Query('places') places = ''): Promise<LabelRunExpectation> {
    return this.expected.of(
      String(places)
        .split(',')
        .filter((id) => id !== ''),
    );
  }

  @Get(':id')
  @Permit('labels.read')
  @Answers('LabelRunView')
  get(@Param('id', ParseUUIDPipe) id: string): Promise<LabelRunView> {
    return this.runs.get(id);
  }

  @Get(':id/items')
  @Permit('labels.read')
  @Asks('LabelRunItemsQuery')
  @Answers('LabelRunPage')
  items(@Param('id', ParseUUIDPipe) id: string, @Query() query: LabelRunItemsQuery): Promise<LabelRunPage> {
    return this.runs.items(id, query);
  }

  @Post()
  @Permit('labels.run')
  @Answers('LabelRunView')
  start(@Body() request: LabelRunRequest, @CallerOf() caller: Caller): Promise<LabelRunView> {
    return this.runs.start(request, caller);
  }

  @Post(':id/stop')
  @Permit('labels.run')
  @HttpCode(204)
  stop(@Param('id', ParseUUIDPipe) id: string): Promise<void> {
    return this.runs.stop(id);
  }

  @Post(':id/resume')
  @Permit('labels.run')
  @HttpCode(200)
  @Answers('LabelRunView')
  resume(@Param('id', ParseUUIDPipe) id: string): Promise<LabelRunView> {
    return this.runs.resume(id);
  }

  @Post(':id/undo')
  @Permit('labels.run')
  @HttpCode(200)
  @Answers('LabelRunView')
  undo(@Param('id', ParseUUIDPipe) id: string, @CallerOf() caller: Caller): Promise<LabelRunView> {
    return this.runs.undo(id, caller);
  }
}
