import {
  type CommonValue,
  type FieldValue,
  FilterQuery,
  type GroupPage,
  GroupsQuery,
  type IncidentPage,
  type ListCounts,
  ListedQuery,
  ListQuery,
  type MatchPage,
  type MovementPage,
  ValuesQuery,
} from '@lantern/contracts';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Narrowed, Permit } from '../../platform/auth/permit.js';
import { Answers, Asks } from '../../platform/openapi.js';
import { sightOf } from '../../platform/auth/sight.js';
import { Queue } from './queue.service.js';

/** Lists of what happened, under one filter. */
@ApiTags('incidents')
@Controller()
export class QueueController {
  constructor(private readonly queue: Queue) {}

  @Get('incidents')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('ListQuery')
  @Answers('IncidentPage')
  incidents(@Query() query: ListQuery, @CallerOf() caller: Caller): Promise<IncidentPage> {
    return this.queue.incidents(query, sightOf(caller));
  }

  @Get('matches')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('ListQuery')
  @Answers('MatchPage')
  matches(@Query() query: ListQuery, @CallerOf() caller: Caller): Promise<MatchPage> {
    return this.queue.matches(query, sightOf(caller));
  }

  /** Every movement, those too for which no rule held. */
  @Get('movements')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('ListQuery')
  @Answers('MovementPage')
  movements(@Query() query: ListQuery, @CallerOf() caller: Caller): Promise<MovementPage> {
    return this.queue.movements(query, sightOf(caller));
  }

  @Get('incidents/counts')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('FilterQuery')
  @Answers('ListCounts')
  counts(@Query() query: FilterQuery, @CallerOf() caller: Caller): Promise<ListCounts> {
    return this.queue.counts(query.filter, sightOf(caller));
  }

  /** Values of a field under the rest of the filter, the most frequent first. */
  @Get('incidents/values')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('ValuesQuery')
  @Answers('FieldValue', 'list')
  values(@Query() query: ValuesQuery, @CallerOf() caller: Caller): Promise<FieldValue[]> {
    return this.queue.values(query, sightOf(caller));
  }

  @Get('incidents/groups')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('GroupsQuery')
  @Answers('GroupPage')
  groups(@Query() query: GroupsQuery, @CallerOf() caller: Caller): Promise<GroupPage> {
    return this.queue.groups(query, sightOf(caller));
  }

  @Get('incidents/common')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('ListedQuery')
  @Answers('CommonValue', 'list')
  common(@Query() query: ListedQuery, @CallerOf() caller: Caller): Promise<CommonValue[]> {
    return this.queue.common(query, sightOf(caller));
  }
}
