import { Injectable, Logger } from '@nestjs/common';
import { EntityManager, MoreThan } from 'typeorm';
import { AccountsService } from '../accounts/accounts.service.js';
import { InsideMail } from '../platform/inside-mail.js';
import type { Caller } from '../platform/auth/permit.js';
import { HistoryEntity } from './incident.entity.js';

/** An analyst at work unmasks a few incidents an hour; more looks like somebody who collects values. */
export const MANY_UNMASKINGS = 10;
const WITHIN_MS = 60 * 60_000;

/** Records who saw values whole and why, and tells the others who may unmask when one account does it often. */
@Injectable()
export class Unmaskings {
  private readonly log = new Logger('incidents');

  constructor(
    private readonly accounts: AccountsService,
    private readonly inside: InsideMail,
  ) {}

  /** Records one unmasking within the caller's transaction. The values may be shown after its commit. */
  async record(
    manager: EntityManager,
    number: number,
    { reason, caller, at }: { readonly reason: string; readonly caller: Caller; readonly at: Date },
  ): Promise<void> {
    const actor = caller.name;
    // One after the other: of two that are counted at once, neither would be the tenth.
    await this.accounts.lock(manager, caller.accountId);
    await manager.insert(HistoryEntity, {
      ...{ incidentNumber: number, at, actor, kind: 'unmasked', act: null, text: reason },
      accountId: caller.accountId || null,
    });
    const since = new Date(at.getTime() - WITHIN_MS);
    const recent = await manager.countBy(HistoryEntity, { kind: 'unmasked', actor, at: MoreThan(since) });
    await this.warnOfMany(manager, caller, { count: recent, at, of: 'incidents' });
  }

  /** Tells the others who may unmask, where somebody did it so often within an hour. */
  async warnOfMany(
    manager: EntityManager,
    caller: Caller,
    many: { readonly count: number; readonly at: Date; readonly of: string },
  ): Promise<void> {
    // One alert for each further ten, so that a flood of unmaskings is no flood of mail.
    if (many.count > 0 && many.count % MANY_UNMASKINGS === 0) await this.alert(manager, caller, many);
  }

  private async alert(
    manager: EntityManager,
    caller: Caller,
    { count, at, of }: { readonly count: number; readonly at: Date; readonly of: string },
  ): Promise<void> {
    this.log.warn(`Account ${caller.accountId} unmasked values ${count} times within an hour`);
    for (const account of await this.accounts.holding('incidents.unmask')) {
      if (account.id === caller.accountId) continue;
      await this.inside.send(manager, {
        at,
        from: 'incidents@localhost',
        to: account.email,
        subject: `${caller.name} unmasked values ${count} times within an hour`,
        text: [
          `${caller.name} (${caller.email}) asked for the values of ${of} ${count} times within the last hour.`,
          'The history of each lists who asked, and the reason.',
          'If you do not know why, ask them.',
        ].join('\n'),
      });
    }
  }
}
