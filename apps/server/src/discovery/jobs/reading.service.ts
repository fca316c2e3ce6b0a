import type {
  ActedReport,
  CheckedReport,
  FailedReport,
  PlaceCheck,
  ReadReport,
  ReadResult,
} from '@lantern/contracts/discovery';
import { changesBetween, type ItemReach } from '@lantern/core/discovery';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { sealJson } from '../../platform/sealing.js';
import { LabelChangeEntity } from '../../labels/label-change.entity.js';
import { labelById } from '../../published/published-labels.js';
import { DiscoveryContext } from '../discovery-context.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { PlaceMoves } from '../places/place-moves.service.js';
import { DiscoveryPlaces } from '../places/places.service.js';
import type { ReaderEntity } from '../readers/reader.entity.js';
import {
  ActEntity,
  ActItemEntity,
  FoundEntity,
  ItemChangeEntity,
  ItemEntity,
  ItemEvidenceEntity,
} from '../results/item.entity.js';
import { Fetches } from '../results/fetches.service.js';
import { columnsOf, evidenceAt, knownOf } from '../results/knowledge.js';
import type { PartEntity } from '../parts/part.entity.js';
import { Parts } from '../parts/parts.service.js';
import { RunEntity } from './job.entity.js';
import { OwnKnowledge } from './own-knowledge.service.js';
import { RunEnds } from './run-ends.service.js';
import { faultOfResult, readFetched } from './result-shape.js';

