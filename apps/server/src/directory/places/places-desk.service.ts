import { randomUUID } from 'node:crypto';
import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { PlaceComparison, PlaceListView } from '@lantern/contracts/machines';
import { type PlacePlan, type PlaceRecord, planPlaces } from '@lantern/core/directory';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { KeptComparisons } from '../changes/kept-comparisons.js';
import { DirectoryChanges } from '../changes/directory-changes.service.js';
import { PlaceEntity } from '../place.entity.js';

/** Lines of each list that are shown. */
const SHOWN = 200;

interface Kept {
  readonly plan: PlacePlan;
  readonly view: PlaceComparison;
  /** The places as they were: two imports at once must not undo each other. */
  readonly before: string;
}

/** Places that rules can name, from a list that is compared before it is applied. */
@Injectable()
export class PlacesDesk {
  private readonly comparisons = new KeptComparisons<Kept>();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly changes: DirectoryChanges,
    private readonly live: LiveEvents,
  ) {}

  async list(): Promise<PlaceListView[]> {
    return (await this.all(this.manager)).map(recordOf);
  }

  /** Compares an uploaded list with the places. Nothing is changed; it is kept for an hour. */
  async compare(path: string): Promise<PlaceComparison> {
    try {
      const { told, ignored } = await this.changes.readPlaces(path);
      const own = (await this.all(this.manager)).map(recordOf);
      const plan = planPlaces(told, own);
      const viewOf = (id: string): PlaceComparison => ({
        ...{ id, ignored },
        counts: {
          ...{ added: plan.added.length, changed: plan.changed.length },
          ...{ unchanged: plan.unchanged, refused: plan.refused.length },
        },
        added: plan.added.slice(0, SHOWN),
        changed: plan.changed.slice(0, SHOWN),
        refused: plan.refused.slice(0, SHOWN),
      });
      const before = JSON.stringify(own);
      return this.comparisons.keep((id) => ({ plan, before, view: viewOf(id) })).view;
    } finally {
      await rm(path, { force: true });
    }
  }

  /** Takes over what was looked at, or nothing of it. A new place gets a folder of its own, which is empty. */
  async apply(id: string): Promise<PlaceListView[]> {
    const kept = this.comparisons.get(id);
    const made = kept.plan.added.map((place) => ({ ...place, id: randomUUID() }));
    await this.manager.transaction(async (manager) => {
      const there = await manager.find(PlaceEntity, {
        order: { name: 'ASC' },
        lock: { mode: 'pessimistic_write' },
      });
      if (JSON.stringify(there.map(recordOf)) !== kept.before)
        throw new AppError('changed-meanwhile', 'The places changed meanwhile. Compare again.');
      for (const { id: placeId, ...place } of made)
        await manager.insert(PlaceEntity, {
          ...place,
          ...{ id: placeId, folder: folderOf(placeId), sharedOutside: [], members: [...place.members] },
        });
      for (const { after } of kept.plan.changed)
        await manager.update(
          PlaceEntity,
          { name: after.name },
          { about: after.about, owner: after.owner, members: [...after.members] },
        );
      for (const { id: placeId } of made)
        await mkdir(join(this.config.places, folderOf(placeId)), { recursive: true, mode: 0o700 });
    });
    this.comparisons.drop(id);
    this.live.publish({ kind: 'directory-changed' });
    return this.list();
  }

  private all(manager: EntityManager): Promise<PlaceEntity[]> {
    return manager.find(PlaceEntity, { order: { name: 'ASC' } });
  }
}

/** Never the name of the place: that is what a stranger wrote. */
const folderOf = (id: string): string => `place-${id}`;

const recordOf = ({ name, about, owner, members }: PlaceEntity): PlaceRecord => ({
  name,
  about,
  owner,
  members,
});
