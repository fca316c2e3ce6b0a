import type { StoreProblem } from '@lantern/contracts/discovery';
import { Injectable } from '@nestjs/common';
import { EntityManager, In } from 'typeorm';
import { LiveEvents } from '../../platform/live/live-events.js';
import { DiscoveryPlaceEntity } from '../places/discovery-place.entity.js';
import { ItemEntity } from '../results/item.entity.js';
import { PartEntity } from '../parts/part.entity.js';
import { RunEntity } from './job.entity.js';
import { Protection } from './protection.service.js';

/** Ends parts, and runs with their last part. */
@Injectable()
export class RunEnds {
  constructor(
    private readonly live: LiveEvents,
    private readonly protection: Protection,
  ) {}

  async endPart(
    manager: EntityManager,
    part: PartEntity,
    state: 'done' | 'failed',
    problem: StoreProblem | null = null,
  ): Promise<void> {
    await manager.update(PartEntity, { id: part.id }, { state, problem, endedAt: new Date() });
    if (part.runId === null) return;
    // What a part could not open counts as unreadable, with the reason: nothing stays open for ever.
    if (part.kind === 'read' && part.content.items?.length)
      await this.giveUp(manager, part.runId, part.content.items, problem ?? 'failed');
    await this.endRun(manager, part.runId);
  }

  private async giveUp(
    manager: EntityManager,
    runId: string,
    items: readonly string[],
    reason: string,
  ): Promise<void> {
    const { affected } = await manager.update(
      ItemEntity,
      { id: In([...items]), dueRun: runId },
      { state: 'unreadable', reason, dueRun: null, isSensitive: false, holding: 0 },
    );
    if (!affected) return;
    const run = await manager.findOneOrFail(RunEntity, {
      where: { id: runId },
      lock: { mode: 'pessimistic_write' },
    });
    const unreadable = run.figures.unreadable + affected;
    await manager.update(RunEntity, { id: runId }, { figures: { ...run.figures, unreadable } });
  }

  /** A run is done with its last part. */
  async endRun(manager: EntityManager, runId: string): Promise<void> {
    if (await manager.existsBy(PartEntity, { runId, state: In(['waiting', 'taken']) })) return;
    const now = new Date();
    const { affected } = await manager.update(
      RunEntity,
      { id: runId, state: In(['running', 'paused']) },
      { state: 'done', endedAt: now },
    );
    if (!affected) return;
    const run = await manager.findOneByOrFail(RunEntity, { id: runId });
    const protectedBy = await this.protection.afterRun(manager, run);
    if (protectedBy.toProtect !== undefined)
      await manager.update(RunEntity, { id: runId }, { figures: { ...run.figures, ...protectedBy } });
    await manager.update(DiscoveryPlaceEntity, { id: In(run.definition.places) }, { readAt: now });
    // What was read stands with the items; parts that failed stay, to say so.
    await manager.delete(PartEntity, { runId, kind: 'read', state: 'done' });
    this.live.publish({ kind: 'discovery-changed' });
  }
}
