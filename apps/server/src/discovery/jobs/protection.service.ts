import { randomUUID } from 'node:crypto';
import { behindPart, ITEM_FIELD_TABLE } from '@lantern/core/discovery';
import { parseFilterOver } from '@lantern/core/incidents';
import { Injectable } from '@nestjs/common';
import { EntityManager, In } from 'typeorm';
import { DiscoveryContext } from '../discovery-context.js';
import { DiscoveryNames } from '../discovery-names.service.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { compileItems, ITEM_TABLES } from '../results/compile-items.js';
import { ItemActs } from '../results/acts.service.js';
import { JobEntity, type RunEntity, type RunFigures } from './job.entity.js';

/** What a run that protects does once everything is read: what outruns the guard of its place goes into quarantine. */
@Injectable()
export class Protection {
  constructor(
    private readonly context: DiscoveryContext,
    private readonly names: DiscoveryNames,
    private readonly acts: ItemActs,
  ) {}

  /** Within the transaction that ends the run. More items than the job allows are no longer what somebody looked at. */
  async afterRun(manager: EntityManager, run: RunEntity): Promise<Partial<RunFigures>> {
    const { step, protect, places: ids } = run.definition;
    if (step !== 'protect' || !protect) return {};
    const places = await manager.findBy(DiscoveryPlaceEntity, { id: In(ids), store: 'folder' });
    const found = new Set<string>();
    for (const place of places)
      for (const code of protect.parts)
        for (const id of await this.behind(manager, place, code, protect.most + 1)) found.add(id);
    if (found.size === 0) return { toProtect: 0 };
    if (found.size > protect.most) return { toProtect: found.size, tooMany: true };
    const job = await manager.findOneBy(JobEntity, { id: run.jobId });
    await this.acts.beginIn(
      manager,
      {
        ...{
          id: randomUUID(),
          act: 'quarantine',
          labelId: null,
          toPlaceId: null,
          at: new Date(),
          actor: run.startedBy,
        },
        reason: `Job "${job?.name ?? ''}" protects`,
      },
      { ids: [...found], places },
    );
    return { toProtect: found.size };
  }

  private async behind(
    manager: EntityManager,
    place: DiscoveryPlaceEntity,
    code: Parameters<typeof behindPart>[0],
    most: number,
  ): Promise<string[]> {
    if (code === 'unmanaged' && !place.unmanaged) return [];
    const { labels } = this.context.labels();
    const own = labels.find(({ id }) => id === place.labelId);
    if (code === 'above-place' && !own) return [];
    const above = labels.filter(({ rank }) => own !== undefined && rank > own.rank).map(({ name }) => name);
    const line = behindPart(code, { name: place.name, above }, Date.now());
    const parsed = parseFilterOver(ITEM_FIELD_TABLE, line);
    if (parsed.status !== 'read') return [];
    const where = compileItems(parsed.filter, this.names, new Date());
    const rows = await manager.query<{ id: string }[]>(
      `SELECT i.id AS id FROM ${ITEM_TABLES} WHERE i.placeId = ? AND ${where.sql} ORDER BY i.id LIMIT ${most}`,
      [place.id, ...where.values],
    );
    return rows.map(({ id }) => id);
  }
}
