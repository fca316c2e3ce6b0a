import { type FactorRolesView, type Role, ROLE_IDS } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
import { InstallationEntity } from '../platform/installation.entity.js';
import { OwnRoleEntity } from './access/access.entity.js';
import { AccountEntity, hasFactor } from './account.entity.js';

const NAME = 'factor-roles';
/** Asked for with every request: read from the database once in so long. */
const KEPT_MS = 1_000;

/** Which roles need a second factor. An account of such a role may do nothing but set one up until it has one. */
@Injectable()
export class FactorDemand {
  private kept: { readonly at: number; readonly roles: Promise<readonly Role[]> } | null = null;

  constructor(@InjectEntityManager() private readonly manager: EntityManager) {}

  /** Whether an account has to set up a second factor before it may do anything else. */
  async isDue(
    account: Pick<AccountEntity, 'roles' | 'factorSince' | 'passkeys' | 'signOnKey'>,
    ownRoles?: readonly OwnRoleEntity[],
  ): Promise<boolean> {
    // Whoever comes from the identity provider proved there who they are.
    if (hasFactor(account) || account.signOnKey != null) return false;
    return this.concerns(account.roles, ownRoles);
  }

  /** Whether accounts with these roles need one; `ownRoles` are the own ones among them, where somebody has read them. */
  async concerns(
    roles: readonly string[] | null | undefined,
    ownRoles?: readonly OwnRoleEntity[],
  ): Promise<boolean> {
    if (ownRoles) {
      const shipped: readonly string[] = await this.roles();
      return (
        ownRoles.some(({ needsFactor }) => needsFactor === true) ||
        (roles ?? []).some((role) => shipped.includes(role))
      );
    }
    const demanded = await this.demanded();
    return (roles ?? []).some((role) => demanded.has(role));
  }

  async view(): Promise<FactorRolesView> {
    const roles = await this.roles();
    const demanded = await this.demanded();
    const accounts = await this.manager.findBy(AccountEntity, {
      factorSince: IsNull(),
      passkeys: 0,
      signOnKey: IsNull(),
      kind: 'person',
      disabledAt: IsNull(),
    });
    const without = accounts.filter((account) => (account.roles ?? []).some((role) => demanded.has(role)));
    return { roles, without: without.length };
  }

  async set(roles: readonly Role[]): Promise<FactorRolesView> {
    const value = ROLE_IDS.filter((role) => roles.includes(role)).join(' ');
    await this.manager.save(InstallationEntity, { name: NAME, value, at: new Date() });
    this.kept = null;
    return this.view();
  }

  /** Roles that ship and own ones, which say so themselves. */
  private async demanded(): Promise<ReadonlySet<string>> {
    const own = await this.manager.find(OwnRoleEntity, {
      where: { needsFactor: true },
      select: { id: true },
    });
    return new Set<string>([...(await this.roles()), ...own.map(({ id }) => id)]);
  }

  private roles(): Promise<readonly Role[]> {
    const now = Date.now();
    if (!this.kept || now - this.kept.at > KEPT_MS || now < this.kept.at)
      this.kept = { at: now, roles: this.read() };
    return this.kept.roles;
  }

  private async read(): Promise<readonly Role[]> {
    const found = await this.manager.findOneBy(InstallationEntity, { name: NAME });
    const names = found?.value.split(' ') ?? [];
    return ROLE_IDS.filter((role) => names.includes(role));
  }
}
