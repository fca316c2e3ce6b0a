import { Injectable } from '@nestjs/common';
import { type EntityManager, In, IsNull } from 'typeorm';
import { Access } from '../../accounts/access/access.service.js';
import { AccountEntity } from '../../accounts/account.entity.js';
import { PersonEntity } from '../../directory/person.entity.js';
import { visibleAmong } from '../../incidents/visible.js';
import { InsideMail, SYSTEM_SENDER } from '../../platform/inside-mail.js';
import { NOBODY, type PendingEntity } from './pending.entity.js';
import { neededFor } from './pending-words.js';

/** Mails to those who decide, or decided, about what waits. Never content. */
@Injectable()
export class PendingMails {
  constructor(
    private readonly inside: InsideMail,
    private readonly access: Access,
  ) {}

  /** Tells whoever allowed something that it was judged wrong. */
  async approverWasWrong(
    manager: EntityManager,
    { decidedBy, incidentNumber }: PendingEntity,
    { reason, by, at }: { readonly reason: string; readonly by: string; readonly at: Date },
  ): Promise<void> {
    // Both, where it took two people.
    const names = (decidedBy ?? '').split(' and ');
    const approvers = await manager.findBy(AccountEntity, { name: In([decidedBy ?? '', ...names]) });
    for (const approver of approvers)
      await this.inside.send(manager, {
        at,
        from: 'incidents@localhost',
        to: approver.email,
        subject: `Your approval of incident ${incidentNumber} was judged wrong`,
        text: `${by} judged the override that you approved for incident ${incidentNumber} wrong: ${reason}`,
      });
  }

  /** Tells everybody who is next in line, as far as the incident lies within their limits, but the person themselves. */
  async nextInLine(
    manager: EntityManager,
    { incidentNumber, otherwise, decides, deadline, person }: PendingEntity & { readonly deadline: Date },
  ): Promise<void> {
    const needed = neededFor({ decides });
    // Whoever left the directory has no account either.
    const mover = person === NOBODY ? null : await manager.findOneBy(PersonEntity, { id: person });
    const own = mover?.address.toLowerCase();
    const follows = otherwise === 'goes-on' ? 'it goes on' : 'it is taken back';
    for (const account of await manager.findBy(AccountEntity, { disabledAt: IsNull(), kind: 'person' })) {
      const { email, permissions } = account;
      if (email === own || !permissions.includes(needed) || !permissions.includes('incidents.read')) continue;
      const sight = await this.access.sightOf(account, needed);
      if (!(await visibleAmong(manager, [incidentNumber], sight)).has(incidentNumber)) continue;
      await this.inside.send(manager, {
        ...{ at: new Date(), from: SYSTEM_SENDER, to: email },
        subject: `Incident ${incidentNumber} waits for your decision`,
        text: `Something is held, and nobody decided about it in time. Decide in the workbench until ${deadline.toISOString()}, or ${follows}.`,
      });
    }
  }
}
