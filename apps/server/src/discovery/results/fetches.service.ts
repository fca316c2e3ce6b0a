import { createHash, randomUUID } from 'node:crypto';
import {
  FETCHED_KEPT_HOURS,
  type FetchedReport,
  type FetchedView,
  type FetchView,
  MAX_FETCH_BYTES,
} from '@lantern/contracts/discovery';
import { patternsOfRule } from '@lantern/core/policy';
import { Inject, Injectable, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, LessThan, MoreThan } from 'typeorm';
import { toEvidenceParts, toStoredEvidence } from '../../incidents/evidence.js';
import { Unmaskings } from '../../incidents/unmaskings.service.js';
import { isBase64 } from '../../inspection/handed-in.js';
import { InspectionService } from '../../inspection/inspection.service.js';
import type { Caller } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { seal, unseal } from '../../platform/sealing.js';
import { PublishedRevision } from '../../published/published-revision.js';
import { Parts } from '../parts/parts.service.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { FetchEntity } from './fetch.entity.js';
import { ItemEntity } from './item.entity.js';

const KEPT_MS = FETCHED_KEPT_HOURS * 3_600_000;
const LOOK_EVERY_MS = 60_000;
const LISTED = 20;
const HOUR_MS = 3_600_000;
const sealedAt = (id: string): string => `discovery-fetch:${id}`;

