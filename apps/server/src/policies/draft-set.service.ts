import { type PolicySet, READY_PATTERNS, type SetContext, type SetProblem, setProblems } from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { LabelPartEntity } from '../labels/label.entity.js';
import { DocumentPatternEntity } from '../patterns/documents/document-pattern.entity.js';
import { OwnPatternEntity } from '../patterns/own-pattern.entity.js';
import { RecordSourceEntity } from '../patterns/records/record-source.entity.js';
import { SpecimensService } from '../patterns/specimens.service.js';
import { MachinesService } from '../people/machines.service.js';
import { PeopleService } from '../people/people.service.js';
import { PolicyDraftEntity } from './policy.entity.js';
import { SetPartEntity } from './set-part.entity.js';
import { toPolicy } from './policy.mapper.js';
import { toExchange, toSpotGroup, toText } from './set-parts.service.js';

/** Everything drafted that decides about movements, and what the checks of the core say about it. */
@Injectable()
export class DraftSetService {
  constructor(
    @InjectRepository(PolicyDraftEntity) private readonly policies: Repository<PolicyDraftEntity>,
    @InjectRepository(SetPartEntity) private readonly parts: Repository<SetPartEntity>,
    @InjectRepository(OwnPatternEntity) private readonly ownPatterns: Repository<OwnPatternEntity>,
    @InjectRepository(RecordSourceEntity) private readonly records: Repository<RecordSourceEntity>,
    @InjectRepository(DocumentPatternEntity) private readonly documents: Repository<DocumentPatternEntity>,
    @InjectRepository(LabelPartEntity) private readonly labels: Repository<LabelPartEntity>,
    private readonly specimens: SpecimensService,
    private readonly people: PeopleService,
    private readonly machines: MachinesService,
  ) {}

  async set(): Promise<PolicySet> {
    const policies = await this.policies.find({ order: { position: 'ASC' } });
    const parts = (await this.parts.find()).sort((left, right) =>
      left.definition.name.localeCompare(right.definition.name, 'en'),
    );
    return {
      policies: policies.map(toPolicy),
      texts: parts.filter(({ kind }) => kind === 'text').map(toText),
      exchanges: parts.filter(({ kind }) => kind === 'exchange').map(toExchange),
      spots: parts.filter(({ kind }) => kind === 'spots').map(toSpotGroup),
    };
  }

  async problems(set?: PolicySet): Promise<SetProblem[]> {
    return setProblems(set ?? (await this.set()), await this.context());
  }

  /** Every pattern that a rule may ask for, by id, with its name. */
  async patternNames(): Promise<Map<string, string>> {
    const select = { id: true, name: true } as const;
    const own = await this.ownPatterns.find({ select });
    const records = await this.records.find({ select });
    const documents = await this.documents.find({ select });
    return new Map(
      [...READY_PATTERNS, ...own, ...records, ...documents].map(({ id, name }) => [String(id), name]),
    );
  }

  private async context(): Promise<SetContext> {
    const names = await this.patternNames();
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
