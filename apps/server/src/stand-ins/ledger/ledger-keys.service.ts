import { createHash, randomBytes, randomUUID } from 'node:crypto';
import type { LedgerKeyView, LedgerNewKey } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
import { PeopleService, type Player } from '../../directory/people.service.js';
import type { CallingProgram } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { LedgerKeyEntity } from './ledger.entity.js';

/** Keys of one person at most. */
const MOST_KEYS = 20;
const hashOf = (key: string): string => createHash('sha256').update(key).digest('hex');

/** Program keys for the ledger's interface. A program with a key acts as the person who created it. */
@Injectable()
export class LedgerKeys {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly people: PeopleService,
  ) {}

  async of(player: Player): Promise<LedgerKeyView[]> {
    const found = await this.manager.find(LedgerKeyEntity, {
      where: { person: player.address, endedAt: IsNull() },
      order: { madeAt: 'DESC' },
    });
    return found.map(({ id, name, madeAt }) => ({ id, name, madeAt: madeAt.toISOString() }));
  }

  async make(player: Player, name: string): Promise<LedgerNewKey> {
    if ((await this.of(player)).length >= MOST_KEYS)
      throw new AppError('too-many', `There are ${MOST_KEYS} keys already. End one first.`);
    const id = randomUUID();
    const key = `ledger_${randomBytes(24).toString('base64url')}`;
    await this.manager.insert(LedgerKeyEntity, {
      ...{ id, person: player.address, name, hash: hashOf(key), madeAt: new Date(), endedAt: null },
    });
    return { id, key };
  }

  async end(player: Player, id: string): Promise<void> {
    const changed = await this.manager.update(
      LedgerKeyEntity,
      { id, person: player.address, endedAt: IsNull() },
      { endedAt: new Date() },
    );
    if (!changed.affected) throw new AppError('not-found', 'This key ended already.');
  }

  /** The program behind an `authorization` header (RFC 6750). Throws `unknown-agent` for an unknown key. */
  async programOf(header: string | undefined): Promise<CallingProgram> {
    const key = /^Bearer (ledger_[\w-]{32})$/.exec(header ?? '')?.[1];
    const found =
      key && (await this.manager.findOneBy(LedgerKeyEntity, { hash: hashOf(key), endedAt: IsNull() }));
    if (!found)
      throw new AppError(
        'unknown-agent',
        'The key in the authorization header is missing, unknown or ended.',
      );
    const [person] = await this.people.findByAddresses([found.person]);
    if (!person) throw new AppError('unknown-agent', 'The person of this key is gone.');
    return { person: person.id };
  }
}