/** Items that somebody needs whole: fetched by a reader once, kept for a day, opened by whoever asked and nobody else. */
@Injectable()
export class Fetches implements OnApplicationBootstrap, OnApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly parts: Parts,
    private readonly inspection: InspectionService,
    private readonly published: PublishedRevision,
    private readonly unmaskings: Unmaskings,
    private readonly live: LiveEvents,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => void this.sweep(new Date()).catch(() => undefined), LOOK_EVERY_MS).unref();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  /** Has a reader fetch an item; whoever asks and why is written down before anything comes. */
  async ask(itemId: string, reason: string, caller: Caller): Promise<FetchView> {
    const item = await this.manager.findOneBy(ItemEntity, { id: itemId });
    if (!item) throw new AppError('not-found', 'There is no such item.');
    if (item.state === 'gone')
      throw new AppError('act-refused', 'This item is gone. There is nothing to fetch.');
    if (item.quarantined)
      throw new AppError('act-refused', 'This item is in quarantine. Put it back first, then fetch it.');
    if (item.bytes > MAX_FETCH_BYTES)
      throw new AppError(
        'file-too-large',
        `Items of ${MAX_FETCH_BYTES / 1024 / 1024} MiB at most are fetched. Look at this one where it lies.`,
        { details: { limit: MAX_FETCH_BYTES / 1024 / 1024 } },
      );
    const place = await this.manager.findOneByOrFail(DiscoveryPlaceEntity, { id: item.placeId });
    const at = new Date();
    const row: FetchEntity = {
      ...{ id: randomUUID(), itemId, accountId: caller.accountId, actor: caller.name, reason: reason.trim() },
      ...{ at, state: 'waiting', problem: null, bytes: null, digest: null, endedAt: null, sealed: null },
    };
    await this.manager.transaction(async (manager) => {
      await manager.insert(FetchEntity, row);
      await this.parts.add(manager, [
        { kind: 'fetch', place, runId: null, content: { fetch: row.id, items: [itemId] } },
      ]);
      const recent = await manager.countBy(FetchEntity, {
        accountId: caller.accountId,
        at: MoreThan(new Date(at.getTime() - HOUR_MS)),
      });
      await this.unmaskings.warnOfMany(manager, caller, { count: recent, at, of: 'stored items' });
    });
    this.live.publish({ kind: 'discovery-changed' });
    return toView(row, caller);
  }

  async of(itemId: string, caller: Caller): Promise<FetchView[]> {
    const rows = await this.manager.find(FetchEntity, {
      where: { itemId },
      order: { at: 'DESC' },
      take: LISTED,
      select: COLUMNS,
    });
    return rows.map((row) => toView(row, caller));
  }

  /** The part of a reader came to its end: with the item, or with why not. Within the transaction that ends the part. */
  async took(manager: EntityManager, id: string, report: FetchedReport | { readonly problem: string }) {
    const problem = report.problem === null ? null : String(report.problem).slice(0, 60);
    const text = 'base64' in report && typeof report.base64 === 'string' ? report.base64 : null;
    const bytes = text !== null && isBase64(text) ? Buffer.from(text, 'base64') : null;
    const waits = { id, state: 'waiting' as const };
    if (problem !== null || bytes === null || bytes.length > MAX_FETCH_BYTES) {
      const why = problem ?? (bytes === null ? 'wrong-answer' : 'too-large');
      await manager.update(FetchEntity, waits, { state: 'failed', problem: why, endedAt: new Date() });
      return;
    }
    const digest = createHash('sha256').update(bytes).digest('hex');
    const sealed = await seal(this.config.keys.installation, sealedAt(id), bytes);
    await manager.update(FetchEntity, waits, {
      ...{ state: 'here', bytes: bytes.length, digest, endedAt: new Date(), sealed },
    });
  }

  /** Reads a fetched item with everything that is published, its values whole. */
  async open(id: string, caller: Caller): Promise<FetchedView> {
    const { fetch, item, bytes } = await this.opened(id, caller);
    const document = this.published.current?.document;
    const rules = document?.policies.flatMap((policy) => policy.rules) ?? [];
    const read = await this.inspection.inspectWith(
      `revision ${this.published.current?.number ?? 0}`,
      document?.patterns ?? [],
      {
        ...{ texts: [], keepTexts: 0, allExcerpts: true },
        files: [{ role: 'attachment' as const, name: nameOf(item.path), bytes }],
      },
      [...new Set(rules.flatMap(patternsOfRule))],
    );
    return {
      parts: toEvidenceParts(toStoredEvidence(read.parts), true),
      bytes: bytes.length,
      changedSince: item.digest !== null && item.digest !== fetch.digest,
    };
  }

  async original(id: string, caller: Caller): Promise<{ readonly name: string; readonly bytes: Buffer }> {
    const { item, bytes } = await this.opened(id, caller);
    return { name: nameOf(item.path), bytes };
  }

  private async opened(id: string, caller: Caller) {
    const fetch = await this.manager.findOneBy(FetchEntity, { id });
    if (!fetch || fetch.accountId !== caller.accountId)
      throw new AppError('not-found', 'You have not requested this item. Request it with your own reason.');
    const isOver = fetch.endedAt !== null && fetch.endedAt.getTime() + KEPT_MS < Date.now();
    if (fetch.state !== 'here' || !fetch.sealed || isOver)
      throw new AppError('not-found', 'Its content is not here, or was deleted. Request it again.');
    const item = await this.manager.findOneByOrFail(ItemEntity, { id: fetch.itemId });
    return { fetch, item, bytes: await unseal(this.config.keys.installation, sealedAt(id), fetch.sealed) };
  }

  /** Deletes what was kept for its hours. */
  async sweep(now: Date): Promise<void> {
    await this.manager.update(
      FetchEntity,
      { state: 'here', endedAt: LessThan(new Date(now.getTime() - KEPT_MS)) },
      { state: 'deleted', sealed: null },
    );
  }
}

/** Everything but the content. */
const COLUMNS = {
  ...{ id: true, itemId: true, accountId: true, actor: true, reason: true, at: true, state: true },
  ...{ problem: true, bytes: true, endedAt: true },
} as const;

/** Name of a file without its folders; a name of a mail or a row ends nothing that a file system would mind. */
const nameOf = (path: string): string => path.split('/').at(-1) || 'item';

function toView(row: FetchEntity, caller: Caller): FetchView {
  const { id, state, at, actor, reason, bytes, problem, endedAt, accountId } = row;
  return {
    ...{ id, state, at: at.toISOString(), by: actor, reason, isOwn: accountId === caller.accountId },
    ...{ bytes, problem },
    endsAt: state === 'here' && endedAt ? new Date(endedAt.getTime() + KEPT_MS).toISOString() : null,
  };
}
