import type { ReaderCost } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { LiveEvents } from '../../platform/live/live-events.js';
import { Parts } from '../parts/parts.service.js';
import { WatchGroupEntity } from '../watching/watch-group.entity.js';
import { ReaderEntity } from './reader.entity.js';

export const NO_LIMITS: ReaderCost = {
  ...{ processor: null, bytesPerSecond: null, itemsPerSecond: null, hours: null, batteryAbove: null },
};

/** What readers may cost their machines: as their group says, or as was said for one of them. */
@Injectable()
export class ReaderCosts {
  /** How often the costs of a reader or a group changed since this server began: whoever waits for work is told at once. */
  private readonly changes = new Map<string, number>();

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly parts: Parts,
    private readonly live: LiveEvents,
  ) {}

  /** What a reader may cost its machine now. */
  async of({ id, groupName }: Pick<ReaderEntity, 'id' | 'groupName'>): Promise<ReaderCost> {
    const own = await this.manager.findOne(ReaderEntity, { where: { id }, select: { id: true, cost: true } });
    if (own?.cost) return own.cost;
    const group = await this.manager.findOneBy(WatchGroupEntity, { groupName });
    return group?.cost ?? NO_LIMITS;
  }

  /** Costs of every group that has some. */
  async ofGroups(): Promise<ReadonlyMap<string, ReaderCost>> {
    const groups = await this.manager.find(WatchGroupEntity, { select: { groupName: true, cost: true } });
    return new Map(groups.flatMap(({ groupName, cost }) => (cost ? [[groupName, cost] as const] : [])));
  }

  /** Says the same for as long as nothing changed for a reader. */
  mark({ id, groupName }: Pick<ReaderEntity, 'id' | 'groupName'>): number {
    return (this.changes.get(id) ?? 0) + (this.changes.get(groupName) ?? 0);
  }

  /** Gives a reader limits of its own; null gives it those of its group. */
  async setOwn(id: string, cost: ReaderCost | null): Promise<void> {
    const changed = await this.manager.update(
      ReaderEntity,
      { id, withdrawnAt: IsNull() },
      { cost: cost && inFull(cost) },
    );
    if (!changed.affected) throw new AppError('not-found', 'There is no such reader.');
    this.changed(id);
    this.live.publish({ kind: 'discovery-changed' });
  }

  /** The costs of a reader, by its id, or of a group, by its name, were changed. */
  changed(name: string): void {
    this.changes.set(name, (this.changes.get(name) ?? 0) + 1);
    this.parts.wake();
  }
}

/** Costs with every limit named; only what is known is kept. */
export function inFull(cost: ReaderCost): ReaderCost {
  const { processor, bytesPerSecond, itemsPerSecond, hours, batteryAbove } = cost;
  return {
    ...{ processor: processor ?? null, bytesPerSecond: bytesPerSecond ?? null },
    ...{ itemsPerSecond: itemsPerSecond ?? null, batteryAbove: batteryAbove ?? null },
    hours: hours ? { from: hours.from, to: hours.to } : null,
  };
}
