import { randomUUID } from 'node:crypto';
import type {
  DiscoveryPlaceView,
  PlaceCheck,
  PlaceLabelPreview,
  PlaceRequest,
  StoreAddress,
  WithdrawPreview,
} from '@lantern/contracts/discovery';
import { ITEM_REACHES, type ItemReach } from '@lantern/core/discovery';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, IsNull, Not } from 'typeorm';
import { PlaceEntity } from '../../directory/place.entity.js';
import type { Caller } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { seal, unseal } from '../../platform/sealing.js';
import { DiscoveryContext } from '../discovery-context.js';
import { PartEntity } from '../parts/part.entity.js';
import { Parts } from '../parts/parts.service.js';
import { ItemEntity } from '../results/item.entity.js';
import { Readers } from '../readers/readers.service.js';
import { CleanUps } from './clean-ups.service.js';
import { DiscoveryPlaceEntity } from './discovery-place.entity.js';
import { exposures } from './exposure.js';
import { PlaceOpenings } from './place-openings.js';

export const NOT_CHECKED: PlaceCheck = {
  ...{ state: 'not-yet', at: null, problem: null, items: null, bytes: null, atLeast: false },
};
const NO_FIGURES = { items: 0, bytes: 0, read: 0, unreadable: 0, leftOut: 0, sensitive: 0, quarantined: 0 };
/** The strip's figure is counted anew after so long. */
const COUNTED_MS = 5_000;
const sealedAt = (id: string): string => `discovery-place:${id}`;

