import type { Permission } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { type EntityManager, Repository } from 'typeorm';
import { AccountEntity } from './account.entity.js';

/** Who holds which permission. */
@Injectable()
export class AccountsService {
  constructor(@InjectRepository(AccountEntity) private readonly accounts: Repository<AccountEntity>) {}

  /** Accounts that hold `permission`, by address. */
  async holding(permission: Permission): Promise<AccountEntity[]> {
    const all = await this.accounts.find({ order: { email: 'ASC' } });
    return all.filter(({ permissions }) => permissions.includes(permission));
  }

  /** Makes others who act under the same account wait until the caller's transaction ends. */
  async lock(manager: EntityManager, id: string): Promise<void> {
    await manager.findOne(AccountEntity, { where: { id }, lock: { mode: 'pessimistic_write' } });
  }
}
