import { randomUUID } from 'node:crypto';
import {
  type ItemActView,
  MAX_MOVED_ITEMS,
  type PlaceMovePreview,
  type PlaceMoveRequest,
} from '@lantern/contracts/discovery';
import { OPEN_PLACE, opensByItself, type PlaceTerms } from '@lantern/core/labels';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, Not } from 'typeorm';
import { PlaceEntity } from '../../directory/place.entity.js';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { DiscoveryContext } from '../discovery-context.js';
import { ItemActs } from '../results/acts.service.js';
import { type ActEntity, ItemEntity } from '../results/item.entity.js';
import { DiscoveryPlaceEntity } from './discovery-place.entity.js';
import { PlaceOpenings } from './place-openings.js';
import { DiscoveryPlaces } from './places.service.js';

/** Moves what lies in one place into another, better guarded one: readers carry the files, with dates and labels. */
@Injectable()
export class PlaceMoves {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly context: DiscoveryContext,
    private readonly places: DiscoveryPlaces,
    private readonly acts: ItemActs,
    private readonly openings: PlaceOpenings,
    private readonly live: LiveEvents,
  ) {}

  /** What moving everything would change. */
  async preview(fromId: string, toId: string): Promise<PlaceMovePreview> {
    const { from, to } = await this.way(fromId, toId);
    const [row] = await this.manager.query<Record<string, string | null>[]>(
      `SELECT SUM(NOT i.quarantined) AS items, SUM(IF(i.quarantined OR o.id IS NOT NULL, 0, i.bytes)) AS bytes,
         SUM(i.quarantined) AS held, SUM(NOT i.quarantined AND o.id IS NOT NULL) AS standing
       FROM discovery_item i
       LEFT JOIN discovery_item o ON o.placeId = ? AND o.pathDigest = i.pathDigest AND o.state <> 'gone'
       WHERE i.placeId = ? AND i.state <> 'gone'`,
      [to.id, from.id],
    );
    const count = (name: string): number => Number(row?.[name] ?? 0);
    const standing = count('standing');
    return {
      ...{ items: count('items') - standing, bytes: count('bytes'), standing, quarantined: count('held') },
      ...(await this.peopleOf(from, to)),
    };
  }

  async begin(fromId: string, request: PlaceMoveRequest, caller: Caller): Promise<ItemActView> {
    const { from, to } = await this.way(fromId, request.to);
    const rows = await this.manager.find(ItemEntity, {
      where: { placeId: from.id, state: Not('gone'), quarantined: false },
      select: { id: true },
      take: MAX_MOVED_ITEMS + 1,
    });
    if (rows.length === 0) throw new AppError('act-refused', 'Nothing lies here that could be moved.');
    if (rows.length > MAX_MOVED_ITEMS)
      throw new AppError(
        'too-many',
        `More than ${MAX_MOVED_ITEMS.toLocaleString('en-GB')} items lie here. Move them in parts: pick them under What was found. Nothing was moved.`,
      );
    const id = randomUUID();
    await this.manager.transaction(async (manager) => {
      if (request.people) await this.letIn(manager, from, to);
      await this.acts.beginIn(
        manager,
        {
          ...{ id, act: 'move', labelId: null, toPlaceId: to.id, at: new Date(), actor: caller.name },
          reason: request.reason.trim(),
        },
        { ids: rows.map((row) => row.id), places: [from] },
      );
    });
    if (request.people && to.directoryPlaceId) await this.openings.follow(to.directoryPlaceId);
    this.live.publish({ kind: 'discovery-changed' });
    return this.acts.get(id);
  }

  /** A reader moved an item: it is one of the other place from now on, opened as that place is. */
  async arrived(
    manager: EntityManager,
    act: ActEntity,
    { from, id }: { readonly from: DiscoveryPlaceEntity; readonly id: string },
  ): Promise<void> {
    const to = await manager.findOneBy(DiscoveryPlaceEntity, { id: act.toPlaceId ?? '' });
    const item = await manager.findOneBy(ItemEntity, { id });
    if (!to || !item) return;
    // What was known at this path was no longer there, or the reader would not have put a file in its place.
    await manager.delete(ItemEntity, { placeId: to.id, pathDigest: item.pathDigest, id: Not(id) });
    const reach = await this.places.reachOf(to);
    const misplaced = to.unwanted.includes(item.ending);
    // A run was about to read it where it lay: the next one reads it where it lies.
    const unread = item.dueRun === null ? {} : { dueRun: null, lookedFor: null };
    await manager.update(
      ItemEntity,
      { id },
      { placeId: to.id, reach, reachRead: reach, misplaced, ...unread },
    );
    if (from.directoryPlaceId && to.directoryPlaceId)
      await this.openings.moved(manager, item.path, { from: from.directoryPlaceId, to: to.directoryPlaceId });
  }

  /** Everything of a part arrived: what was opened of it is looked at anew under the label of the place. */
  async followed(toId: string): Promise<void> {
    const to = await this.manager.findOneBy(DiscoveryPlaceEntity, { id: toId });
    if (to?.directoryPlaceId) await this.openings.follow(to.directoryPlaceId);
  }

  private async way(fromId: string, toId: string) {
    const from = await this.places.get(fromId);
    if (from.store !== 'folder')
      throw new AppError('act-refused', 'Only files in folders can be moved from here. Nothing was moved.');
    const to = await this.places.get(await this.acts.demandWay([from], toId));
    return { from, to };
  }

  private async peopleOf(from: DiscoveryPlaceEntity, to: DiscoveryPlaceEntity) {
    const [here, there] = await this.inDirectory([from, to]);
    if (!here || !there) return { people: [], closesInside: false };
    const terms = this.termsOf(to);
    const known = new Set([...there.members, ...there.sharedOutside, there.owner]);
    const inside = here.members.map((address) => ({ address, mayComeIn: true }));
    const outside = here.sharedOutside.map((address) => ({ address, mayComeIn: terms.outside !== 'nobody' }));
    return {
      people: [...inside, ...outside].filter(({ address }) => !known.has(address)),
      closesInside: opensByItself(this.termsOf(from)) && !opensByItself(terms),
    };
  }

  private async letIn(
    manager: EntityManager,
    from: DiscoveryPlaceEntity,
    to: DiscoveryPlaceEntity,
  ): Promise<void> {
    const [here, there] = await this.inDirectory([from, to]);
    if (!here || !there) return;
    const { people } = await this.peopleOf(from, to);
    const comesIn = new Set(people.flatMap(({ address, mayComeIn }) => (mayComeIn ? [address] : [])));
    await manager.update(
      PlaceEntity,
      { id: there.id },
      {
        members: [...there.members, ...here.members.filter((address) => comesIn.has(address))],
        sharedOutside: [
          ...there.sharedOutside,
          ...here.sharedOutside.filter((address) => comesIn.has(address)),
        ],
      },
    );
  }

  /** The places of the directory behind two places, where they are known there. */
  private async inDirectory(places: readonly DiscoveryPlaceEntity[]): Promise<(PlaceEntity | undefined)[]> {
    const ids = places.flatMap(({ directoryPlaceId }) => (directoryPlaceId ? [directoryPlaceId] : []));
    const known = ids.length > 0 ? await this.manager.findBy(PlaceEntity, { id: In(ids) }) : [];
    return places.map(({ directoryPlaceId }) => known.find(({ id }) => id === directoryPlaceId));
  }

  private termsOf({ labelId }: DiscoveryPlaceEntity): PlaceTerms {
    return this.context.labels().labels.find(({ id }) => id === labelId)?.place ?? OPEN_PLACE;
  }
}
