import { READY_PATTERNS } from '@lantern/core/detection';
import {
  type Policy,
  type PolicySet,
  type SetContext,
  type SetProblem,
  setProblems,
} from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { LabelPartEntity } from '../labels/label.entity.js';
import type { PoliciesThatAsk } from '../patterns/policies-that-ask.js';
import { PatternNames } from '../patterns/pattern-names.js';
import { SpecimensService } from '../patterns/specimens.service.js';
import { MachinesService } from '../directory/machines/machines.service.js';
import { PeopleService } from '../directory/people.service.js';
import { PolicyDraftEntity } from './policy.entity.js';
import { SetPartEntity } from './set-part.entity.js';
import { toPolicy } from './policy.mapper.js';
import { toExchange, toSpotGroup, toText } from './set-parts.service.js';

/** Everything drafted that decides about movements, and what the checks of the core say about it. */
@Injectable()
export class DraftSetService implements PoliciesThatAsk {
  constructor(
    @InjectRepository(PolicyDraftEntity) private readonly entities: Repository<PolicyDraftEntity>,
    @InjectRepository(SetPartEntity) private readonly parts: Repository<SetPartEntity>,
    @InjectRepository(LabelPartEntity) private readonly labels: Repository<LabelPartEntity>,
    private readonly names: PatternNames,
    private readonly specimens: SpecimensService,
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
  ) {}

  async policies(): Promise<Policy[]> {
    return (await this.entities.find({ order: { position: 'ASC' } })).map(toPolicy);
  }

  async set(): Promise<PolicySet> {
    const parts = (await this.parts.find()).sort((left, right) =>
      left.definition.name.localeCompare(right.definition.name, 'en'),
    );
    return {
      policies: await this.policies(),
      texts: parts.filter(({ kind }) => kind === 'text').map(toText),
      exchanges: parts.filter(({ kind }) => kind === 'exchange').map(toExchange),
      spots: parts.filter(({ kind }) => kind === 'spots').map(toSpotGroup),
    };
  }

  async problems(set?: PolicySet): Promise<SetProblem[]> {
    return setProblems(set ?? (await this.set()), await this.context());
  }

  private async context(): Promise<SetContext> {
    const names = await this.names.all();
    const proven = await this.specimens.provenPatterns();
    const ready = new Set(READY_PATTERNS.map(({ id }) => String(id)));
    return {
      patterns: new Set(names.keys()),
      withoutSpecimens: new Set([...names.keys()].filter((id) => !ready.has(id) && !proven.has(id))),
      people: await this.people.known(),
      machines: await this.machines.known(),
      labels: new Set((await this.labels.findBy({ kind: 'label' })).map(({ id }) => id)),
      at: Date.now(),
    };
  }
}
