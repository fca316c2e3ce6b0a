import { randomUUID } from 'node:crypto';
import { MAX_POLICIES, type PolicyView } from '@lantern/contracts';
import type { Policy, Problem } from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager, InjectRepository } from '@nestjs/typeorm';
import { EntityManager, Repository } from 'typeorm';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { DraftSetService } from './draft-set.service.js';
import { stateOf } from '../published/draft-state.js';
import { toPolicy } from './policy.mapper.js';
import { PolicyDraftEntity } from './policy.entity.js';
import { PublishedRevision } from '../published/published-revision.js';
import { isHiddenFrom, seenBy } from '../published/silence.js';

type Definition = Omit<Policy, 'id'>;

@Injectable()
export class PoliciesService {
  constructor(
    @InjectRepository(PolicyDraftEntity) private readonly entities: Repository<PolicyDraftEntity>,
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly drafts: DraftSetService,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
  ) {}

  async list(caller: Caller): Promise<PolicyView[]> {
    const problems = new Map<string, Problem[]>();
    for (const { policy, problem } of await this.drafts.problems()) {
      if (policy !== null) problems.set(policy, [...(problems.get(policy) ?? []), problem]);
    }
    return (await this.ordered()).map((entity) => this.toView(entity, problems.get(entity.id) ?? [], caller));
  }

  async get(id: string, caller: Caller): Promise<PolicyView> {
    const found = (await this.list(caller)).find((view) => view.policy.id === id);
    if (!found) throw new AppError('not-found', 'There is no such policy.');
    return found;
  }

  async create(definition: Definition, caller: Caller): Promise<PolicyView> {
    const all = await this.ordered();
    if (all.length >= MAX_POLICIES)
      throw new AppError('too-many', `There can be at most ${MAX_POLICIES} policies. Nothing was added.`);
    const entity = this.entities.create({
      id: randomUUID(),
      position: (all.at(-1)?.position ?? 0) + 1,
      definition: tidy(definition),
      version: 1,
      updatedAt: new Date(),
      updatedBy: caller.name,
    });
    await this.entities.insert(entity);
    this.live.publish({ kind: 'drafts-changed' });
    return this.get(entity.id, caller);
  }

  async save(
    id: string,
    { policy, version }: { readonly policy: Definition; readonly version: number },
    caller: Caller,
  ): Promise<PolicyView> {
    const before = await this.entities.findOneBy({ id });
    if (before && isHiddenFrom(before.definition, caller))
      throw new AppError(
        'not-permitted',
        'This policy has silent rules that your account may not see, so you cannot change it.',
      );
    const changed = await this.entities.update(
      { id, version },
      { definition: tidy(policy), version: version + 1, updatedAt: new Date(), updatedBy: caller.name },
    );
    if (changed.affected === 0) {
      const now = await this.get(id, caller);
      throw new AppError(
        'changed-meanwhile',
        `${now.updatedBy} changed this policy in the meantime. Your version was not saved.`,
        { details: { by: now.updatedBy, version: now.version } },
      );
    }
    this.live.publish({ kind: 'drafts-changed' });
    return this.get(id, caller);
  }

  /** Puts policies in a new reading order; it must name all of them, so that nobody's new policy is lost from it. */
  async order(ids: readonly string[], caller: Caller): Promise<PolicyView[]> {
    await this.manager.transaction(async (manager) => {
      const all = await manager.find(PolicyDraftEntity, { lock: { mode: 'pessimistic_write' } });
      const known = new Set(all.map(({ id }) => id));
      if (new Set(ids).size !== known.size || ids.some((id) => !known.has(id)))
        throw new AppError(
          'changed-meanwhile',
          'Policies were added or removed in the meantime. The order was not changed. Check the list again.',
        );
      for (const [index, id] of ids.entries())
        await manager.update(PolicyDraftEntity, { id }, { position: index + 1 });
    });
    this.live.publish({ kind: 'drafts-changed' });
    return this.list(caller);
  }

  async remove(id: string, caller: Caller): Promise<void> {
    const before = await this.entities.findOneBy({ id });
    if (before && isHiddenFrom(before.definition, caller))
      throw new AppError(
        'not-permitted',
        'This policy has silent rules that your account may not see, so you cannot delete it.',
      );
    const removed = await this.entities.delete({ id });
    if (removed.affected === 0) throw new AppError('not-found', 'There is no such policy.');
    this.live.publish({ kind: 'drafts-changed' });
  }

  private ordered(): Promise<PolicyDraftEntity[]> {
    return this.entities.find({ order: { position: 'ASC' } });
  }

  private toView(entity: PolicyDraftEntity, problems: readonly Problem[], caller: Caller): PolicyView {
    const policy = toPolicy(entity);
    return {
      policy: seenBy(policy, caller),
      version: entity.version,
      state: stateOf(policy, this.published.current?.document.policies ?? []),
      problems,
      updatedAt: entity.updatedAt.toISOString(),
      updatedBy: entity.updatedBy,
    };
  }
}

function tidy(definition: Definition): Definition {
  return { ...definition, name: definition.name.trim() };
}
