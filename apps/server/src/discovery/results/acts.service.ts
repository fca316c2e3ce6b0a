import { randomUUID } from 'node:crypto';
import type { ItemActRequest, ItemActView } from '@lantern/contracts/discovery';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { DiscoveryContext } from '../discovery-context.js';
import { Parts } from '../parts/parts.service.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { ActEntity, ActItemEntity, ItemEntity } from './item.entity.js';

/** Acts that are listed. */
const LISTED = 20;
const REFUSED_LISTED = 50;
const ITEMS_OF_A_PART = 500;

/** Labels, quarantines and puts back what was found: readers carry it out where it lies. */
@Injectable()
export class ItemActs {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly context: DiscoveryContext,
    private readonly parts: Parts,
    private readonly live: LiveEvents,
  ) {}

  async begin(request: ItemActRequest, by: string): Promise<ItemActView> {
    const { act, label = null, reason } = request;
    if (act === 'label' && !this.context.labels().labels.some(({ id, retired }) => id === label && !retired))
      throw new AppError('not-found', 'There is no published label like this. Nothing was done.');
    const items = await this.manager.find(ItemEntity, {
      where: { id: In(request.items) },
      select: { id: true, placeId: true, state: true, quarantined: true },
    });
    const able = items.filter(
      ({ state, quarantined }) => state !== 'gone' && quarantined === (act === 'put-back'),
    );
    if (able.length === 0) throw new AppError('act-refused', REFUSALS[act]);
    const places = await this.foldersOf(able);
    const toPlaceId = act === 'move' ? await this.demandWay(places, request.to) : null;
    const id = randomUUID();
    const labelId = act === 'label' ? label : null;
    const row = { id, act, labelId, toPlaceId, at: new Date(), actor: by, reason: reason.trim() };
    await this.manager.transaction((manager) =>
      this.beginIn(manager, row, { ids: able.map((item) => item.id), places }),
    );
    this.live.publish({ kind: 'discovery-changed' });
    return this.get(id);
  }

  /** Begins an act on items of some places within the caller's transaction, in parts that are soon done. */
  async beginIn(
    manager: EntityManager,
    row: ActEntity,
    { ids, places }: { readonly ids: readonly string[]; readonly places: readonly DiscoveryPlaceEntity[] },
  ): Promise<void> {
    await manager.insert(ActEntity, row);
    for (let from = 0; from < ids.length; from += ITEMS_OF_A_PART) {
      const some = ids.slice(from, from + ITEMS_OF_A_PART);
      await manager.insert(
        ActItemEntity,
        some.map((itemId) => ({
          ...{ actId: row.id, itemId, state: 'waiting' as const, reason: null, endedAt: null },
        })),
      );
      const items = await manager.find(ItemEntity, {
        where: { id: In(some) },
        select: { id: true, placeId: true },
      });
      const parts = places.map((place) => ({
        ...{ kind: 'act' as const, place, runId: null },
        content: {
          act: row.id,
          items: items.flatMap((item) => (item.placeId === place.id ? [item.id] : [])),
        },
      }));
      await this.parts.add(
        manager,
        parts.filter(({ content }) => content.items.length > 0),
      );
    }
  }

  /** The place that items go to: a folder that the same readers open. Throws `act-refused` for any other. */
  async demandWay(from: readonly DiscoveryPlaceEntity[], to: string | undefined): Promise<string> {
    const place = to ? await this.manager.findOneBy(DiscoveryPlaceEntity, { id: to }) : null;
    if (!place) throw new AppError('not-found', 'There is no such place to move to. Nothing was moved.');
    if (place.store !== 'folder')
      throw new AppError(
        'act-refused',
        `"${place.name}" is not a folder. Items move between folders only. Nothing was moved.`,
      );
    if (from.some(({ id }) => id === place.id))
      throw new AppError('act-refused', `Some of it lies in "${place.name}" already. Nothing was moved.`);
    if (from.some(({ groupName }) => groupName !== place.groupName))
      throw new AppError(
        'act-refused',
        `Another group of readers reads "${place.name}", so no machine reaches both places. Nothing was moved.`,
      );
    return place.id;
  }

  private async foldersOf(
    items: readonly Pick<ItemEntity, 'placeId'>[],
  ): Promise<readonly DiscoveryPlaceEntity[]> {
    const places = await this.manager.findBy(DiscoveryPlaceEntity, {
      id: In([...new Set(items.map(({ placeId }) => placeId))]),
    });
    if (places.some(({ store }) => store !== 'folder'))
      throw new AppError(
        'act-refused',
        'Only files in folders can be changed from here. Nothing was done. Narrow the choice to places that are folders.',
      );
    return places;
  }

  async get(id: string): Promise<ItemActView> {
    const act = await this.manager.findOneBy(ActEntity, { id });
    if (!act) throw new AppError('not-found', 'There is no such act.');
    return this.toView(act);
  }

  async list(): Promise<ItemActView[]> {
    const acts = await this.manager.find(ActEntity, { order: { at: 'DESC' }, take: LISTED });
    return Promise.all(acts.map((act) => this.toView(act)));
  }

  private async toView({ id, act, at, actor, reason }: ActEntity): Promise<ItemActView> {
    const counts = await this.manager.query<{ state: string; count: string }[]>(
      'SELECT state, COUNT(*) AS count FROM discovery_act_item WHERE actId = ? GROUP BY state',
      [id],
    );
    const count = (state: string): number => Number(counts.find((row) => row.state === state)?.count ?? 0);
    const refused = await this.manager.query<{ path: string; reason: string }[]>(
      `SELECT i.path AS path, a.reason AS reason FROM discovery_act_item a JOIN discovery_item i ON i.id = a.itemId
       WHERE a.actId = ? AND a.state = 'refused' LIMIT ${REFUSED_LISTED}`,
      [id],
    );
    return {
      ...{ id, act, at: at.toISOString(), by: actor, reason, refused },
      ...{ waiting: count('waiting'), done: count('done') },
    };
  }
}

const REFUSALS: Readonly<Record<ItemActRequest['act'], string>> = {
  move: 'None of these items can be moved: they are gone or in quarantine. Nothing was done.',
  label: 'None of these items can be labelled: they are gone or in quarantine. Nothing was done.',
  quarantine:
    'None of these items can be put into quarantine: they are gone or there already. Nothing was done.',
  'put-back': 'None of these items is in quarantine. Nothing was done.',
};
