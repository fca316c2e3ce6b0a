import type { RunsCompared } from '@lantern/contracts/discovery';
import { composed, differencesOf, type ItemChange } from '@lantern/core/discovery';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { And, EntityManager, In, LessThanOrEqual, MoreThan } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { ItemChangeEntity, ItemEntity } from '../results/item.entity.js';
import { Runs } from './runs.service.js';

/** Lines that are shown. */
const SHOWN = 500;
/** Changes that are compared at most. */
const MOST_CHANGES = 200_000;

/** What differs between two runs of a job: everything that changed after the first, up to the second. */
@Injectable()
export class RunComparison {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly runs: Runs,
  ) {}

  async compare(fromId: string, toId: string): Promise<RunsCompared> {
    const [from, to] = [await this.runs.get(fromId), await this.runs.get(toId)];
    if (from.jobId !== to.jobId || from.startedAt > to.startedAt)
      throw new AppError('invalid-request', 'Only an earlier and a later run of one job can be compared.');
    if (from.endedAt === null || to.endedAt === null)
      throw new AppError('invalid-request', 'Only runs that have ended can be compared.');
    const changes = await this.manager.find(ItemChangeEntity, {
      where: {
        placeId: In([...to.definition.places]),
        at: And(MoreThan(from.endedAt), LessThanOrEqual(to.endedAt)),
      },
      order: { id: 'ASC' },
      take: MOST_CHANGES + 1,
    });
    if (changes.length > MOST_CHANGES)
      throw new AppError('too-many', `More than ${MOST_CHANGES} changes lie between these runs.`);
    const differences = differencesOf(
      composed(changes.map(({ itemId, before, after: next }) => ({ id: itemId, before, after: next }))),
    );
    return this.toView(differences);
  }

  private async toView(differences: ReturnType<typeof differencesOf>): Promise<RunsCompared> {
    const counts: Partial<Record<ItemChange, number>> = {};
    for (const { changes } of differences)
      for (const change of changes) counts[change] = (counts[change] ?? 0) + 1;
    const ordered = [...differences].sort((left, right) => Number(right.sensitive) - Number(left.sensitive));
    const shown = ordered.slice(0, SHOWN);
    const ids = shown.flatMap(({ id, from }) => (from ? [id, from] : [id]));
    const items = new Map(
      (ids.length > 0 ? await this.manager.findBy(ItemEntity, { id: In(ids) }) : []).map((item) => [
        item.id,
        item,
      ]),
    );
    const places = new Map((await this.manager.find(DiscoveryPlaceEntity)).map(({ id, name }) => [id, name]));
    return {
      counts,
      lines: shown.flatMap(({ id, from, changes, sensitive }) => {
        const item = items.get(id);
        return item
          ? [
              {
                ...{ id, path: item.path, changes, sensitive, place: places.get(item.placeId) ?? '' },
                from: from ? (items.get(from)?.path ?? null) : null,
              },
            ]
          : [];
      }),
      more: differences.length - shown.length,
    };
  }
}
