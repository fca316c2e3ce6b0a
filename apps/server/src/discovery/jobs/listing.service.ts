import { randomUUID } from 'node:crypto';
import type { ListedItemReport, ListedReport } from '@lantern/contracts/discovery';
import { type ItemReach, leftOutBy, type LeftOut, type Reread } from '@lantern/core/discovery';
import { slices } from '@lantern/core/shared';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { LiveEvents } from '../../platform/live/live-events.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { DiscoveryPlaces } from '../places/places.service.js';
import type { ReaderEntity } from '../readers/reader.entity.js';
import { ItemChangeEntity, ItemEntity } from '../results/item.entity.js';
import { digestOfPath, keptEnding, knownOf } from '../results/knowledge.js';
import { RunEntity, type RunFigures } from './job.entity.js';
import { Parts } from '../parts/parts.service.js';
import { WhatRunsLookFor } from './looked-for.service.js';
import { RunEnds } from './run-ends.service.js';

/** Items that one reader takes at a time: some seconds of work, so that the last part of a run ends soon. */
const ITEMS_A_PART = 50;
/** No id stands before it. */
const FIRST_ID = '00000000-0000-0000-0000-000000000000';
/** Rows that are gone through at once. */
const ROWS_AT_ONCE = 1_000;

interface Listing {
  readonly run: RunEntity;
  readonly place: DiscoveryPlaceEntity;
  readonly reach: ItemReach;
  readonly known: ReadonlyMap<string, ItemEntity>;
  /** What must be read again, by what was looked for when it was read last. */
  readonly reread: ReadonlyMap<string | null, Reread>;
}

type Fate =
  { readonly kind: 'seen' | 'unchanged' | 'due' } | { readonly kind: 'left-out'; readonly why: LeftOut };

