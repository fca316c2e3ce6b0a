import {
  ChangesQuery,
  type ChangesView,
  ListedPeriodQuery,
  type GuardView,
  type ImprovementsView,
  type MostView,
  PeriodQuery,
  type ReasonView,
  type RuleCostView,
  RuleReasonsQuery,
  type WhyView,
} from '@lantern/contracts/insight';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { type Caller, CallerOf, Narrowed, Permit } from '../platform/auth/permit.js';
import { sightOf } from '../platform/auth/sight.js';
import { Answers, Asks } from '../platform/openapi.js';
import { Guard } from './guard/guard.service.js';
import { Improvements } from './improve/improvements.service.js';
import { Changes } from './figures/changes.service.js';
import { Most } from './figures/most.service.js';
import { RuleCosts } from './figures/rule-costs.service.js';
import { Why } from './figures/why.service.js';

/** Figures over time, each with the filter that shows what it counts. */
@ApiTags('insight')
@Controller('insight')
export class InsightController {
  constructor(
    private readonly changes: Changes,
    private readonly reasons: Why,
    private readonly costs: RuleCosts,
    private readonly most: Most,
    private readonly improvements: Improvements,
    private readonly guarded: Guard,
  ) {}

  @Get('changes')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('ChangesQuery')
  @Answers('ChangesView')
  whatChanged(@Query() query: ChangesQuery, @CallerOf() caller: Caller): Promise<ChangesView> {
    return this.changes.view(query, sightOf(caller));
  }

  /** What makes up the difference of a stretch to the same stretch of earlier weeks. */
  @Get('why')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('ListedPeriodQuery')
  @Answers('WhyView')
  why(@Query() query: ListedPeriodQuery, @CallerOf() caller: Caller): Promise<WhyView> {
    return this.reasons.view(query, sightOf(caller));
  }

  @Get('rules')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('PeriodQuery')
  @Answers('RuleCostView', 'list')
  rules(@Query() query: PeriodQuery, @CallerOf() caller: Caller): Promise<RuleCostView[]> {
    return this.costs.view(query, caller);
  }

  @Get('rules/reasons')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('RuleReasonsQuery')
  @Answers('ReasonView', 'list')
  ruleReasons(@Query() query: RuleReasonsQuery, @CallerOf() caller: Caller): Promise<ReasonView[]> {
    return this.costs.reasons(query, sightOf(caller));
  }

  @Get('most')
  @Permit('incidents.read')
  @Narrowed()
  @Asks('ListedPeriodQuery')
  @Answers('MostView')
  whoAndWhere(@Query() query: ListedPeriodQuery, @CallerOf() caller: Caller): Promise<MostView> {
    return this.most.view(query, sightOf(caller));
  }

  /** How well what is sensitive is labelled and guarded. */
  @Get('guard')
  @Permit('incidents.read')
  @Asks('PeriodQuery')
  @Answers('GuardView')
  guard(@Query() query: PeriodQuery, @CallerOf() caller: Caller): Promise<GuardView> {
    return this.guarded.view(query, sightOf(caller));
  }

  /** What to do next, and what was done, computed from the real state. */
  @Get('improve')
  @Permit('incidents.read')
  @Answers('ImprovementsView')
  improve(@CallerOf() caller: Caller): Promise<ImprovementsView> {
    return this.improvements.view(caller);
  }
}
