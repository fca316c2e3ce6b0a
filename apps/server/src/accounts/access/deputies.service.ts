import { randomUUID } from 'node:crypto';
import { type DeputyRequest, type DeputyView, MOST_DEPUTY_DAYS } from '@lantern/contracts/access';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, MoreThan } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { AccountEntity } from '../account.entity.js';
import { DeputyEntity } from './access.entity.js';

const DAY_MS = 86_400_000;
/** Absences that are over are shown for so long. */
const SHOWN_DAYS = 30;
/** Absences that lie ahead for one account. */
const MOST_AHEAD = 10;

/** Who stands in for whom. A deputy has the roles of the absent account for that time, and the trail names both. */
@Injectable()
export class Deputies {
  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  /** Absences in which an account is absent or stands in; all of them without one. */
  async list(accountId?: string, now = new Date()): Promise<DeputyView[]> {
    const since = MoreThan(new Date(now.getTime() - SHOWN_DAYS * DAY_MS));
    const [found, accounts] = await Promise.all([
      this.manager.find(DeputyEntity, {
        where: accountId
          ? [
              { absentId: accountId, until: since },
              { deputyId: accountId, until: since },
            ]
          : { until: since },
        order: { since: 'ASC' },
      }),
      this.manager.find(AccountEntity),
    ]);
    const byId = new Map(accounts.map(({ id, name, email }) => [id, { name, email }]));
    const nobody = { name: '', email: '' };
    return found.map(({ id, absentId, deputyId, since: from, until }) => ({
      id,
      absent: byId.get(absentId) ?? nobody,
      deputy: byId.get(deputyId) ?? nobody,
      from: from.toISOString(),
      until: until.toISOString(),
      state: until <= now ? 'over' : from <= now ? 'now' : 'ahead',
    }));
  }

  /** The caller names who stands in for them. */
  async name(request: DeputyRequest, caller: Caller): Promise<DeputyView[]> {
    const since = new Date(request.from);
    const until = new Date(request.until);
    const now = new Date();
    if (!(until > since) || until <= now)
      throw new AppError('invalid-request', 'The absence must end after it begins, and in the future.');
    if (until.getTime() - since.getTime() > MOST_DEPUTY_DAYS * DAY_MS)
      throw new AppError('invalid-request', `A deputy stands in for ${MOST_DEPUTY_DAYS} days at most.`);
    const deputy = await this.manager.findOneBy(AccountEntity, {
      email: request.deputy.trim().toLowerCase(),
      kind: 'person',
    });
    if (!deputy || deputy.disabledAt || deputy.invitedAt)
      throw new AppError('not-found', 'No active account has this address.');
    if (deputy.id === caller.accountId) throw new AppError('act-refused', 'You cannot be your own deputy.');
    const own = await this.manager.findBy(DeputyEntity, { absentId: caller.accountId, until: MoreThan(now) });
    if (own.length >= MOST_AHEAD)
      throw new AppError('too-many', `You can plan ${MOST_AHEAD} absences at most. Remove one first.`);
    await this.manager.insert(DeputyEntity, {
      ...{ id: randomUUID(), absentId: caller.accountId, deputyId: deputy.id },
      ...{ since, until },
    });
    return this.list(caller.accountId);
  }

  /** Ends an absence of the caller's, or takes a planned one back. What was done in it stays in the trail. */
  async end(id: string, caller: Caller): Promise<DeputyView[]> {
    const now = new Date();
    const found = await this.manager.findOneBy(DeputyEntity, { id, absentId: caller.accountId });
    if (!found || found.until <= now) throw new AppError('not-found', 'This absence is over already.');
    if (found.since > now) await this.manager.delete(DeputyEntity, { id });
    else await this.manager.update(DeputyEntity, { id }, { until: now });
    return this.list(caller.accountId);
  }
}
