import { randomUUID } from 'node:crypto';
import type { PolicyTextResult, SetFile, SetImportResult } from '@lantern/contracts';
import type { ExpressionPattern, WordListPattern } from '@lantern/core/detection';
import type { AnswerText, Exchange, Policy, SpotGroup } from '@lantern/core/policy';
import {
  CROSSINGS_FILE,
  type CrossingsReading,
  type LabelSetReading,
  readCrossings,
  readLabelSet,
  readPolicy,
  readSet,
  type WholeSet,
  writeCrossings,
  writeLabelSet,
  writePolicy,
  writeSet,
} from '@lantern/set-files';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, Not } from 'typeorm';
import { CrossingDrafts } from '../crossings/crossing-drafts.service.js';
import { LabelDraftsService } from '../labels/label-drafts.service.js';
import { AdjustedPatternEntity } from '../patterns/adjusted-pattern.entity.js';
import { OwnPatternEntity } from '../patterns/own-pattern.entity.js';
import { OwnPatternsService } from '../patterns/own-patterns.service.js';
import { PeopleService } from '../directory/people.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { LiveEvents } from '../platform/live/live-events.js';
import { changesBetween } from './changes.js';
import { DraftSetService } from '../policies/draft-set.service.js';
import { stable } from '../published/draft-state.js';
import { PolicyDraftEntity } from '../policies/policy.entity.js';
import { type RevisionDocument } from '../published/revision.entity.js';
import { SetPartEntity } from '../policies/set-part.entity.js';

/** The file of a folder that holds labels, offers and automatic rules. */
const LABELS_FILE = 'labels.yaml';

