import {
  type CleanUpPreview,
  CleanUpRequest,
  type CleanUpView,
  type FetchedView,
  FetchRequest,
  type FetchView,
  type ItemActView,
  type ItemGroups,
  type PlaceMovePreview,
  PlaceMoveRequest,
  ItemGroupsQuery,
  ItemIncidentRequest,
  ItemQueryRequest,
  type ItemQueryView,
} from '@lantern/contracts/discovery';
import {
  Body,
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Query,
  StreamableFile,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Permit } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { Answers, Asks } from '../platform/openapi.js';
import { CleanUps } from './places/clean-ups.service.js';
import { PlaceMoves } from './places/place-moves.service.js';
import { Fetches } from './results/fetches.service.js';
import { ItemGroupsService } from './results/item-groups.service.js';
import { ItemIncidents } from './results/item-incidents.service.js';
import { ItemQueries } from './results/item-queries.service.js';

const Id = () => Param('id', ParseUUIDPipe);

/** What people do about what was found, beyond the items themselves. */
@ApiTags('discovery')
@Controller('discovery')
export class FollowUpController {
  constructor(
    private readonly fetches: Fetches,
    private readonly incidents: ItemIncidents,
    private readonly cleanUps: CleanUps,
    private readonly moves: PlaceMoves,
    private readonly groups: ItemGroupsService,
    private readonly queries: ItemQueries,
  ) {}

  /** Has a reader fetch an item whole; the reason is kept with the item, and the caller alone may open it. */
  @Post('items/:id/fetches')
  @Permit('incidents.unmask')
  @Answers('FetchView')
  fetch(@Id() id: string, @Body() { reason }: FetchRequest, @CallerOf() caller: Caller): Promise<FetchView> {
    demandSight(caller);
    return this.fetches.ask(id, reason, caller);
  }

  /** A fetched item, read again with everything that is published, its values whole. */
  @Post('fetches/:id/opening')
  @Permit('incidents.unmask')
  @HttpCode(200)
  @Answers('FetchedView')
  open(@Id() id: string, @CallerOf() caller: Caller): Promise<FetchedView> {
    demandSight(caller);
    return this.fetches.open(id, caller);
  }

  /** A fetched item as it is. */
  @Post('fetches/:id/original')
  @Permit('incidents.unmask')
  @HttpCode(200)
  @Header('content-type', 'application/octet-stream')
  async original(@Id() id: string, @CallerOf() caller: Caller): Promise<StreamableFile> {
    demandSight(caller);
    const { bytes, name } = await this.fetches.original(id, caller);
    return new StreamableFile(bytes, {
      disposition: `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
    });
  }

  /** Makes an incident of an item, to be triaged like every other; answers with the one that there is. */
  @Post('items/:id/incident')
  @Permit('discovery.run')
  @HttpCode(200)
  incident(
    @Id() id: string,
    @Body() request: ItemIncidentRequest,
    @CallerOf() caller: Caller,
  ): Promise<{ readonly incident: number }> {
    return this.incidents.open(id, request, caller);
  }

  /** What a request to clean up would be about. */
  @Get('places/:id/clean-up')
  @Permit('discovery.run')
  @Answers('CleanUpPreview')
  previewCleanUp(@Id() id: string): Promise<CleanUpPreview> {
    return this.cleanUps.preview(id);
  }

  /** Asks the owner of a place to clean it up by a day; a mail goes out. */
  @Post('places/:id/clean-ups')
  @Permit('discovery.run')
  @Answers('CleanUpView')
  askCleanUp(
    @Id() id: string,
    @Body() request: CleanUpRequest,
    @CallerOf() caller: Caller,
  ): Promise<CleanUpView> {
    return this.cleanUps.ask(id, request, caller);
  }

  /** What moving everything of a place into another one would change. */
  @Get('places/:id/move/:to')
  @Permit('discovery.run')
  @Answers('PlaceMovePreview')
  previewMove(@Id() id: string, @Param('to', ParseUUIDPipe) to: string): Promise<PlaceMovePreview> {
    return this.moves.preview(id, to);
  }

  /** Moves everything of a place into another one; what did not move is listed with why. */
  @Post('places/:id/move')
  @Permit('discovery.run')
  @Answers('ItemActView')
  move(
    @Id() id: string,
    @Body() request: PlaceMoveRequest,
    @CallerOf() caller: Caller,
  ): Promise<ItemActView> {
    return this.moves.begin(id, request, caller);
  }

  @Post('clean-ups/:id/end')
  @Permit('discovery.run')
  @HttpCode(204)
  endCleanUp(@Id() id: string): Promise<void> {
    return this.cleanUps.end(id);
  }

  /** Items under a filter, gathered by one or two things. */
  @Get('groups')
  @Permit('discovery.read')
  @Asks('ItemGroupsQuery')
  @Answers('ItemGroups')
  groupsOf(@Query() { filter, by }: ItemGroupsQuery): Promise<ItemGroups> {
    return this.groups.of(filter, by);
  }

  @Get('queries')
  @Permit('discovery.read')
  @Answers('ItemQueryView', 'list')
  listQueries(@CallerOf() caller: Caller): Promise<ItemQueryView[]> {
    return this.queries.list(caller);
  }

  /** Keeps a question about results; one of the caller's of the same name is replaced. */
  @Post('queries')
  @Permit('discovery.read')
  @Answers('ItemQueryView', 'list')
  saveQuery(@Body() request: ItemQueryRequest, @CallerOf() caller: Caller): Promise<ItemQueryView[]> {
    return this.queries.save(request, caller);
  }

  @Delete('queries/:id')
  @Permit('discovery.read')
  @Answers('ItemQueryView', 'list')
  removeQuery(@Id() id: string, @CallerOf() caller: Caller): Promise<ItemQueryView[]> {
    return this.queries.remove(id, caller);
  }
}

/** Values whole are shown to accounts that may read results. Those with limits are refused before: items know no departments. */
function demandSight(caller: Caller): void {
  if (!caller.permissions.includes('discovery.read'))
    throw new AppError('not-permitted', 'Your account may not open full items. Nothing was fetched.');
}
