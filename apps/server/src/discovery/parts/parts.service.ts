import { randomUUID } from 'node:crypto';
import { EventEmitter, once } from 'node:events';
import { LEASE_SECONDS } from '@lantern/contracts/discovery';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { afterCommit } from '../../platform/database/transaction-context.js';
import { AppError } from '../../platform/errors/app-error.js';
import { PartEntity, type PartKind } from './part.entity.js';

/** What people wait for comes first; places are read while others are still listed. */
const RANKS: Readonly<Record<PartKind, number>> = { check: 0, fetch: 1, act: 1, read: 2, list: 3 };
/** Up to this rank somebody waits for it. */
const AWAITED_RANK = RANKS.act;
/** A part that came to no end so often ends those who take it: it is given up, and the rest goes on. */
export const MOST_TAKEN = 4;
/** Waiting readers look again by themselves: the lease of a part may have ended. */
const LOOK_AGAIN_MS = 5_000;

/** A place or a reader, with the group whose readers go through it. */
export interface OfGroup {
  readonly id: string;
  readonly groupName: string;
}

/** Pieces of work that readers take, keep for a stated time, and give back by falling silent. */
@Injectable()
export class Parts implements OnApplicationShutdown {
  private readonly added = new EventEmitter().setMaxListeners(0);
  private closing = false;

  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  onApplicationShutdown(): void {
    this.closing = true;
    this.added.emit('part');
  }

  async addCheck(manager: EntityManager, place: OfGroup): Promise<void> {
    await manager.delete(PartEntity, { placeId: place.id, kind: 'check', state: 'waiting' });
    await this.add(manager, [{ kind: 'check', place, runId: null, content: {} }]);
  }

  async add(
    manager: EntityManager,
    parts: readonly {
      readonly kind: PartKind;
      readonly place: OfGroup;
      readonly runId: string | null;
      readonly content: PartEntity['content'];
    }[],
  ): Promise<void> {
    const createdAt = new Date();
    await manager.insert(
      PartEntity,
      parts.map(({ kind, place, runId, content }) => ({
        ...{
          id: randomUUID(),
          runId,
          placeId: place.id,
          groupName: place.groupName,
          kind,
          rank: RANKS[kind],
        },
        ...{ state: 'waiting' as const, readerId: null, leaseUntil: null, taken: 0, content, problem: null },
        ...{ createdAt, endedAt: null },
      })),
    );
    afterCommit(() => this.added.emit('part'));
  }

  /** Wakes readers that wait: a run goes on. */
  wake(): void {
    afterCommit(() => this.added.emit('part'));
  }

  /** Gives back what a reader had in hand. */
  async giveBack(readerId: string): Promise<void> {
    await this.manager.update(
      PartEntity,
      { readerId, state: 'taken' },
      { state: 'waiting', readerId: null, leaseUntil: null },
    );
    this.wake();
  }

  /** The next part for a reader: waits up to `seconds` for one, and no longer than the reader does. */
  async take(
    reader: OfGroup,
    seconds: number,
    {
      isGone = () => false,
      isDue = () => false,
      onlyAwaited = false,
    }: {
      readonly isGone?: () => boolean;
      readonly isDue?: () => boolean;
      /** Only what people wait for: it rests otherwise. */
      readonly onlyAwaited?: boolean;
    } = {},
  ): Promise<PartEntity | null> {
    const until = Date.now() + seconds * 1_000;
    for (;;) {
      if (isGone()) return null;
      const part = await this.takeNow(reader, onlyAwaited ? AWAITED_RANK : RANKS.list);
      const left = until - Date.now();
      if (part || left <= 0 || this.closing || isDue()) return part;
      await once(this.added, 'part', { signal: AbortSignal.timeout(Math.min(left, LOOK_AGAIN_MS)) }).catch(
        () => undefined,
      );
    }
  }

  /** A part that a reader has in hand, held for it; throws `changed-meanwhile` where it is somebody else's by now. */
  async held(manager: EntityManager, id: string, reader: OfGroup): Promise<PartEntity> {
    const part = await manager.findOne(PartEntity, { where: { id }, lock: { mode: 'pessimistic_write' } });
    if (part?.readerId !== reader.id || part.state !== 'taken')
      throw new AppError(
        'changed-meanwhile',
        'This part is not this reader’s any more: it was stopped, or given to another one. Drop it.',
        { details: { by: '' } },
      );
    await manager.update(PartEntity, { id }, { leaseUntil: leaseFrom(new Date()) });
    return part;
  }

  private takeNow(reader: OfGroup, mostRank: number): Promise<PartEntity | null> {
    return this.manager.transaction(async (manager) => {
      const now = new Date();
      const [row] = await manager.query<{ id: string; taken: number }[]>(
        `SELECT p.id AS id, p.taken AS taken FROM discovery_part p
         WHERE p.groupName = ? AND p.rank <= ? AND (p.state = 'waiting' OR (p.state = 'taken' AND p.leaseUntil < ?))
           AND (p.runId IS NULL OR p.runId IN (SELECT id FROM discovery_run WHERE state = 'running'))
         ORDER BY p.rank, p.createdAt LIMIT 1 FOR UPDATE SKIP LOCKED`,
        [reader.groupName, mostRank, now],
      );
      if (!row) return null;
      const { id } = row;
      await manager.update(
        PartEntity,
        { id },
        { state: 'taken', readerId: reader.id, leaseUntil: leaseFrom(now), taken: row.taken + 1 },
      );
      return manager.findOneByOrFail(PartEntity, { id });
    });
  }
}

const leaseFrom = (now: Date): Date => new Date(now.getTime() + LEASE_SECONDS * 1_000);
