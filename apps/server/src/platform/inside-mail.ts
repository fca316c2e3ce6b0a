import { Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';

/** Who mails of the system are from. */
export const SYSTEM_SENDER = 'lantern@localhost';

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
 * Delivers mails of the system to people of the organisation: into the mailbox of whoever keeps one for them, or else
 * out through the relay.
 */
@Injectable()
export class InsideMail {
  private readonly deliverers: Deliverer[] = [];
  private otherwise: Deliverer | undefined;

  deliveredBy(deliverer: Deliverer): void {
    this.deliverers.push(deliverer);
  }

  /** Takes the mails that no mailbox takes. */
  otherwiseBy(deliverer: Deliverer): void {
    this.otherwise = deliverer;
  }

  /** Within the caller's transaction. False if nobody could deliver the mail. */
  async send(manager: EntityManager, mail: SystemMail): Promise<boolean> {
    for (const deliver of this.deliverers) if (await deliver(manager, mail)) return true;
    return (await this.otherwise?.(manager, mail)) ?? false;
  }
}
