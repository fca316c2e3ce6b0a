import { randomUUID } from 'node:crypto';
import type { ExchangeView, SpotGroupView, TextView, Usage } from '@lantern/contracts';
import {
  type AnswerText,
  clausesOf,
  type Exchange,
  type ExchangeId,
  type Policy,
  type Rule,
  type SpotGroup,
  type SpotGroupId,
  type TextId,
  unknownFields,
} from '@lantern/core/policy';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Repository } from 'typeorm';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { stateOf } from '../published/draft-state.js';
import { PolicyDraftEntity } from './policy.entity.js';
import { PublishedRevision } from '../published/published-revision.js';
import { SetPartEntity } from './set-part.entity.js';

type Kind = SetPartEntity['kind'];
type Definition = SetPartEntity['definition'];

/** Texts that people read, the register of exchanges, and groups of spots: written once, used by many rules. */
@Injectable()
export class SetPartsService {
  constructor(
    @InjectRepository(SetPartEntity) private readonly entities: Repository<SetPartEntity>,
    @InjectRepository(PolicyDraftEntity) private readonly policies: Repository<PolicyDraftEntity>,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
  ) {}

  async texts(): Promise<AnswerText[]> {
    return (await this.all('text')).map(toText);
  }

  async exchanges(): Promise<Exchange[]> {
    return (await this.all('exchange')).map(toExchange);
  }

  async spots(): Promise<SpotGroup[]> {
    return (await this.all('spots')).map(toSpotGroup);
  }

  async listTexts(): Promise<TextView[]> {
    const rules = await this.rules();
    const published = this.published.current?.document.texts ?? [];
    return (await this.all('text')).map((entity) => {
      const text = toText(entity);
      const usedBy = usages(rules, (rule) => rule.bands.some((band) => band.text === text.id));
      const state = stateOf(text, published);
      return { text, state, usedBy, unknownFields: unknownFields(text), ...stamp(entity) };
    });
  }

  async listExchanges(): Promise<ExchangeView[]> {
    const rules = await this.rules();
    const published = this.published.current?.document.exchanges ?? [];
    return (await this.all('exchange')).map((entity) => {
      const exchange = toExchange(entity);
      const usedBy = usages(rules, (rule) =>
        [rule.when, ...(rule.unless ? [rule.unless] : [])]
          .flatMap(clausesOf)
          .some(
            (clause) =>
              clause.kind === 'exchange' &&
              (clause.exchanges.length === 0 || clause.exchanges.includes(exchange.id)),
          ),
      );
      return { exchange, state: stateOf(exchange, published), usedBy, ...stamp(entity) };
    });
  }

  async listSpots(): Promise<SpotGroupView[]> {
    const rules = await this.rules();
    const published = this.published.current?.document.spots ?? [];
    return (await this.all('spots')).map((entity) => {
      const spots = toSpotGroup(entity);
      const names = ({ when, unless }: Pick<Rule, 'when' | 'unless'>): boolean =>
        [when, ...(unless ? [unless] : [])]
          .flatMap(clausesOf)
          .some(
            (clause) =>
              (clause.kind === 'taken-from' || clause.kind === 'put-into') &&
              clause.spots.some((term) => term.kind === 'spots' && term.called === spots.id),
          );
      const usedBy = usages(
        rules,
        (rule, { shared }) =>
          names({ when: rule.when, unless: rule.unless }) ||
          (shared !== null && names({ when: shared, unless: null })),
      );
      return { spots, state: stateOf(spots, published), usedBy, ...stamp(entity) };
    });
  }

  async create(kind: Kind, definition: Definition, caller: Caller): Promise<string> {
    const id = randomUUID();
    await this.refuseTaken(kind, definition.name, id);
    await this.entities.insert({
      id,
      kind,
      definition,
      version: 1,
      updatedAt: new Date(),
      updatedBy: caller.name,
    });
    this.live.publish({ kind: 'drafts-changed' });
    return id;
  }