/** Takes in what a reader lists of a place, and decides what of it is to be read. */
@Injectable()
export class Listings {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly places: DiscoveryPlaces,
    private readonly parts: Parts,
    private readonly ends: RunEnds,
    private readonly looked: WhatRunsLookFor,
    private readonly live: LiveEvents,
  ) {}

  async listed(reader: ReaderEntity, partId: string, report: ListedReport): Promise<void> {
    await this.manager.transaction(async (manager) => {
      const part = await this.parts.held(manager, partId, reader);
      const run = await manager.findOneOrFail(RunEntity, {
        where: { id: part.runId ?? '' },
        lock: { mode: 'pessimistic_write' },
      });
      const place = await manager.findOneByOrFail(DiscoveryPlaceEntity, { id: part.placeId });
      const items = [...new Map(report.items.map((item) => [digestOfPath(item.path), item]))];
      const rows = items.length
        ? await manager.findBy(ItemEntity, {
            placeId: place.id,
            pathDigest: In(items.map(([digest]) => digest)),
          })
        : [];
      const listing: Listing = {
        ...{ run, place, reach: await this.places.reachOf(place) },
        known: new Map(rows.map((row) => [row.pathDigest, row])),
        reread: await this.rereadsOf(manager, rows, run.lookedFor),
      };
      const figures = await this.keep(manager, listing, items);
      await manager.update(RunEntity, { id: run.id }, { figures });
      if (!report.isLast) return;
      await this.markGone(manager, run, place);
      await this.noteOpened(manager, run, place);
      await this.ends.endPart(manager, part, 'done');
    });
    this.live.publish({ kind: 'discovery-changed' });
  }

  private async rereadsOf(
    manager: EntityManager,
    rows: readonly ItemEntity[],
    now: string,
  ): Promise<Listing['reread']> {
    const before = [...new Set(rows.map(({ lookedFor }) => lookedFor))];
    return new Map(
      await Promise.all(
        before.map(async (each) => [each, await this.looked.reread(manager, each, now)] as const),
      ),
    );
  }

  /** A place that was listed to its end opens, whatever an earlier check said. */
  private async noteOpened(
    manager: EntityManager,
    run: RunEntity,
    place: DiscoveryPlaceEntity,
  ): Promise<void> {
    const [row] = await manager.query<{ items: string; bytes: string | null }[]>(
      'SELECT COUNT(*) AS items, SUM(bytes) AS bytes FROM discovery_item WHERE placeId = ? AND seenRun = ?',
      [place.id, run.id],
    );
    const items = Number(row?.items ?? 0);
    const state = items === 0 ? ('empty' as const) : ('well' as const);
    const counted = { items, bytes: Number(row?.bytes ?? 0), atLeast: false };
    const checked = { state, at: new Date().toISOString(), problem: null, ...counted };
    await manager.update(DiscoveryPlaceEntity, { id: place.id }, { checked });
  }

  private async keep(
    manager: EntityManager,
    listing: Listing,
    items: readonly (readonly [string, ListedItemReport])[],
  ): Promise<RunFigures> {
    const { run, place, known } = listing;
    const counts = {
      items: 0,
      unchanged: 0,
      leftOut: { ...run.figures.leftOut } as Partial<Record<LeftOut, number>>,
    };
    const due: string[] = [];
    const unchanged: ItemEntity[] = [];
    const made: ItemEntity[] = [];
    for (const [digest, item] of items) {
      const row = known.get(digest);
      const fate = fateOf(listing, item, row);
      if (fate.kind === 'seen') continue;
      counts.items += 1;
      if (fate.kind === 'left-out') counts.leftOut[fate.why] = (counts.leftOut[fate.why] ?? 0) + 1;
      if (fate.kind === 'unchanged' && row) {
        counts.unchanged += 1;
        unchanged.push(row);
        continue;
      }
      const id = row?.id ?? randomUUID();
      if (fate.kind === 'due') due.push(id);
      if (!row) made.push(newRow(listing, { id, digest, item, fate }));
      else await manager.update(ItemEntity, { id }, changedRow(listing, row, { item, fate }));
    }
    for (const some of slices(made, ROWS_AT_ONCE)) await manager.insert(ItemEntity, some);
    await this.keepUnchanged(manager, listing, unchanged);
    await this.parts.add(
      manager,
      slices(due, ITEMS_A_PART).map((ids) => ({
        kind: 'read',
        place,
        runId: run.id,
        content: { items: ids },
      })),
    );
    const { figures } = run;
    return {
      ...figures,
      items: figures.items + counts.items,
      unchanged: figures.unchanged + counts.unchanged,
      leftOut: counts.leftOut,
    };
  }

  /** What did not change is not read again; that it opens farther than before is a change all the same. */
  private async keepUnchanged(
    manager: EntityManager,
    { run, reach }: Listing,
    rows: readonly ItemEntity[],
  ): Promise<void> {
    if (rows.length === 0) return;
    const ids = rows.map(({ id }) => id);
    await manager.update(
      ItemEntity,
      { id: In(ids) },
      { seenRun: run.id, dueRun: null, reach, reachRead: reach, lookedFor: run.lookedFor },
    );
    await manager.insert(
      ItemChangeEntity,
      rows
        .filter(({ reachRead }) => reachRead !== reach)
        .map((row) => {
          const before = knownOf(row);
          const after = before && { ...before, reach };
          return { runId: run.id, placeId: row.placeId, itemId: row.id, at: new Date(), before, after };
        }),
    );
  }

  /** What the whole listing did not have is gone; what its scope kept the reader from listing is not. */
  private async markGone(manager: EntityManager, run: RunEntity, place: DiscoveryPlaceEntity): Promise<void> {
    const { scope } = run.definition;
    let after = FIRST_ID;
    for (;;) {
      const rows = await manager
        .createQueryBuilder(ItemEntity, 'i')
        .where('i.placeId = :place AND i.id > :after', { place: place.id, after })
        .andWhere("(i.seenRun IS NULL OR i.seenRun <> :run) AND i.state <> 'gone' AND NOT i.quarantined", {
          run: run.id,
        })
        .orderBy('i.id')
        .take(ROWS_AT_ONCE)
        .getMany();
      const gone = rows.filter(({ path, bytes, changedAt }) => {
        const why = leftOutBy(
          scope,
          { path, bytes, changedAt: changedAt?.getTime() ?? null },
          run.startedAt.getTime(),
        );
        return why !== 'left-out' && why !== 'not-among';
      });
      if (gone.length > 0) {
        await manager.insert(
          ItemChangeEntity,
          gone.flatMap((row) => {
            const before = knownOf(row);
            const known = before && { ...before, state: 'gone' as const };
            return known
              ? [{ runId: run.id, placeId: place.id, itemId: row.id, at: new Date(), before, after: known }]
              : [];
          }),
        );
        await manager.update(
          ItemEntity,
          { id: In(gone.map(({ id }) => id)) },
          { state: 'gone', isSensitive: false, misplaced: false, holding: 0, suggested: null, dueRun: null },
        );
      }
      if (rows.length < ROWS_AT_ONCE) return;
      after = rows.at(-1)?.id ?? FIRST_ID;
    }
  }
}