/** Takes in what readers found, did and could not do. */
@Injectable()
export class Readings {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly context: DiscoveryContext,
    private readonly places: DiscoveryPlaces,
    private readonly parts: Parts,
    private readonly ends: RunEnds,
    private readonly fetches: Fetches,
    private readonly moves: PlaceMoves,
    private readonly knowledge: OwnKnowledge,
    private readonly live: LiveEvents,
  ) {}

  async read(reader: ReaderEntity, partId: string, report: ReadReport): Promise<void> {
    const fault = report.results.map(faultOfResult).find((each) => each !== null);
    if (fault) throw new AppError('invalid-request', fault);
    const sealed = new Map(
      await Promise.all(
        report.results.map(async (result) => [result.id, await this.evidenceOf(result)] as const),
      ),
    );
    await this.manager.transaction(async (manager) => {
      const part = await this.parts.held(manager, partId, reader);
      const run = await manager.findOneOrFail(RunEntity, {
        where: { id: part.runId ?? '' },
        lock: { mode: 'pessimistic_write' },
      });
      const place = await manager.findOneByOrFail(DiscoveryPlaceEntity, { id: part.placeId });
      const reach = await this.places.reachOf(place);
      const looksForAll = await this.knowledge.looksForAll(reader);
      const ids = report.results.map(({ id }) => id);
      const items = ids.length
        ? await manager.findBy(ItemEntity, { id: In(ids), placeId: place.id, dueRun: run.id })
        : [];
      const byId = new Map(items.map((item) => [item.id, item]));
      const figures = { ...run.figures };
      const changes: Partial<ItemChangeEntity>[] = [];
      for (const result of report.results) {
        const item = byId.get(result.id);
        if (!item) continue;
        const known = { run, reader, place, reach, looksForAll };
        const { columns, change } = await this.keep(manager, known, item, result);
        if (change) changes.push(change);
        figures.read += result.status === 'unreadable' ? 0 : 1;
        figures.unreadable += result.status === 'unreadable' ? 1 : 0;
        figures.sensitive += columns.isSensitive ? 1 : 0;
        figures.labelled += result.labelled ? 1 : 0;
        figures.bytes += item.bytes;
      }
      // All at once: a first run has as many changes as items.
      if (changes.length > 0) await manager.insert(ItemChangeEntity, changes);
      await this.keepFound(
        manager,
        report.results.filter(({ id }) => byId.has(id)),
        sealed,
      );
      await manager.update(RunEntity, { id: run.id }, { figures });
      if (report.isLast) await this.ends.endPart(manager, part, 'done');
    });
    this.live.publish({ kind: 'discovery-changed' });
  }

  async failed(reader: ReaderEntity, partId: string, { problem }: FailedReport): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const part = await this.parts.held(manager, partId, reader);
      if (part.kind === 'check' || part.kind === 'list')
        await this.checkedAs(manager, part, {
          state: 'failed',
          problem,
          items: null,
          bytes: null,
          atLeast: false,
        });
      if (part.kind === 'act') await this.refuseRest(manager, part, problem);
      if (part.kind === 'fetch') await this.fetches.took(manager, part.content.fetch ?? '', { problem });
      await this.ends.endPart(manager, part, 'failed', problem);
    });
    this.live.publish({ kind: 'discovery-changed' });
  }

  async checked(
    reader: ReaderEntity,
    partId: string,
    { items, bytes, atLeast }: CheckedReport,
  ): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const part = await this.parts.held(manager, partId, reader);
      const state = items === 0 ? 'empty' : 'well';
      await this.checkedAs(manager, part, { state, problem: null, items, bytes, atLeast });
      await this.ends.endPart(manager, part, 'done');
    });
    this.live.publish({ kind: 'discovery-changed' });
  }

  async acted(reader: ReaderEntity, partId: string, { results }: ActedReport): Promise<void> {
    const moved = await this.manager.transaction(async (manager) => {
      const part = await this.parts.held(manager, partId, reader);
      const act = await manager.findOneByOrFail(ActEntity, { id: part.content.act ?? '' });
      const place = await manager.findOneByOrFail(DiscoveryPlaceEntity, { id: part.placeId });
      const wanted = new Set(part.content.items ?? []);
      for (const { id, done, reason } of results) {
        if (!wanted.has(id)) continue;
        await manager.update(
          ActItemEntity,
          { actId: act.id, itemId: id },
          {
            state: done ? 'done' : 'refused',
            reason: done ? null : String(reason ?? 'failed').slice(0, 60),
            endedAt: new Date(),
          },
        );
        if (done) await this.afterAct(manager, act, { place, id });
      }
      await this.refuseRest(manager, part, 'failed');
      await this.ends.endPart(manager, part, 'done');
      return act.toPlaceId;
    });
    if (moved !== null) await this.moves.followed(moved);
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** Somebody asked for an item whole, and here it is, or why not. Throws `invalid-request` for what is neither. */
  async fetched(reader: ReaderEntity, partId: string, body: Uint8Array): Promise<void> {
    const report = readFetched(body);
    await this.manager.transaction(async (manager) => {
      const part = await this.parts.held(manager, partId, reader);
      await this.fetches.took(manager, part.content.fetch ?? '', report);
      await this.ends.endPart(manager, part, 'done');
    });
    this.live.publish({ kind: 'discovery-changed' });
  }

  private async keep(
    manager: EntityManager,
    {
      run,
      reader,
      place,
      reach,
      looksForAll,
    }: {
      run: RunEntity;
      reader: ReaderEntity;
      place: DiscoveryPlaceEntity;
      reach: ItemReach;
      looksForAll: boolean;
    },
    item: ItemEntity,
    result: ReadResult,
  ) {
    const before = knownOf(item);
    const labels = this.context.labels();
    const suggested = labelById(labels, result.suggested);
    const wanted = suggested && suggested.rank > (result.label?.rank ?? -1) ? suggested.id : null;
    const columns = columnsOf({ ...result, suggested: wanted }, reach);
    const next: ItemEntity = { ...item, ...columns };
    const after = knownOf(next);
    const { placeId, id: itemId } = item;
    const change =
      changesBetween(before, after).length > 0
        ? { runId: run.id, placeId, itemId, at: new Date(), before, after }
        : null;
    await manager.update(
      ItemEntity,
      { id: item.id },
      {
        ...columns,
        ...{ readAt: new Date(), revision: run.revision, readerId: reader.id, dueRun: null },
        // Where some of it could not be looked for, a later run reads the item again.
        lookedFor: result.status === 'gone' || !looksForAll ? null : run.lookedFor,
      },
    );
    const label = labelById(labels, result.label?.id);
    if (result.labelled && label)
      await this.recordLabel(manager, {
        ...{ place, item, label, by: 'Discovery', how: 'automatically', reason: 'Automatic rule' },
      });
    return { columns, change };
  }

  private async keepFound(
    manager: EntityManager,
    results: readonly ReadResult[],
    sealed: ReadonlyMap<string, Buffer | null>,
  ): Promise<void> {
    if (results.length === 0) return;
    const ids = results.map(({ id }) => id);
    await manager.delete(FoundEntity, { itemId: In(ids) });
    await manager.delete(ItemEvidenceEntity, { itemId: In(ids) });
    const items = await manager.find(ItemEntity, {
      where: { id: In(ids) },
      select: { id: true, found: true },
    });
    await manager.insert(
      FoundEntity,
      items.flatMap(({ id, found }) => found.map((each) => ({ itemId: id, ...each }))),
    );
    await manager.insert(
      ItemEvidenceEntity,
      ids.flatMap((itemId) => {
        const content = sealed.get(itemId);
        return content ? [{ itemId, sealed: content }] : [];
      }),
    );
  }

  private evidenceOf({ id, excerpts, unreadableParts }: ReadResult): Promise<Buffer> | null {
    return excerpts.length + unreadableParts.length === 0
      ? null
      : sealJson(this.config.keys.installation, evidenceAt(id), { excerpts, unreadableParts });
  }

  private async afterAct(
    manager: EntityManager,
    act: ActEntity,
    { place, id }: { place: DiscoveryPlaceEntity; id: string },
  ): Promise<void> {
    if (act.act === 'move') return this.moves.arrived(manager, act, { from: place, id });
    if (act.act !== 'label') {
      await manager.update(ItemEntity, { id }, { quarantined: act.act === 'quarantine' });
      return;
    }
    const label = labelById(this.context.labels(), act.labelId);
    const item = await manager.findOneBy(ItemEntity, { id });
    if (!label || !item) return;
    const suggested = labelById(this.context.labels(), item.suggested);
    await manager.update(
      ItemEntity,
      { id },
      {
        ...{ labelId: label.id, labelRank: label.rank },
        ...(suggested && suggested.rank > label.rank ? {} : { suggested: null }),
      },
    );
    await this.recordLabel(manager, {
      ...{ place, item, label, by: act.actor, how: 'by-hand', reason: act.reason },
    });
  }

  /** What was labelled stands in the list of all changes of labels as well. */
  private async recordLabel(
    manager: EntityManager,
    change: {
      readonly place: DiscoveryPlaceEntity;
      readonly item: ItemEntity;
      readonly label: { readonly id: string; readonly name: string; readonly rank: number };
      readonly by: string;
      readonly how: 'automatically' | 'by-hand';
      readonly reason: string;
    },
  ): Promise<void> {
    const { place, item, label, by, how, reason } = change;
    const before = labelById(this.context.labels(), item.labelId);
    await manager.insert(LabelChangeEntity, {
      ...{
        at: new Date(),
        by,
        how,
        carrier: 'document' as const,
        itemId: null,
        runId: null,
      },
      shift: !before ? 'set' : label.rank > before.rank ? 'raised' : 'lowered',
      item: `${place.name}/${item.path}`.slice(0, 500),
      before: before && { id: before.id, name: before.name, rank: before.rank },
      after: { id: label.id, name: label.name, rank: label.rank },
      reason,
    });
  }

  private async refuseRest(manager: EntityManager, part: PartEntity, reason: string): Promise<void> {
    const ids = [...(part.content.items ?? [])];
    if (ids.length > 0)
      await manager.update(
        ActItemEntity,
        { actId: part.content.act ?? '', itemId: In(ids), state: 'waiting' },
        { state: 'refused', reason, endedAt: new Date() },
      );
  }

  private async checkedAs(
    manager: EntityManager,
    { placeId }: PartEntity,
    check: Omit<PlaceCheck, 'at'>,
  ): Promise<void> {
    await manager.update(
      DiscoveryPlaceEntity,
      { id: placeId },
      { checked: { ...check, at: new Date().toISOString() } },
    );
  }
}
