import { randomUUID } from 'node:crypto';
import type { EndHoldRequest, HoldRequest, HoldView } from '@lantern/contracts/retention';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { IncidentEntity, MovementEntity } from '../incidents/incident.entity.js';
import { AppError } from '../platform/errors/app-error.js';
import { LegalHoldEntity } from '../platform/legal-hold/legal-hold.entity.js';

/** Puts legal holds on people, incidents and cases, and ends them; each with who and why. */
@Injectable()
export class LegalHolds {
  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  async list(): Promise<HoldView[]> {
    const holds = await this.manager.find(LegalHoldEntity, { order: { since: 'DESC' } });
    return Promise.all(holds.map((hold) => this.view(hold)));
  }

  async add({ kind, subject, reason }: HoldRequest, by: string): Promise<HoldView> {
    const named = subject.trim().toLowerCase();
    await this.demandKnown(kind, named);
    const hold = {
      ...{ id: randomUUID(), kind, subject: named, reason: reason.trim(), since: new Date(), startedBy: by },
      ...{ endedAt: null, endedBy: null, endReason: null },
    };
    await this.manager.transaction(async (manager) => {
      const standing = await manager.find(LegalHoldEntity, {
        where: { kind, subject: named },
        lock: { mode: 'pessimistic_write' },
      });
      if (standing.some(({ endedAt }) => endedAt === null))
        throw new AppError('name-taken', 'This is already under a legal hold.');
      await manager.insert(LegalHoldEntity, hold);
    });
    return this.view(hold);
  }

  /** From the next sweep on, what is too old goes. */
  async end(id: string, { reason }: EndHoldRequest, by: string): Promise<HoldView> {
    const ended = await this.manager
      .createQueryBuilder()
      .update(LegalHoldEntity)
      .set({ endedAt: new Date(), endedBy: by, endReason: reason.trim() })
      .where('id = :id AND endedAt IS NULL', { id })
      .execute();
    if (!ended.affected) throw new AppError('not-found', 'This legal hold is not in force.');
    return this.view(await this.manager.findOneByOrFail(LegalHoldEntity, { id }));
  }

  async isHeldPerson(address: string): Promise<boolean> {
    const holds = await this.manager.findBy(LegalHoldEntity, { kind: 'person', subject: address });
    return holds.some(({ endedAt }) => endedAt === null);
  }

  private async demandKnown(kind: HoldRequest['kind'], subject: string): Promise<void> {
    if (kind === 'person') {
      if (!/^[^\s@]+@[^\s@]+$/.test(subject))
        throw new AppError('bad-address', 'Enter the mail address of the person.');
      return;
    }
    const number = Number(subject);
    const where = kind === 'incident' ? { number } : { caseNumber: number };
    if (!Number.isSafeInteger(number) || !(await this.manager.existsBy(IncidentEntity, where)))
      throw new AppError('not-found', `There is no ${kind} ${subject}.`);
  }

  private async view(hold: LegalHoldEntity): Promise<HoldView> {
    const { id, kind, subject, reason, since, startedBy: by, endedAt, endedBy, endReason } = hold;
    const number = Number(subject);
    const movements =
      kind === 'person'
        ? await this.manager.countBy(MovementEntity, { personAddress: subject })
        : await this.manager.countBy(
            IncidentEntity,
            kind === 'incident' ? { number } : { caseNumber: number },
          );
    return {
      ...{ id, kind, subject, reason, since: since.toISOString(), by, endedBy, endReason, movements },
      endedAt: endedAt?.toISOString() ?? null,
    };
  }
}
