import { randomUUID } from 'node:crypto';
import type { PolicyRequest, PolicyView, SavePolicyRequest } from '@lantern/contracts';
import {
  type Policy,
  type PolicyId,
  policyProblems,
  READY_PATTERNS,
  type Rule,
  type RuleId,
} from '@lantern/core';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import { DocumentPatternEntity } from '../patterns/documents/document-pattern.entity.js';
import { RecordSourceEntity } from '../patterns/records/record-source.entity.js';
import { OwnPatternEntity } from '../patterns/own-pattern.entity.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { stateOf } from './draft-state.js';
import { PolicyDraftEntity } from './policy.entity.js';
import { PublishedRevision } from './published-revision.js';

@Injectable()
export class PoliciesService {
  constructor(
    @InjectRepository(PolicyDraftEntity) private readonly entities: Repository<PolicyDraftEntity>,
    @InjectRepository(OwnPatternEntity) private readonly ownPatterns: Repository<OwnPatternEntity>,
    @InjectRepository(RecordSourceEntity) private readonly records: Repository<RecordSourceEntity>,
    @InjectRepository(DocumentPatternEntity) private readonly documents: Repository<DocumentPatternEntity>,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
  ) {}

  /** Draft policies in reading order. */
  async drafts(): Promise<Policy[]> {
    return (await this.ordered()).map(toPolicy);
  }

  async list(): Promise<PolicyView[]> {
    const entities = await this.ordered();
    const patterns = await this.knownPatterns();
    return entities.map((entity) => this.toView(entity, entities, patterns));
  }

  async get(id: string): Promise<PolicyView> {
    const found = (await this.list()).find((view) => view.policy.id === id);
    if (!found) throw new AppError('not-found', 'There is no such policy.');
    return found;
  }

  async create(request: PolicyRequest, caller: Caller): Promise<PolicyView> {
    const last = (await this.ordered()).at(-1);
    const entity = this.entities.create({
      id: randomUUID(),
      position: (last?.position ?? 0) + 1,
      definition: toDefinition(request),
      version: 1,
      updatedAt: new Date(),
      updatedBy: caller.name,
    });
    await this.entities.insert(entity);
    this.live.publish({ kind: 'drafts-changed' });
    return this.get(entity.id);
  }

  async save(id: string, request: SavePolicyRequest, caller: Caller): Promise<PolicyView> {
    const change = {
      definition: toDefinition(request),
      version: request.version + 1,
      updatedAt: new Date(),
      updatedBy: caller.name,
    };
    const changed = await this.entities.update({ id, version: request.version }, change);
    if (changed.affected === 0) {
      const now = await this.get(id);
      throw new AppError(
        'changed-meanwhile',
        `${now.updatedBy} changed this policy meanwhile. Nothing of yours was saved over it.`,
        {
          details: { by: now.updatedBy, version: now.version },
        },
      );
    }
    this.live.publish({ kind: 'drafts-changed' });
    return this.get(id);
  }

  async remove(id: string): Promise<void> {
    const removed = await this.entities.delete({ id });
    if (removed.affected === 0) throw new AppError('not-found', 'There is no such policy.');
    this.live.publish({ kind: 'drafts-changed' });
  }

  private ordered(): Promise<PolicyDraftEntity[]> {
    return this.entities.find({ order: { position: 'ASC' } });
  }

  private async knownPatterns(): Promise<Set<string>> {
    const own = await this.ownPatterns.find({ select: { id: true } });
    const records = await this.records.find({ select: { id: true } });
    const documents = await this.documents.find({ select: { id: true } });
    return new Set([
      ...READY_PATTERNS.map((pattern): string => pattern.id),
      ...[...own, ...records, ...documents].map((pattern) => pattern.id),
    ]);
  }

  private toView(
    entity: PolicyDraftEntity,
    all: readonly PolicyDraftEntity[],
    patterns: ReadonlySet<string>,
  ): PolicyView {
    const policy = toPolicy(entity);
    const otherNames = all.filter((other) => other.id !== entity.id).map((other) => other.definition.name);
    return {
      policy,
      version: entity.version,
      state: stateOf(policy, this.published.current?.document.policies ?? []),
      problems: policyProblems(policy, { patterns, otherNames }),
      updatedAt: entity.updatedAt.toISOString(),
      updatedBy: entity.updatedBy,
    };
  }
}

export function toPolicy(entity: PolicyDraftEntity): Policy {
  return { id: entity.id as PolicyId, ...entity.definition };
}

function toDefinition(request: PolicyRequest): Omit<Policy, 'id'> {
  const rules = request.rules.map((rule): Rule => {
    const { id, when, unless, answer, severity, notice, endsPolicy } = rule;
    return { id: id as RuleId, when, unless, answer, severity, notice, endsPolicy };
  });
  return { name: request.name.trim(), purpose: request.purpose, channels: [...request.channels], rules };
}