/** The whole set as a folder of text files, out and in. */
@Injectable()
export class SetFilesService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly drafts: DraftSetService,
    private readonly ownPatterns: OwnPatternsService,
    private readonly people: PeopleService,
    private readonly live: LiveEvents,
    private readonly labels: LabelDraftsService,
    private readonly crossings: CrossingDrafts,
  ) {}

  async write(): Promise<SetFile[]> {
    const labels = await this.labels.set();
    const file = { path: LABELS_FILE, text: writeLabelSet(labels, await this.ownNames()) };
    const set = writeSet(await this.whole());
    const crossings = await this.crossings.all();
    const more = [
      ...(labels.labels.length + labels.offers.length + labels.automatic.length > 0 ? [file] : []),
      ...(crossings.services.length + crossings.workspaces.length + crossings.sets.length > 0
        ? [{ path: CROSSINGS_FILE, text: writeCrossings(crossings) }]
        : []),
    ];
    return [...more, ...set].sort((left, right) => (left.path < right.path ? -1 : 1));
  }

  async policyText(policy: Omit<Policy, 'id'>): Promise<string> {
    return writePolicy(policy, await this.whole());
  }

  async readText(id: string, text: string): Promise<PolicyTextResult> {
    const whole = await this.whole();
    const reading = readPolicy(id, text, { ...whole, elsewhere: [] });
    return reading.status === 'read'
      ? { faults: [], policy: reading.policy }
      : { faults: reading.faults, policy: null };
  }

  /**
   * Puts a folder of files in the place of the drafts, or only says what would change. All of it or nothing: one fault
   * leaves the drafts as they are. Own records and documents stay, since no file holds them.
   */
  async read(files: readonly SetFile[], onlyLook: boolean, caller: Caller): Promise<SetImportResult> {
    const before = await this.whole();
    const held = before.patterns.filter(({ origin }) => origin === 'records' || origin === 'documents');
    const names = new Map<string, string>([
      ...before.policies.map(({ id, name }) => [`policies ${name}`, String(id)] as const),
      ...before.texts.map(({ id, name }) => [`texts ${name}`, String(id)] as const),
      ...before.exchanges.map(({ id, name }) => [`exchanges ${name}`, String(id)] as const),
      ...before.spots.map(({ id, name }) => [`spots ${name}`, String(id)] as const),
      ...before.patterns.map(({ id, name }) => [`patterns ${name}`, String(id)] as const),
    ]);
    const given = files.find(({ path }) => path === LABELS_FILE);
    const labels = await this.readLabels(given);
    if (labels.status === 'faulty') return { faults: labels.faults, changes: [] };
    const crossings = await this.readCrossings(files);
    if (crossings.status === 'faulty') return { faults: crossings.faults, changes: [] };
    const reading = readSet(files, {
      patterns: held,
      labels: labels.set.labels,
      onlyUuids: true,
      idFor: (kind, name) => names.get(`${kind} ${name.trim()}`) ?? randomUUID(),
    });
    if (reading.status === 'faulty') return { faults: reading.faults, changes: [] };
    const after: WholeSet = { ...reading.set, patterns: [...reading.set.patterns, ...held] };
    const labelsBefore = await this.labels.set();
    const changes = changesBetween(
      { ...document(before), labels: labelsBefore, crossings: await this.crossings.all() },
      { ...document(after), labels: labels.set, crossings: crossings.crossings },
    );
    if (!onlyLook && changes.length > 0) {
      await this.manager.transaction(async (manager) => {
        await this.replace(manager, { before, after, caller });
        if (given) await this.labels.replace(labels.set, caller);
        if (files.some(({ path }) => path === CROSSINGS_FILE))
          await this.crossings.replace(crossings.crossings, caller, manager);
      });
      this.live.publish({ kind: 'drafts-changed' });
    }
    return { faults: [], changes };
  }

  private async whole(): Promise<WholeSet> {
    const { domains } = await this.people.getOrganisation();
    const { labels } = await this.labels.set();
    return { ...(await this.drafts.set()), patterns: await this.ownPatterns.drafts(), domains, labels };
  }

  /** Labels of the folder's own file; those drafted where it has none. */
  private async readLabels(file: SetFile | undefined): Promise<LabelSetReading> {
    const drafted = await this.labels.set();
    if (!file) return { status: 'read', set: drafted };
    return readLabelSet(file.text, {
      patterns: await this.ownNames(),
      knowsPatterns: false,
      idFor: (kind, name) => {
        const known: readonly { id: string; name: string }[] = drafted[kind];
        return known.find((each) => each.name.trim() === name.trim())?.id ?? randomUUID();
      },
    });
  }

  /** Those of the folder's own file; those drafted where it has none. */
  private async readCrossings(files: readonly SetFile[]): Promise<CrossingsReading> {
    const file = files.find(({ path }) => path === CROSSINGS_FILE);
    return file ? readCrossings(file.text) : { status: 'read', crossings: await this.crossings.all() };
  }

  private async ownNames(): Promise<{ id: string; name: string }[]> {
    return (await this.ownPatterns.drafts())
      .filter(({ origin }) => origin !== 'adjusted')
      .map(({ id, name }) => ({ id: String(id), name }));
  }

  private async replace(
    manager: EntityManager,
    { before, after, caller }: { before: WholeSet; after: WholeSet; caller: Caller },
  ): Promise<void> {
    const stamp = { updatedAt: new Date(), updatedBy: caller.name };
    const policies = after.policies.map(({ id, ...definition }, index) => ({
      id: String(id),
      position: index + 1,
      definition,
    }));
    await this.replaceRows(manager, PolicyDraftEntity, policies, stamp);
    const parts = [
      ...after.texts.map(({ id, ...definition }: AnswerText) => ({ id, kind: 'text' as const, definition })),
      ...after.exchanges.map(({ id, ...definition }: Exchange) => ({
        id,
        kind: 'exchange' as const,
        definition,
      })),
      ...after.spots.map(({ id, ...definition }: SpotGroup) => ({ id, kind: 'spots' as const, definition })),
    ];
    await this.replaceRows(manager, SetPartEntity, parts, stamp);
    const own = after.patterns.flatMap((pattern) =>
      pattern.origin === 'own' || pattern.origin === 'expression' ? [ownRow(pattern)] : [],
    );
    await this.replaceRows(manager, OwnPatternEntity, own, stamp);
    const weights = after.patterns.flatMap((pattern) =>
      pattern.origin === 'adjusted' ? [{ id: String(pattern.id), weights: pattern.weights }] : [],
    );
    if (stable(before.patterns) !== stable(after.patterns))
      await this.replaceRows(manager, AdjustedPatternEntity, weights, stamp);
  }

  /** Rows as given, with a new version each; others go. */
  private async replaceRows<Row extends { readonly id: string }>(
    manager: EntityManager,
    entity: new () => { id: string; version: number },
    rows: readonly Row[],
    stamp: { updatedAt: Date; updatedBy: string },
  ): Promise<void> {
    const versions = new Map((await manager.find(entity)).map(({ id, version }) => [id, version]));
    const ids = rows.map(({ id }) => id);
    if (ids.length > 0) await manager.delete(entity, { id: Not(In(ids)) });
    else await manager.createQueryBuilder().delete().from(entity).execute();
    for (const row of rows)
      await manager.save(entity, { ...row, ...stamp, version: (versions.get(row.id) ?? 0) + 1 });
  }
}

function document(set: WholeSet): RevisionDocument {
  const { patterns, policies, texts, exchanges, spots } = set;
  const byId = <Thing extends { readonly id: string }>(things: readonly Thing[]): Thing[] =>
    [...things].sort((left, right) => (left.id < right.id ? -1 : 1));
  return {
    patterns: byId(patterns),
    policies,
    texts: byId(texts),
    exchanges: byId(exchanges),
    spots: byId(spots),
  };
}

function ownRow(pattern: WordListPattern | ExpressionPattern) {
  const { id, name, about } = pattern;
  if (pattern.origin === 'own')
    return {
      id: String(id),
      name,
      about,
      words: [...pattern.words],
      threshold: pattern.threshold ?? null,
      inside: pattern.inside ?? false,
      expression: null,
    };
  const { origin: _origin, id: _id, name: _name, kind: _kind, about: _about, ...expression } = pattern;
  return { id: String(id), name, about, words: [], threshold: null, inside: false, expression };
}
