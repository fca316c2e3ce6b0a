import { randomUUID } from 'node:crypto';
import { type ItemQueryRequest, type ItemQueryView, MAX_ITEM_QUERIES } from '@lantern/contracts/discovery';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { ItemQueryEntity } from './item-query.entity.js';
import { Items } from './items.service.js';

/** Questions about results under a name, own and shared. */
@Injectable()
export class ItemQueries {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly items: Items,
  ) {}

  async list(caller: Caller): Promise<ItemQueryView[]> {
    const rows = await this.manager.find(ItemQueryEntity, {
      where: [{ accountId: caller.accountId }, { shared: true }],
      order: { name: 'ASC' },
    });
    return rows.map(({ id, name, line, sorted, grouped, shared, owner, accountId }) => ({
      ...{ id, name, filter: line, order: sorted, by: grouped, shared, owner },
      isOwn: accountId === caller.accountId,
    }));
  }

  /** Keeps a question; one of the same name of the same account is replaced. Throws `bad-filter` for a wrong line. */
  async save(request: ItemQueryRequest, caller: Caller): Promise<ItemQueryView[]> {
    this.items.readFilter(request.filter);
    const name = request.name.trim();
    if (name === '') throw new AppError('invalid-request', 'A saved query needs a name. Nothing was saved.');
    const { accountId } = caller;
    await this.manager.transaction(async (manager) => {
      const known = await manager.findOne(ItemQueryEntity, {
        where: { accountId, name },
        lock: { mode: 'pessimistic_write' },
      });
      if (!known && (await manager.countBy(ItemQueryEntity, { accountId })) >= MAX_ITEM_QUERIES)
        throw new AppError('too-many', `You have ${MAX_ITEM_QUERIES} saved queries. Remove one first.`);
      await manager.save(
        manager.create(ItemQueryEntity, {
          ...{ id: known?.id ?? randomUUID(), accountId, owner: caller.name, name, line: request.filter },
          ...{ sorted: request.order, grouped: request.by, shared: request.shared },
        }),
      );
    });
    return this.list(caller);
  }

  async remove(id: string, caller: Caller): Promise<ItemQueryView[]> {
    const { affected } = await this.manager.delete(ItemQueryEntity, { id, accountId: caller.accountId });
    if (!affected) throw new AppError('not-found', 'You have no such query. Nothing was removed.');
    return this.list(caller);
  }
}
