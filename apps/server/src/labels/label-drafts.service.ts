import { randomUUID } from 'node:crypto';
import { type LabelHistoryEntry, type LabelsView, MAX_LABELS } from '@lantern/contracts';
import { isMeant } from '@lantern/core/directory';
import {
  type Automatic,
  type Label,
  type LabelContext,
  type LabelProblem,
  labelProblems,
  type Offer,
  type WholeLabelSet,
} from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { factsOf, PeopleService } from '../directory/people.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { PatternNames } from '../patterns/pattern-names.js';
import { stable, stateOf } from '../published/draft-state.js';
import { PublishedRevision } from '../published/published-revision.js';
import { LabelCarriers } from './label-carriers.js';
import { LabelHistoryEntity, type LabelPart, LabelPartEntity, type LabelPartKind } from './label.entity.js';
import { labelsOf } from '../published/published-labels.js';
import { PlaceEntity } from '../directory/place.entity.js';

const NOUN: Readonly<Record<LabelPartKind, string>> = {
  label: 'label',
  offer: 'offer',
  automatic: 'automatic rule',
};

/** What authors are writing about labels: labels, offers and automatic rules, each with its history. */
@Injectable()
export class LabelDraftsService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
    private readonly names: PatternNames,
    private readonly carriers: LabelCarriers,
    private readonly published: PublishedRevision,
    private readonly live: LiveEvents,
  ) {}

  async set(): Promise<WholeLabelSet> {
    const parts = await this.ordered();
    return setFrom(parts);
  }

  /** What the checks of the core say about the drafts. */
  async problems(set?: WholeLabelSet): Promise<LabelProblem[]> {
    return labelProblems(set ?? (await this.set()), await this.context());
  }

  async list(): Promise<LabelsView> {
    const parts = await this.ordered();
    const set = setFrom(parts);
    const problems = await this.problems(set);
    const before = labelsOf(this.published.current?.document);
    const people = await this.people.all();
    const items = await this.carriers.count(this.manager);
    const stamp = (id: string, known: readonly { readonly id: string }[], thing: { readonly id: string }) => {
      const part = parts.find((each) => each.id === id);
      return {
        version: part?.version ?? 1,
        state: stateOf(thing, known),
        problems: problems.filter((problem) => problem.id === id),
        updatedAt: (part?.updatedAt ?? new Date(0)).toISOString(),
        updatedBy: part?.updatedBy ?? '',
      };
    };
    return {
      labels: set.labels.map((label) => ({
        label,
        ...stamp(label.id, before.labels, label),
        offers: set.offers.filter((offer) => offer.labels.includes(label.id)).map(named),
        automatic: set.automatic.filter((rule) => rule.label === label.id).map(named),
        items: items.get(label.id) ?? 0,
      })),
      offers: set.offers.map((offer) => ({
        offer,
        ...stamp(offer.id, before.offers, offer),
        people: people.filter((person) => isMeant(offer.people, factsOf(person))).length,
      })),
      automatic: set.automatic.map((automatic) => ({
        automatic,
        ...stamp(automatic.id, before.automatic, automatic),
      })),
    };
  }

  async create(kind: LabelPartKind, definition: LabelPart, note: string, caller: Caller): Promise<string> {
    const all = (await this.ordered()).filter((part) => part.kind === kind);
    if (all.length >= MAX_LABELS)
      throw new AppError('too-many', `There can be at most ${MAX_LABELS} of these. Nothing was added.`);
    refuseTaken(all, definition.name, '');
    const id = randomUUID();
    const at = new Date();
    await this.manager.transaction(async (manager) => {
      await manager.save(
        manager.create(LabelPartEntity, {
          id,
          kind,
          position: (all.at(-1)?.position ?? 0) + 1,
          definition: tidy(definition),
          version: 1,
          updatedAt: at,
          updatedBy: caller.name,
        }),
      );
      await this.remember(manager, {
        partId: id,
        at,
        by: caller.name,
        note,
        before: null,
        after: definition,
      });
    });
    this.live.publish({ kind: 'drafts-changed' });
    return id;
  }

  async save(
    kind: LabelPartKind,
    id: string,
    change: { readonly definition: LabelPart; readonly version: number; readonly note: string },
    caller: Caller,
  ): Promise<void> {
    const { definition, version, note } = change;
    const all = (await this.ordered()).filter((part) => part.kind === kind);
    const before = all.find((part) => part.id === id);
    if (!before) throw new AppError('not-found', `This ${NOUN[kind]} does not exist.`);
    refuseTaken(all, definition.name, id);
    const at = new Date();
    await this.manager.transaction(async (manager) => {
      const row = await manager.findOne(LabelPartEntity, {
        where: { id, version },
        lock: { mode: 'pessimistic_write' },
      });
      if (!row)
        throw new AppError(
          'changed-meanwhile',
          `${before.updatedBy} changed this ${NOUN[kind]} in the meantime. Your version was not saved.`,
          { details: { by: before.updatedBy, version: before.version } },
        );
      Object.assign(row, {
        definition: tidy(definition),
        version: version + 1,
        updatedAt: at,
        updatedBy: caller.name,
      });
      await manager.save(row);
      if (stable(before.definition) !== stable(tidy(definition)))
        await this.remember(manager, {
          partId: id,
          at,
          by: caller.name,
          note,
          before: before.definition,
          after: tidy(definition),
        });
    });
    this.live.publish({ kind: 'drafts-changed' });
  }

  /** Takes one out. What is used stays, and a label that items carry is retired instead, so that it stays readable. */
  async remove(kind: LabelPartKind, id: string, caller: Caller): Promise<void> {
    const { labels, offers, automatic } = await this.list();
    const view = labels.find(({ label }) => label.id === id);
    if (kind === 'label' && view) {
      const users = [...view.offers, ...view.automatic].map(({ name }) => name);
      if (users.length > 0)
        throw new AppError('in-use', `Still used by: ${users.join(', ')}. Nothing was removed.`, {
          details: { policies: users.join(', ') },
        });
      if (view.items > 0 || view.state !== 'new')
        throw new AppError(
          'act-refused',
          'This label was published, so files may carry it. Retire it instead: no one can choose it any more, and labelled files stay readable.',
        );
    } else if (
      ![
        ...offers.map(({ offer }) => offer.id),
        ...automatic.map((each) => each.automatic.id),
        ...labels.map(({ label }) => label.id),
      ].some((known) => known === id)
    )
      throw new AppError('not-found', `This ${NOUN[kind]} does not exist.`);
    await this.manager.transaction(async (manager) => {
      const row = await manager.findOneBy(LabelPartEntity, { id, kind });
      if (!row) throw new AppError('not-found', `This ${NOUN[kind]} does not exist.`);
      await manager.delete(LabelPartEntity, { id });
      await this.remember(manager, {
        partId: id,
        at: new Date(),
        by: caller.name,
        note: '',
        before: row.definition,
        after: null,
      });
    });
    this.live.publish({ kind: 'drafts-changed' });
  }

  async history(id: string): Promise<LabelHistoryEntry[]> {
    const rows = await this.manager.find(LabelHistoryEntity, {
      where: { partId: id },
      order: { id: 'DESC' },
      take: 200,
    });
    return rows.map(({ at, by, note, before, after }) => ({
      at: at.toISOString(),
      by,
      note,
      fields: differences(before, after),
    }));
  }

  /** Puts a whole set in the place of the drafts, each thing with its history. */
  async replace(set: WholeLabelSet, caller: Caller): Promise<void> {
    const known = new Map((await this.ordered()).map((part) => [part.id, part]));
    const at = new Date();
    const wanted = partsOf(set);
    await this.manager.transaction(async (manager) => {
      for (const part of known.values())
        if (!wanted.some(({ id }) => id === part.id)) {
          await manager.delete(LabelPartEntity, { id: part.id });
          await this.remember(manager, {
            partId: part.id,
            at,
            by: caller.name,
            note: 'Import',
            before: part.definition,
            after: null,
          });
        }
      for (const part of wanted) await this.put(manager, part, known.get(part.id), { at, caller });
    });
    this.live.publish({ kind: 'drafts-changed' });
  }

  /** One thing of an import: what is the same keeps its version and who changed it last. */
  private async put(
    manager: EntityManager,
    part: Pick<LabelPartEntity, 'id' | 'kind' | 'position' | 'definition'>,
    before: LabelPartEntity | undefined,
    { at, caller }: { at: Date; caller: Caller },
  ): Promise<void> {
    const same = before !== undefined && stable(before.definition) === stable(part.definition);
    await manager.save(
      manager.create(LabelPartEntity, {
        ...part,
        version: same ? before.version : (before?.version ?? 0) + 1,
        updatedAt: same ? before.updatedAt : at,
        updatedBy: same ? before.updatedBy : caller.name,
      }),
    );
    if (same) return;
    const [by, note] = [caller.name, 'Import'];
    await this.remember(manager, {
      partId: part.id,
      at,
      by,
      note,
      before: before?.definition ?? null,
      after: part.definition,
    });
  }

  /** Names of every pattern that rules may ask for, by id. */
  patternNames(): Promise<Map<string, string>> {
    return this.names.all();
  }

  private async remember(manager: EntityManager, row: Omit<LabelHistoryEntity, 'id'>): Promise<void> {
    await manager.save(manager.create(LabelHistoryEntity, row));
  }

  private ordered(): Promise<LabelPartEntity[]> {
    return this.manager.find(LabelPartEntity, { order: { kind: 'ASC', position: 'ASC' } });
  }

  private async context(): Promise<LabelContext> {
    const places = await this.manager.find(PlaceEntity, { select: { name: true } });
    return {
      people: await this.people.known(),
      patterns: new Set((await this.names.all()).keys()),
      places: new Set(places.map(({ name }) => name)),
    };
  }
}