function fateOf({ run, reread }: Listing, item: ListedItemReport, row: ItemEntity | undefined): Fate {
  // A listing that began anew lists what is known of this run already.
  if (row?.seenRun === run.id) return { kind: 'seen' };
  const { scope, everything, step } = run.definition;
  const changedAt = item.changedAt ? Date.parse(item.changedAt) : null;
  const why = leftOutBy(scope, { path: item.path, bytes: item.bytes, changedAt }, run.startedAt.getTime());
  if (why) return { kind: 'left-out', why };
  const same =
    row !== undefined &&
    (row.state === 'read' || row.state === 'unreadable') &&
    !row.quarantined &&
    row.marker === item.marker &&
    !mustRead(row, reread.get(row.lookedFor));
  // A look said which label is called for: the run that labels must open the item once more.
  const labels = step !== 'find' && row?.suggested !== null;
  return { kind: same && !everything && !labels ? 'unchanged' : 'due' };
}

/** Whether what is looked for now could give something else in an item that did not change. */
function mustRead({ found }: ItemEntity, reread: Reread | undefined): boolean {
  if (reread?.kind !== 'having') return true;
  return found.some(({ pattern }) => reread.patterns.has(pattern));
}

function newRow(
  { run, place, reach }: Listing,
  { id, digest, item, fate }: { id: string; digest: string; item: ListedItemReport; fate: Fate },
): ItemEntity {
  const left = fate.kind === 'left-out' ? fate.why : null;
  const ending = keptEnding(item.path);
  return {
    ...{ id, placeId: place.id, path: item.path, pathDigest: digest, ending, bytes: item.bytes },
    ...{ changedAt: item.changedAt ? new Date(item.changedAt) : null, marker: item.marker },
    owner: (item.owner ?? place.owner).slice(0, 254),
    ...{ state: left ? ('left-out' as const) : ('waiting' as const), reason: left, digest: null },
    ...{ labelId: null, labelRank: null, suggested: null, reach, reachRead: reach, isSensitive: false },
    ...{ misplaced: place.unwanted.includes(ending), quarantined: false, found: [], total: 0, certainty: 0 },
    ...{ holding: 0, readAt: null, revision: null, readerId: null, lookedFor: null, seenRun: run.id },
    dueRun: left ? null : run.id,
  };
}

/** Columns of an item that was known: what was found in it stays until it is read again. */
function changedRow(
  { run, place, reach }: Listing,
  row: ItemEntity,
  { item, fate }: { item: ListedItemReport; fate: Fate },
): Partial<ItemEntity> {
  const left = fate.kind === 'left-out';
  return {
    ...{ bytes: item.bytes, changedAt: item.changedAt ? new Date(item.changedAt) : null },
    ...{ marker: left ? row.marker : item.marker, reach, seenRun: run.id, quarantined: false },
    misplaced: place.unwanted.includes(row.ending),
    dueRun: left ? null : run.id,
    ...(row.state === 'gone' ? { state: left ? 'left-out' : 'waiting', reason: left ? fate.why : null } : {}),
  };
}
