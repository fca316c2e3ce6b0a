import { randomUUID } from 'node:crypto';
import type { DeskViewView, ViewRequest } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AccountEntity } from '../../accounts/account.entity.js';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { Queue } from '../queue/queue.service.js';
import { DeskViewEntity } from './desk-view.entity.js';

/** Views that one account may keep: a list that people still read. */
const MOST_VIEWS = 100;

/** Saved states of the desk, own and shared. */
@Injectable()
export class DeskViews {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly queue: Queue,
  ) {}

  async list(caller: Caller): Promise<DeskViewView[]> {
    const found = await this.manager.find(DeskViewEntity, {
      where: [{ owner: caller.accountId }, { shared: true }],
      order: { name: 'ASC' },
    });
    const account = await this.manager.findOneBy(AccountEntity, { id: caller.accountId });
    const first = found.find(({ role }) => role !== null && (account?.roles ?? []).includes(role));
    return found.map((view) => toView(view, caller, view === first));
  }

  async save(id: string | null, request: ViewRequest, caller: Caller): Promise<DeskViewView[]> {
    this.queue.read(request.state.filter);
    if (request.role && !request.shared)
      throw new AppError('invalid-request', 'Only a shared view can open first for a role.');
    await this.manager.transaction(async (manager) => {
      const known = id === null ? null : await this.owned(manager, id, caller);
      if (known && known.version !== request.version)
        throw new AppError('changed-meanwhile', 'This view was changed meanwhile.', {
          details: { by: known.ownerName },
        });
      if (!known && (await manager.countBy(DeskViewEntity, { owner: caller.accountId })) >= MOST_VIEWS)
        throw new AppError('too-many', `You have ${MOST_VIEWS} views. Delete one first.`);
      const role = request.role ?? null;
      // One view opens first for a role.
      if (role) await manager.update(DeskViewEntity, { role }, { role: null });
      await manager.save(
        manager.create(DeskViewEntity, {
          id: known?.id ?? randomUUID(),
          name: request.name,
          owner: caller.accountId,
          ownerName: caller.name,
          shared: request.shared,
          role,
          state: { ...request.state },
          version: (known?.version ?? 0) + 1,
        }),
      );
    });
    return this.list(caller);
  }

  async remove(id: string, caller: Caller): Promise<DeskViewView[]> {
    await this.manager.transaction(async (manager) => {
      await this.owned(manager, id, caller);
      await manager.delete(DeskViewEntity, { id });
    });
    return this.list(caller);
  }

  /** A view that the caller made; throws `not-found` for another's. */
  private async owned(manager: EntityManager, id: string, caller: Caller): Promise<DeskViewEntity> {
    const view = await manager.findOne(DeskViewEntity, {
      where: { id },
      lock: { mode: 'pessimistic_write' },
    });
    if (!view || view.owner !== caller.accountId) throw new AppError('not-found', 'You have no such view.');
    return view;
  }
}

function toView(view: DeskViewEntity, caller: Caller, first: boolean): DeskViewView {
  const { id, name, shared, role, state, ownerName, version } = view;
  return {
    id,
    name,
    shared,
    role,
    state,
    owner: ownerName,
    own: view.owner === caller.accountId,
    first,
    version,
  };
}
