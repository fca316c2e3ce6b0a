import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';

/** A mail from the system to somebody: that something did not go, that a rule held. Never content. */
export interface SystemMail {
  readonly from: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly at: Date;
}

type Deliverer = (manager: EntityManager, mail: SystemMail) => Promise<boolean>;

/**
 * Where mails of the system to people of the organisation go: whoever keeps their mailboxes registers, and doors that
 * send mail outward take the rest.
 */
@Injectable()
export class InsideMail {
  private readonly deliverers: Deliverer[] = [];

  deliveredBy(deliverer: Deliverer): void {
    this.deliverers.push(deliverer);
  }

  /** Within the caller's transaction. False where nobody could deliver it. */
  async send(manager: EntityManager, mail: SystemMail): Promise<boolean> {
    for (const deliver of this.deliverers) if (await deliver(manager, mail)) return true;
    return false;
  }
}
