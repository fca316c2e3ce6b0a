import { randomUUID } from 'node:crypto';
import {
  type CleanUpPreview,
  type CleanUpRequest,
  type CleanUpView,
  MAX_CLEAN_UP_ITEMS,
} from '@lantern/contracts/discovery';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull } from 'typeorm';
import { FurtherFacts } from '../../insight/improve/further-facts.js';
import type { Caller } from '../../platform/auth/permit.js';
import { insertOnly } from '../../platform/database/insert-only.js';
import { AppError } from '../../platform/errors/app-error.js';
import { InsideMail, SYSTEM_SENDER } from '../../platform/inside-mail.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { DiscoveryContext } from '../discovery-context.js';
import { CleanUpEntity, CleanUpItemEntity } from './clean-up.entity.js';
import { DiscoveryPlaceEntity } from './discovery-place.entity.js';
import { exposedItems } from './exposure.js';

/** Paths that the mail names; the rest is a number. */
const PATHS = 20;
/** Requests of a place that are told with it: the list of places is asked for with every event. */
const LISTED = 3;
const ROWS_AT_ONCE = 1_000;
/** The furthest day that may be asked for: what is due in two years is due never. */
const FURTHEST_DAYS = 730;
const DAY_MS = 86_400_000;
/** Whether an item i still lies in the place of a request r: it may be deleted by now, or moved into another place. */
const HERE = "(i.state <> 'gone' AND i.placeId = r.placeId)";

