import { Inject, Injectable } from '@nestjs/common';
import type { EntityManager } from 'typeorm';
import { Access } from '../accounts/access/access.service.js';
import { AccountsService } from '../accounts/accounts.service.js';
import type { Caller } from '../platform/auth/permit.js';
import { CONFIG, type Config } from '../platform/config.js';
import { InsideMail } from '../platform/inside-mail.js';
import { visibleAmong } from './visible.js';

const MENTION = /@([^\s@,;:()<>]+@[^\s@,;:()<>]+[^\s@,;:()<>.!?])/gu;
/** Colleagues that one note can name. */
const MOST_NAMED = 10;

/** Addresses that a note names after an at sign, in small letters, each once. */
export function namedIn(text: string): string[] {
  const addresses = [...text.matchAll(MENTION)].map(([, address = '']) => address.toLowerCase());
  return [...new Set(addresses)].slice(0, MOST_NAMED);
}

/** Tells colleagues that a note names them. The mail holds the note, which an analyst wrote, and no evidence. */
@Injectable()
export class Mentions {
  constructor(
    private readonly accounts: AccountsService,
    private readonly access: Access,
    @Inject(CONFIG) private readonly config: Config,
    private readonly inside: InsideMail,
  ) {}

  /** Within the transaction that keeps the note. Only accounts that may see the incident are told. */
  async tell(
    manager: EntityManager,
    number: number,
    { text, caller }: { readonly text: string; readonly caller: Caller },
  ): Promise<void> {
    const named = namedIn(text);
    if (named.length === 0) return;
    for (const account of await this.accounts.holding('incidents.read')) {
      const { email } = account;
      if (!named.includes(email.toLowerCase())) continue;
      const sight = await this.access.sightOf(account, 'incidents.read');
      if (!(await visibleAmong(manager, [number], sight)).has(number)) continue;
      await this.inside.send(manager, {
        at: new Date(),
        from: 'incidents@localhost',
        to: email,
        subject: `${caller.name} mentions you at incident ${number}`,
        text: `${caller.name} wrote:\n\n${text}\n\n${this.config.address}/incidents/${number}`,
      });
    }
  }
}