/** Places that readers go through: where they are, who opens them, and how far what lies there outruns that. */
@Injectable()
export class DiscoveryPlaces {
  private counted = { at: 0, value: Promise.resolve(0) };

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly context: DiscoveryContext,
    private readonly readers: Readers,
    private readonly parts: Parts,
    private readonly live: LiveEvents,
    private readonly openings: PlaceOpenings,
    private readonly cleanUps: CleanUps,
  ) {}

  /** The most exposed first. */
  async list(caller: Pick<Caller, 'permissions'>, now = new Date()): Promise<DiscoveryPlaceView[]> {
    const places = await this.manager.find(DiscoveryPlaceEntity, { order: { name: 'ASC' } });
    const { labels } = this.context.labels();
    const exposed = await exposures(this.manager, labels, now);
    const figures = await this.figures();
    const asked = await this.cleanUps.of(
      places.map(({ id }) => id),
      now,
    );
    const atWork = await this.readers.groupsAtWork(now);
    const outside = await this.sharedOutside(places);
    const seesAddress = caller.permissions.includes('discovery.manage');
    const views = places.map((place): DiscoveryPlaceView => {
      const label = labels.find(({ id }) => id === place.labelId);
      return {
        ...{ id: place.id, name: place.name, store: place.store, group: place.groupName, owner: place.owner },
        address: seesAddress ? place.address : { at: '' },
        hasSecret: place.secret !== null,
        ...{ reach: reachOf(place, outside.get(place.id) ?? []), unmanaged: place.unmanaged },
        label: label ? { id: label.id, name: label.name, rank: label.rank } : null,
        ...{ unwanted: place.unwanted, sharedOutside: outside.get(place.id) ?? [], version: place.version },
        ...{ check: place.checked, hasReader: atWork.has(place.groupName) },
        figures: figures.get(place.id) ?? NO_FIGURES,
        exposure: exposed.get(place.id) ?? { total: 0, parts: [] },
        cleanUps: asked.get(place.id) ?? [],
        readAt: place.readAt?.toISOString() ?? null,
      };
    });
    return views.sort((left, right) => right.exposure.total - left.exposure.total);
  }

  /** Places whose sum is more than nothing: for the strip, which asks with every event, at most so many seconds old. */
  countExposed(now = new Date()): Promise<number> {
    if (now.getTime() - this.counted.at < COUNTED_MS) return this.counted.value;
    const value = exposures(this.manager, this.context.labels().labels, now).then(
      (exposed) => [...exposed.values()].filter(({ total }) => total > 0).length,
    );
    this.counted = { at: now.getTime(), value };
    value.catch(() => (this.counted = { at: 0, value: Promise.resolve(0) }));
    return value;
  }

  async find(ids: readonly string[]): Promise<DiscoveryPlaceEntity[]> {
    return ids.length === 0 ? [] : this.manager.findBy(DiscoveryPlaceEntity, { id: In([...ids]) });
  }

  async get(id: string): Promise<DiscoveryPlaceEntity> {
    const place = await this.manager.findOneBy(DiscoveryPlaceEntity, { id });
    if (!place) throw new AppError('not-found', 'There is no such place.');
    return place;
  }

  /** The secret of a place in the clear, for the reader that opens it. */
  async secretOf(place: DiscoveryPlaceEntity): Promise<string | null> {
    if (!place.secret) return null;
    return (await unseal(this.config.keys.installation, sealedAt(place.id), place.secret)).toString('utf8');
  }

  /** Saves a place and has it checked by a reader of its group. */
  async save(id: string | null, request: PlaceRequest): Promise<{ readonly id: string }> {
    const known = id === null ? null : await this.get(id);
    await this.demandName(request.name.trim(), known?.id);
    this.demandLabel(request.label ?? null);
    const placeId = known?.id ?? randomUUID();
    const row = await this.rowOf(placeId, request, known);
    await this.manager.transaction(async (manager) => {
      if (known) await this.replace(manager, known, { row, version: request.version ?? known.version });
      else
        await manager.insert(DiscoveryPlaceEntity, {
          ...{ id: placeId, ...row, directoryPlaceId: null, version: 1, readAt: null },
        });
      await this.parts.addCheck(manager, { id: placeId, groupName: row.groupName });
    });
    this.live.publish({ kind: 'discovery-changed' });
    if (known?.directoryPlaceId && (known.labelId !== row.labelId || known.reach !== row.reach))
      await this.openings.follow(known.directoryPlaceId);
    return { id: placeId };
  }

  private async rowOf(id: string, request: PlaceRequest, known: DiscoveryPlaceEntity | null) {
    const { store, reach, unmanaged, label = null } = request;
    const address = { ...request.address };
    // A secret goes nowhere but to where it was given for: with another address it is asked for again.
    const stays = known?.store === store && isSameAddress(known.address, address);
    const secret = request.secret
      ? await seal(this.config.keys.installation, sealedAt(id), Buffer.from(request.secret))
      : stays
        ? known.secret
        : null;
    return {
      ...{ name: request.name.trim(), store, address, secret, groupName: request.group.trim() },
      ...{ owner: request.owner?.trim().toLowerCase() ?? '', reach, unmanaged, labelId: label },
      unwanted: request.unwanted.map(ending).filter((each) => each !== ''),
      checked: { ...NOT_CHECKED, state: 'checking' as const },
    };
  }

  private async replace(
    manager: EntityManager,
    known: DiscoveryPlaceEntity,
    { row, version }: { readonly row: Partial<DiscoveryPlaceEntity>; readonly version: number },
  ): Promise<void> {
    const { id } = known;
    const next = { ...row, version: version + 1 };
    const changed = await manager.update(DiscoveryPlaceEntity, { id, version }, next);
    if (!changed.affected)
      throw new AppError(
        'changed-meanwhile',
        'Somebody changed this place meanwhile. Nothing was saved. Look at it again.',
        { details: { by: '' } },
      );
    await this.spread(manager, { ...known, ...row });
  }

  private async demandName(name: string, own: string | undefined): Promise<void> {
    const taken = await this.manager.findOneBy(DiscoveryPlaceEntity, { name });
    if (taken && taken.id !== own)
      throw new AppError('name-taken', `"${name}" exists already. Choose another name.`, {
        details: { name },
      });
  }

  /** Asks a reader once more whether a place opens, and what it holds. */
  async check(id: string): Promise<void> {
    const place = await this.get(id);
    await this.manager.transaction(async (manager) => {
      await manager.update(DiscoveryPlaceEntity, { id }, { checked: { ...NOT_CHECKED, state: 'checking' } });
      await this.parts.addCheck(manager, place);
    });
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** What a label would end of what was opened before: the place itself, and single items of it. */
  async labelPreview(id: string, label: string | null): Promise<PlaceLabelPreview> {
    this.demandLabel(label);
    const { directoryPlaceId } = await this.get(id);
    const terms = this.context.labels().labels.find((each) => each.id === label)?.place ?? null;
    const ended = directoryPlaceId
      ? await this.openings.preview(directoryPlaceId, label)
      : { links: 0, people: [], closesInside: false, takers: [] };
    return { ...ended, terms, isEnforced: directoryPlaceId !== null };
  }

  /** A label tells what may lie there, and what the place lets people do: it acts at once, on what was opened before too. */
  async setLabel(id: string, label: string | null): Promise<void> {
    this.demandLabel(label);
    const place = await this.get(id);
    await this.manager.update(DiscoveryPlaceEntity, { id }, { labelId: label });
    this.live.publish({ kind: 'discovery-changed' });
    if (place.directoryPlaceId) await this.openings.follow(place.directoryPlaceId);
  }

  /** Removes a place with all that was found there; the store itself is not touched. */
  async remove(id: string): Promise<void> {
    await this.get(id);
    const isRead = await this.manager.existsBy(PartEntity, {
      ...{ placeId: id, runId: Not(IsNull()), state: In(['waiting', 'taken']) },
    });
    if (isRead)
      throw new AppError('in-use', 'A run goes through this place. Stop it first. Nothing was removed.');
    await this.manager.transaction(async (manager) => {
      await manager.delete(PartEntity, { placeId: id });
      await manager.delete(DiscoveryPlaceEntity, { id });
    });
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** What ending the access of people outside would change. */
  async withdrawPreview(id: string): Promise<WithdrawPreview> {
    const place = await this.get(id);
    const addresses = (await this.sharedOutside([place])).get(id) ?? [];
    const [row] = await this.manager.query<{ items: string; held: string }[]>(
      "SELECT COUNT(*) AS items, SUM(isSensitive) AS held FROM discovery_item WHERE placeId = ? AND state <> 'gone'",
      [id],
    );
    const links = place.directoryPlaceId ? await this.openings.outsideLinks(place.directoryPlaceId) : 0;
    return { addresses, links, items: Number(row?.items ?? 0), sensitive: Number(row?.held ?? 0) };
  }

  /** Ends the access of everybody outside, to single items too, and narrows the place to the organisation. */
  async withdraw(id: string): Promise<void> {
    const place = await this.get(id);
    const reach: ItemReach = ITEM_REACHES.indexOf(place.reach) > 1 ? 'organisation' : place.reach;
    await this.manager.transaction(async (manager) => {
      if (place.directoryPlaceId)
        await manager.update(PlaceEntity, { id: place.directoryPlaceId }, { sharedOutside: [] });
      await manager.update(DiscoveryPlaceEntity, { id }, { reach, version: place.version + 1 });
      await this.spread(manager, { ...place, reach });
    });
    if (place.directoryPlaceId) await this.openings.endOutside(place.directoryPlaceId);
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** Somebody outside was let into a place of the directory, or out of it: its items open as far as it does now. */
  async accessChanged(directoryPlaceId: string): Promise<void> {
    const place = await this.manager.findOneBy(DiscoveryPlaceEntity, { directoryPlaceId });
    if (place) await this.manager.transaction((manager) => this.spread(manager, place));
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** How far the items of a place open, as it stands. */
  async reachOf(place: DiscoveryPlaceEntity): Promise<ItemReach> {
    return reachOf(place, (await this.sharedOutside([place])).get(place.id) ?? []);
  }

  /** Its items open as far as it does, from now on. */
  private async spread(manager: EntityManager, place: DiscoveryPlaceEntity): Promise<void> {
    const reach = await this.reachOf(place);
    await manager.update(ItemEntity, { placeId: place.id }, { reach });
    if (place.unwanted.length > 0)
      await manager.query('UPDATE discovery_item SET misplaced = ending IN (?) WHERE placeId = ?', [
        place.unwanted,
        place.id,
      ]);
    else await manager.update(ItemEntity, { placeId: place.id }, { misplaced: false });
  }

  private demandLabel(id: string | null): void {
    if (id !== null && !this.context.labels().labels.some((label) => label.id === id && !label.retired))
      throw new AppError('not-found', 'There is no published label like this. Publish it first.');
  }

  private async sharedOutside(
    places: readonly DiscoveryPlaceEntity[],
  ): Promise<ReadonlyMap<string, readonly string[]>> {
    const ids = places.flatMap(({ directoryPlaceId }) => (directoryPlaceId ? [directoryPlaceId] : []));
    const known = ids.length > 0 ? await this.manager.findBy(PlaceEntity, { id: In(ids) }) : [];
    const byId = new Map(known.map(({ id, sharedOutside }) => [id, sharedOutside]));
    return new Map(places.map(({ id, directoryPlaceId }) => [id, byId.get(directoryPlaceId ?? '') ?? []]));
  }

  private async figures(): Promise<ReadonlyMap<string, DiscoveryPlaceView['figures']>> {
    const rows = await this.manager.query<Record<string, string>[]>(
      `SELECT placeId, SUM(state <> 'gone') AS items, SUM(IF(state <> 'gone', bytes, 0)) AS bytes,
         SUM(state = 'read') AS \`read\`, SUM(state = 'unreadable') AS unreadable,
         SUM(state = 'left-out') AS leftOut, SUM(isSensitive) AS \`sensitive\`, SUM(quarantined) AS quarantined
       FROM discovery_item FORCE INDEX (discovery_item_sums) GROUP BY placeId`,
    );
    return new Map(
      rows.map(({ placeId, ...row }) => [
        String(placeId),
        Object.fromEntries(
          Object.entries(row).map(([name, value]) => [name, Number(value)]),
        ) as unknown as DiscoveryPlaceView['figures'],
      ]),
    );
  }
}

/** The wider of what a place is, and what people outside were given. */
function reachOf({ reach }: DiscoveryPlaceEntity, sharedOutside: readonly string[]): ItemReach {
  if (sharedOutside.length === 0 || ITEM_REACHES.indexOf(reach) > ITEM_REACHES.indexOf('outside'))
    return reach;
  return 'outside';
}

const isSameAddress = (one: StoreAddress, other: StoreAddress): boolean =>
  one.at === other.at && (one.part ?? '') === (other.part ?? '') && (one.user ?? '') === (other.user ?? '');

const ending = (given: string): string => given.trim().replace(/^\.+/u, '').toLowerCase();
