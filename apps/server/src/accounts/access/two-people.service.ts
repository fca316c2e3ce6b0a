import { type TwoPeopleKind, TWO_PEOPLE_KINDS } from '@lantern/contracts/access';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, LessThan, MoreThan } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { InstallationEntity } from '../../platform/installation.entity.js';
import { AccountEntity } from '../account.entity.js';
import { ConsentEntity } from './access.entity.js';

const NAME = 'two-people';
/** Taking one of these acts off the list: one person could else do alone what takes two. */
const LOOSEN = 'loosen';
const HOUR_MS = 3_600_000;
/** So long the first person's word holds. Values are shown within half an hour, or asked for again. */
const HOLDS_MS: Readonly<Record<TwoPeopleKind | typeof LOOSEN, number>> = {
  loosen: 24 * HOUR_MS,
  publish: 24 * HOUR_MS,
  machines: 24 * HOUR_MS,
  override: 24 * HOUR_MS,
  'unmask-silent': HOUR_MS / 2,
};

const LOOSENED =
  'Your approval is kept for 24 hours. Nothing has changed yet. A second administrator must save the same setting.';

/** Whoever acts, as far as it matters who they are. */
export type Acting = Pick<Caller, 'accountId' | 'name' | 'email' | 'inPlaceOf' | 'isService'>;

/** What the first person did; what they agreed to is said by the subject. */
export interface Consent {
  readonly by: string;
  readonly at: Date;
}

/**
 * Acts that take two people: the first one's is noted, and the same act of a second one within a stated time is carried
 * out. Nobody is both, not in somebody else's place either.
 */
@Injectable()
export class TwoPeople {
  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  async kinds(): Promise<readonly TwoPeopleKind[]> {
    const found = await this.manager.findOneBy(InstallationEntity, { name: NAME });
    const names = found?.value.split(' ') ?? [];
    return TWO_PEOPLE_KINDS.filter((kind) => names.includes(kind));
  }

  /** Adding one takes one person; taking one off takes two. */
  async set(kinds: readonly TwoPeopleKind[], caller: Caller): Promise<readonly TwoPeopleKind[]> {
    const value = TWO_PEOPLE_KINDS.filter((kind) => kinds.includes(kind)).join(' ');
    if ((await this.kinds()).some((kind) => !kinds.includes(kind)))
      await this.through(LOOSEN, value || 'none', caller, LOOSENED);
    await this.manager.save(InstallationEntity, { name: NAME, value, at: new Date() });
    return this.kinds();
  }

  /**
   * Lets an act through that needs no second person, or is the second person's; answers who was first. Otherwise notes it
   * and throws `second-person-needed`. Not within a transaction: the note stays when the act does not go on.
   */
  async demand(kind: TwoPeopleKind, subject: string, caller: Acting, waits: string): Promise<Consent | null> {
    if (!(await this.kinds()).includes(kind)) return null;
    return this.through(kind, subject, caller, waits);
  }

  /** The same for an act that takes two people whatever the setting says. */
  demandAlways(kind: TwoPeopleKind, subject: string, caller: Acting, waits: string): Promise<Consent> {
    return this.through(kind, subject, caller, waits);
  }

  private async through(
    kind: TwoPeopleKind | typeof LOOSEN,
    subject: string,
    caller: Acting,
    waits: string,
  ): Promise<Consent> {
    if (caller.isService)
      throw new AppError('not-permitted', 'This needs two people. A service account does not count as one.');
    const first = await this.noted(kind, subject, caller);
    if (!first) throw new AppError('second-person-needed', waits);
    return first;
  }

  /**
   * Who agreed to something and waits for somebody else, by the id that its subject begins with, the first to agree of each.
   * `always` names those that take two people whatever the setting.
   */
  async waiting(
    kind: TwoPeopleKind,
    ids: readonly string[],
    always: readonly string[] = [],
  ): Promise<Map<string, Consent & { readonly subject: string }>> {
    const demanded = (await this.kinds()).includes(kind) ? ids : always;
    if (demanded.length === 0) return new Map();
    const found = await this.manager.find(ConsentEntity, {
      where: { kind, at: MoreThan(new Date(Date.now() - HOLDS_MS[kind])) },
      order: { at: 'DESC' },
    });
    const asked = new Set(demanded);
    return new Map(
      found.flatMap(({ subject, name, at }) => {
        const [id = ''] = subject.split(' ');
        return asked.has(id) ? [[id, { by: name, at, subject }] as const] : [];
      }),
    );
  }

  /** Notes that the caller agrees, and gives whoever else did. One after the other: of two at once, one is second. */
  private noted(
    kind: TwoPeopleKind | typeof LOOSEN,
    subject: string,
    caller: Acting,
  ): Promise<Consent | null> {
    const now = new Date();
    const { accountId, name } = caller;
    return this.manager.transaction(async (manager) => {
      await manager.findOne(InstallationEntity, {
        where: { name: NAME },
        lock: { mode: 'pessimistic_write' },
      });
      await manager.delete(ConsentEntity, { kind, at: LessThan(new Date(now.getTime() - HOLDS_MS[kind])) });
      const others = await manager.find(ConsentEntity, { where: { kind, subject }, order: { at: 'ASC' } });
      await manager.save(ConsentEntity, {
        kind,
        subject,
        accountId,
        name,
        inPlaceOf: caller.inPlaceOf ?? null,
        at: now,
      });
      const accounts = await manager.findBy(AccountEntity, {
        id: In(others.map((other) => other.accountId)),
      });
      const emails = new Map(accounts.map(({ id, email }) => [id, email]));
      const first = others.find((other) => !isSame(other, emails.get(other.accountId), caller));
      return first ? { by: first.name, at: first.at } : null;
    });
  }
}

/** Whether two acts are one person's: by account, or because one acts in the other's place, or both in the same one's. */
function isSame(other: ConsentEntity, email: string | undefined, caller: Acting): boolean {
  const inPlaceOf = caller.inPlaceOf ?? null;
  return (
    other.accountId === caller.accountId ||
    (inPlaceOf !== null && (inPlaceOf === email || inPlaceOf === other.inPlaceOf)) ||
    (other.inPlaceOf !== null && other.inPlaceOf === caller.email)
  );
}
