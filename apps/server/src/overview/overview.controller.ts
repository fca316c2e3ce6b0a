import type { FirstStepsView, OverviewView } from '@lantern/contracts';
import { labelGravity } from '@lantern/core/labels';
import { gravityOf } from '@lantern/core/policy';
import { Controller, Get } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AccountEntity } from '../accounts/account.entity.js';
import { AgentEntity } from '../doors/agents/agent.entity.js';
import { GatewayServer } from '../doors/smtp/gateway.server.js';
import { MovementEntity } from '../incidents/incident.entity.js';
import { Automations } from '../crossings/automations.service.js';
import { DiscoveryPlaces } from '../discovery/places/places.service.js';
import { Improvements } from '../insight/improve/improvements.service.js';
import { IncidentsService } from '../incidents/incidents.service.js';
import { LabelDraftsService } from '../labels/label-drafts.service.js';
import { PatternsService } from '../patterns/patterns.service.js';
import { PeopleService } from '../directory/people.service.js';
import { PublishedRevision } from '../published/published-revision.js';
import { DraftSetService } from '../policies/draft-set.service.js';
import { RevisionsService } from '../revisions/revisions.service.js';
import { type Caller, CallerOf, Permit, SIGNED_IN } from '../platform/auth/permit.js';
import { Answers } from '../platform/openapi.js';

@ApiTags('overview')
@Controller('overview')
export class OverviewController {
  constructor(
    private readonly people: PeopleService,
    private readonly patterns: PatternsService,
    private readonly drafts: DraftSetService,
    private readonly revisions: RevisionsService,
    private readonly incidents: IncidentsService,
    private readonly published: PublishedRevision,
    private readonly labels: LabelDraftsService,
    private readonly improvements: Improvements,
    private readonly places: DiscoveryPlaces,
    private readonly automations: Automations,
    private readonly gateway: GatewayServer,
    @InjectEntityManager() private readonly manager: EntityManager,
  ) {}

  /** How far a new installation is set up. */
  @Get('first-steps')
  @Permit('people.manage')
  @Answers('FirstStepsView')
  async firstSteps(): Promise<FirstStepsView> {
    const { open, port } = this.gateway.door;
    return {
      otherAccounts: (await this.manager.count(AccountEntity)) - 1,
      domains: (await this.people.getOrganisation()).domains,
      people: await this.people.count(),
      gateway: { open, port },
      agents: await this.manager.count(AgentEntity),
      policies: (await this.drafts.policies()).length,
      published: this.published.current !== null,
      movements: await this.manager.count(MovementEntity),
    };
  }

  /** The live figures of the strip. */
  @Get()
  @Permit(SIGNED_IN)
  @Answers('OverviewView')
  async overview(@CallerOf() caller: Caller): Promise<OverviewView> {
    const { changes, problems, labelProblems } = await this.revisions.outline();
    const revision = this.published.current;
    const changed = (...subjects: readonly string[]) =>
      changes.filter(({ subject }) => subjects.includes(subject)).length;
    return {
      organisation: (await this.people.getOrganisation()).name,
      revision: revision && { number: revision.number, name: revision.name },
      patterns: { total: (await this.patterns.list()).length, changed: changed('pattern') },
      labels: {
        total: (await this.labels.set()).labels.filter(({ retired }) => !retired).length,
        changed: changed('label', 'offer', 'automatic'),
        problems: labelProblems.filter(({ code }) => labelGravity(code) === 'must').length,
      },
      policies: {
        total: (await this.drafts.set()).policies.length,
        changed: changed('policy'),
        problems: problems.filter(({ problem }) => gravityOf(problem.code) === 'must').length,
      },
      discovery: {
        exposed: caller.permissions.includes('discovery.read') ? await this.places.countExposed() : 0,
      },
      automations: {
        inBreach: caller.permissions.includes('policies.read') ? await this.automations.countInBreach() : 0,
      },
      incidents: {
        open: caller.permissions.includes('incidents.read') ? await this.incidents.countOpen(caller) : 0,
      },
      insight: {
        improve:
          caller.permissions.includes('incidents.read') && caller.limits === null
            ? this.improvements.countSoon(caller)
            : null,
      },
    };
  }
}