/** A set as rows, each kind in its order. */
function partsOf(set: WholeLabelSet): Pick<LabelPartEntity, 'id' | 'kind' | 'position' | 'definition'>[] {
  const kinds = [
    ['label', set.labels],
    ['offer', set.offers],
    ['automatic', set.automatic],
  ] as const;
  return kinds.flatMap(([kind, things]) =>
    things.map(({ id, ...definition }, index) => ({
      id: String(id),
      kind,
      position: index + 1,
      definition: definition as LabelPart,
    })),
  );
}

function setFrom(parts: readonly LabelPartEntity[]): WholeLabelSet {
  const of = <Thing>(kind: LabelPartKind): Thing[] =>
    parts.filter((part) => part.kind === kind).map(({ id, definition }) => ({ id, ...definition }) as Thing);
  return { labels: of<Label>('label'), offers: of<Offer>('offer'), automatic: of<Automatic>('automatic') };
}

const named = ({ id, name }: { readonly id: string; readonly name: string }) => ({ id, name });

function tidy<Part extends LabelPart>(definition: Part): Part {
  return { ...definition, name: definition.name.trim() };
}

function refuseTaken(all: readonly LabelPartEntity[], name: string, id: string): void {
  const wanted = name.trim().toLowerCase();
  if (
    wanted !== '' &&
    all.some((part) => part.id !== id && part.definition.name.trim().toLowerCase() === wanted)
  )
    throw new AppError('name-taken', `"${name.trim()}" exists already. Choose another name.`, {
      details: { name: name.trim() },
    });
}

/** Fields that differ, as text. */
function differences(before: LabelPart | null, after: LabelPart | null): LabelHistoryEntry['fields'] {
  const one = (before ?? {}) as Record<string, unknown>;
  const other = (after ?? {}) as Record<string, unknown>;
  const worded = (value: unknown): string | null =>
    value === undefined ? null : typeof value === 'string' ? value : stable(value);
  return [...new Set([...Object.keys(one), ...Object.keys(other)])]
    .filter((field) => stable(one[field] ?? null) !== stable(other[field] ?? null))
    .map((field) => ({ field, before: worded(one[field]), after: worded(other[field]) }));
}