  async save(
    kind: Kind,
    id: string,
    change: { readonly definition: Definition; readonly version: number },
    caller: Caller,
  ): Promise<void> {
    const { definition, version } = change;
    await this.refuseTaken(kind, definition.name, id);
    const saved = await this.entities.update(
      { id, kind, version },
      { definition, version: version + 1, updatedAt: new Date(), updatedBy: caller.name },
    );
    if (saved.affected === 0) {
      const now = await this.get(kind, id);
      throw new AppError(
        'changed-meanwhile',
        `${now.updatedBy} changed this in the meantime. Your version was not saved.`,
        { details: { by: now.updatedBy, version: now.version } },
      );
    }
    this.live.publish({ kind: 'drafts-changed' });
  }

  async remove(kind: Kind, id: string): Promise<void> {
    const used = (await this.usages(kind)).get(id) ?? [];
    if (used.length > 0) {
      const names = [...new Set(used.map(({ policyName }) => policyName))].join(', ');
      throw new AppError('in-use', `Rules still use this: ${names}. Nothing was removed.`, {
        details: { policies: names },
      });
    }
    const removed = await this.entities.delete({ id, kind });
    if (removed.affected === 0) throw new AppError('not-found', 'There is no such entry.');
    this.live.publish({ kind: 'drafts-changed' });
  }

  private async usages(kind: Kind): Promise<ReadonlyMap<string, readonly Usage[]>> {
    switch (kind) {
      case 'text':
        return new Map((await this.listTexts()).map(({ text, usedBy }) => [text.id, usedBy]));
      case 'exchange':
        return new Map((await this.listExchanges()).map(({ exchange, usedBy }) => [exchange.id, usedBy]));
      case 'spots':
        return new Map((await this.listSpots()).map(({ spots, usedBy }) => [spots.id, usedBy]));
    }
  }

  private async get(kind: Kind, id: string): Promise<SetPartEntity> {
    const found = await this.entities.findOneBy({ id, kind });
    if (!found) throw new AppError('not-found', 'There is no such entry.');
    return found;
  }

  private async all(kind: Kind): Promise<SetPartEntity[]> {
    const found = await this.entities.findBy({ kind });
    return found.sort((left, right) => left.definition.name.localeCompare(right.definition.name, 'en'));
  }

  private async rules(): Promise<Policy[]> {
    const drafts = await this.policies.find({ order: { position: 'ASC' } });
    return drafts.map((draft) => ({ id: draft.id as Policy['id'], ...draft.definition }));
  }

  private async refuseTaken(kind: Kind, name: string, id: string): Promise<void> {
    const other = (await this.all(kind)).find(
      (entity) => entity.id !== id && entity.definition.name.trim() === name.trim(),
    );
    if (other)
      throw new AppError('name-taken', `"${name.trim()}" exists already. Choose another name.`, {
        details: { name: name.trim() },
      });
  }
}

function stamp(entity: SetPartEntity): { version: number; updatedAt: string; updatedBy: string } {
  return { version: entity.version, updatedAt: entity.updatedAt.toISOString(), updatedBy: entity.updatedBy };
}

function usages(policies: readonly Policy[], uses: (rule: Rule, policy: Policy) => boolean): Usage[] {
  return policies.flatMap((policy) =>
    policy.rules.flatMap((rule, index) =>
      uses(rule, policy) ? [{ policy: policy.id, policyName: policy.name, rule: index + 1 }] : [],
    ),
  );
}

export function toText({ id, definition }: SetPartEntity): AnswerText {
  return { id: id as TextId, ...(definition as Omit<AnswerText, 'id'>) };
}

export function toExchange({ id, definition }: SetPartEntity): Exchange {
  return { id: id as ExchangeId, ...(definition as Omit<Exchange, 'id'>) };
}

export function toSpotGroup({ id, definition }: SetPartEntity): SpotGroup {
  return { id: id as SpotGroupId, ...(definition as Omit<SpotGroup, 'id'>) };
}