/** Asks whoever answers for a place to clean it up by a day, and says what was done since. */
@Injectable()
export class CleanUps implements OnModuleInit {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly context: DiscoveryContext,
    private readonly inside: InsideMail,
    private readonly live: LiveEvents,
    private readonly further: FurtherFacts,
  ) {}

  onModuleInit(): void {
    this.further.lateCleanUpsFrom((now) => this.late(now));
  }

  /** What a request would be about, now. */
  async preview(placeId: string): Promise<CleanUpPreview> {
    const place = await this.place(placeId);
    const ids = await this.exposedIn(placeId);
    return { to: place.owner, items: ids.length, paths: await this.pathsOf(ids) };
  }

  async ask(placeId: string, request: CleanUpRequest, caller: Caller, at = new Date()): Promise<CleanUpView> {
    const place = await this.place(placeId);
    if (place.owner === '')
      throw new AppError('act-refused', 'This place has no owner. Set one first. Nothing was sent.');
    demandDay(request.dueOn, at);
    const ids = await this.exposedIn(placeId);
    if (ids.length === 0)
      throw new AppError('act-refused', 'Everything here is guarded well enough now. Nothing was sent.');
    if (ids.length > MAX_CLEAN_UP_ITEMS)
      throw new AppError(
        'too-many',
        `More than ${MAX_CLEAN_UP_ITEMS.toLocaleString('en-GB')} items here are not guarded well enough, which is too many for one request. Label the place, end access from outside, or let a job protect them. Nothing was sent.`,
      );
    const paths = await this.pathsOf(ids);
    const row: CleanUpEntity = {
      ...{ id: randomUUID(), placeId, owner: place.owner, actor: caller.name, at },
      ...{ dueOn: request.dueOn, note: request.note.trim(), endedAt: null },
    };
    await this.manager.transaction(async (manager) => {
      await manager.insert(CleanUpEntity, row);
      for (let from = 0; from < ids.length; from += ROWS_AT_ONCE)
        await insertOnly(
          manager,
          CleanUpItemEntity,
          ids.slice(from, from + ROWS_AT_ONCE).map((itemId) => ({ cleanUpId: row.id, itemId })),
        );
      await this.inside.send(manager, {
        ...{ at, from: SYSTEM_SENDER, to: place.owner },
        subject: `Please clean up "${place.name}" by ${request.dueOn}`,
        text: mailText({ place: place.name, row, count: ids.length, paths }),
      });
    });
    this.live.publish({ kind: 'discovery-changed' });
    const [view] = await this.viewsOf([row], at);
    if (!view) throw new Error('A request to clean up was not kept');
    return view;
  }

  /** Nothing more is expected of it: it is done, or it was a mistake. */
  async end(id: string, at = new Date()): Promise<void> {
    const { affected } = await this.manager.update(CleanUpEntity, { id, endedAt: IsNull() }, { endedAt: at });
    if (!affected) throw new AppError('not-found', 'There is no such request, or it ended already.');
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** The latest requests of places, by the id of the place. */
  async of(placeIds: readonly string[], now: Date): Promise<ReadonlyMap<string, readonly CleanUpView[]>> {
    if (placeIds.length === 0) return new Map();
    const rows = await this.manager.find(CleanUpEntity, {
      where: { placeId: In([...placeIds]) },
      order: { at: 'DESC' },
    });
    const byPlace = new Map<string, CleanUpEntity[]>();
    for (const row of rows) {
      const listed = byPlace.get(row.placeId) ?? [];
      if (listed.length < LISTED) byPlace.set(row.placeId, [...listed, row]);
    }
    const views = new Map(
      (await this.viewsOf([...byPlace.values()].flat(), now)).map((view) => [view.id, view]),
    );
    return new Map(
      [...byPlace].map(([place, listed]) => [place, listed.flatMap(({ id }) => views.get(id) ?? [])]),
    );
  }

  /** Requests past their day with something left, by place: the latest one of each. */
  async late(
    now: Date,
  ): Promise<
    { readonly place: string; readonly name: string; readonly left: number; readonly dueOn: string }[]
  > {
    const rows = await this.manager.find(CleanUpEntity, {
      where: { endedAt: IsNull() },
      order: { at: 'DESC' },
    });
    const names = new Map((await this.manager.find(DiscoveryPlaceEntity)).map(({ id, name }) => [id, name]));
    const views = new Map((await this.viewsOf(rows, now)).map((view) => [view.id, view]));
    const latest = new Map(rows.toReversed().map((row) => [row.placeId, row] as const));
    return [...latest].flatMap(([place, { id, dueOn }]) => {
      const view = views.get(id);
      return view?.isOverdue ? [{ place, name: names.get(place) ?? '', left: view.left, dueOn }] : [];
    });
  }

  private async viewsOf(rows: readonly CleanUpEntity[], now: Date): Promise<CleanUpView[]> {
    if (rows.length === 0) return [];
    const exposed = exposedItems(this.context.labels().labels, now);
    const counts = await this.manager.query<Record<string, string>[]>(
      `SELECT c.cleanUpId AS id, COUNT(*) AS items, SUM(NOT ${HERE}) AS gone,
         SUM(${HERE} AND i.quarantined) AS quarantined,
         SUM(${HERE} AND NOT i.quarantined AND NOT i.isSensitive AND NOT i.misplaced) AS harmless,
         SUM(${HERE} AND ${exposed.sql}) AS \`left\`
       FROM discovery_clean_up_item c JOIN discovery_clean_up r ON r.id = c.cleanUpId
         JOIN discovery_item i ON i.id = c.itemId JOIN discovery_place p ON p.id = i.placeId ${exposed.labels.sql}
       WHERE c.cleanUpId IN (?) GROUP BY c.cleanUpId`,
      [...exposed.values, ...exposed.labels.values, rows.map(({ id }) => id)],
    );
    const byId = new Map(counts.map((row) => [String(row['id']), row]));
    const today = now.toISOString().slice(0, 10);
    return rows.map(({ id, at, actor, owner, dueOn, note, endedAt }) => {
      const count = (name: string): number => Number(byId.get(id)?.[name] ?? 0);
      const [items, left, gone] = [count('items'), count('left'), count('gone')];
      const [quarantined, harmless] = [count('quarantined'), count('harmless')];
      return {
        ...{ id, at: at.toISOString(), by: actor, to: owner, dueOn, note },
        ...{ items, left, gone, quarantined, harmless },
        guarded: items - left - gone - quarantined - harmless,
        isOverdue: endedAt === null && left > 0 && dueOn < today,
        endedAt: endedAt?.toISOString() ?? null,
      };
    });
  }

  private async exposedIn(placeId: string): Promise<string[]> {
    const exposed = exposedItems(this.context.labels().labels, new Date());
    const rows = await this.manager.query<{ id: string }[]>(
      `SELECT i.id AS id FROM discovery_item i JOIN discovery_place p ON p.id = i.placeId ${exposed.labels.sql}
       WHERE i.placeId = ? AND (i.isSensitive OR i.misplaced) AND ${exposed.sql}
       ORDER BY i.holding DESC, i.id LIMIT ${MAX_CLEAN_UP_ITEMS + 1}`,
      [...exposed.labels.values, placeId, ...exposed.values],
    );
    return rows.map(({ id }) => id);
  }

  private async pathsOf(ids: readonly string[]): Promise<string[]> {
    const first = ids.slice(0, PATHS);
    if (first.length === 0) return [];
    const rows = await this.manager.query<{ id: string; path: string }[]>(
      'SELECT id, path FROM discovery_item WHERE id IN (?)',
      [first],
    );
    const byId = new Map(rows.map(({ id, path }) => [id, path]));
    return first.flatMap((id) => byId.get(id) ?? []);
  }

  private async place(id: string): Promise<DiscoveryPlaceEntity> {
    const place = await this.manager.findOneBy(DiscoveryPlaceEntity, { id });
    if (!place) throw new AppError('not-found', 'There is no such place.');
    return place;
  }
}

function demandDay(day: string, now: Date): void {
  const at = Date.parse(`${day}T23:59:59Z`);
  if (!(at >= now.getTime()) || at > now.getTime() + FURTHEST_DAYS * DAY_MS)
    throw new AppError('invalid-request', 'Choose a day from today on, within two years. Nothing was sent.');
}

function mailText({
  place,
  row,
  count,
  paths,
}: {
  readonly place: string;
  readonly row: CleanUpEntity;
  readonly count: number;
  readonly paths: readonly string[];
}): string {
  const more = count - paths.length;
  return [
    `You are the owner of "${place}". ${count === 1 ? '1 item there holds' : `${count} items there hold`} sensitive data that the place does not guard well enough.`,
    '',
    ...paths.map((path) => `- ${path}`),
    ...(more > 0 ? [`and ${more} more`] : []),
    '',
    `Please delete what is not needed, move what belongs elsewhere, or ask for a label and fewer people with access, by ${row.dueOn}.`,
    ...(row.note === '' ? [] : ['', row.note]),
    '',
    `${row.actor} sent this request. The next reading of the place shows what was done.`,
  ].join('\n');
}
