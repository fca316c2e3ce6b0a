import { createHash } from 'node:crypto';
import { PERMISSIONS, type Permission, type Role, ROLES } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, In, LessThanOrEqual, MoreThan } from 'typeorm';
import { type Grant, holding, limitsOf } from '../../platform/auth/grants.js';
import type { Caller } from '../../platform/auth/permit.js';
import type { Sight } from '../../platform/auth/sight.js';
import { AppError } from '../../platform/errors/app-error.js';
import { AccountEntity, hasFactor } from '../account.entity.js';
import { FactorDemand } from '../factor-demand.service.js';
import { DeputyEntity, OwnRoleEntity, ServiceKeyEntity } from './access.entity.js';

/** Keys begin so: whoever finds one in a file knows what it is. */
export const KEY_BEGINS = 'lantern-key-';
/** Use of a key is written down so often at most. */
const SEEN_EVERY_MS = 60_000;
/** Never handed to a deputy: accounts, and silent rules, stay with those who were chosen for them by name. */
const NOT_LENT: readonly Permission[] = ['accounts.manage', 'policies.silent'];

/** What was read together with an account: the own roles that it holds, and absences in which it is the deputy. */
export interface ReadBeside {
  readonly ownRoles: readonly OwnRoleEntity[];
  readonly absences: readonly DeputyEntity[];
}

/** What an account may do: by its own roles, and in the place of whoever is absent. */
@Injectable()
export class Access {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly demand: FactorDemand,
  ) {}

  /** Grants of an account now. */
  async grantsOf(account: AccountEntity, now = new Date(), beside?: ReadBeside): Promise<Grant[]> {
    const roles = beside && byId(beside.ownRoles);
    const own = (await this.ownGrants([account], roles)).map((grant) => ({ ...grant, inPlaceOf: null }));
    const absences =
      beside?.absences ??
      (await this.manager.findBy(DeputyEntity, {
        deputyId: account.id,
        since: LessThanOrEqual(now),
        until: MoreThan(now),
      }));
    if (absences.length === 0) return own;
    const absent = await this.manager.findBy(AccountEntity, {
      id: In(absences.map(({ absentId }) => absentId)),
    });
    const lent = await this.ownGrants(await this.lendable(absent, account));
    return [
      ...own,
      ...lent.map((grant) => ({
        ...grant,
        permissions: grant.permissions.filter((permission) => !NOT_LENT.includes(permission)),
      })),
    ];
  }

  /** Absent accounts whose roles a deputy may use: not those that need a second factor where the deputy has none. */
  private async lendable(absent: readonly AccountEntity[], deputy: AccountEntity): Promise<AccountEntity[]> {
    const isProved = hasFactor(deputy) || deputy.signOnKey != null;
    const asked = await Promise.all(
      absent.map(async (account) => {
        const isLent = !account.disabledAt && (isProved || !(await this.demand.concerns(account.roles)));
        return isLent ? [account] : [];
      }),
    );
    return asked.flat();
  }

  /** Grants of one's own roles. `inPlaceOf` names the account. */
  private async ownGrants(
    accounts: readonly AccountEntity[],
    known?: ReadonlyMap<string, OwnRoleEntity>,
  ): Promise<Grant[]> {
    const roles = known ?? (await this.ownRoles(accounts.flatMap((account) => account.roles ?? [])));
    return accounts.flatMap((account) => {
      const { email, permissions } = account;
      const silent: Permission[] = permissions.includes('policies.silent') ? ['policies.silent'] : [];
      const held = account.roles ?? [];
      // Accounts from before there were roles hold what was granted to them.
      if (held.length === 0) return [{ permissions, limits: null, inPlaceOf: email }];
      return held.flatMap((id): Grant[] => {
        const own = roles.get(id);
        const allowed = own?.permissions ?? (isShipped(id) ? ROLES[id] : null);
        if (!allowed) return [];
        const limits = own?.limits ? { ...own.limits, holder: email } : null;
        return [{ permissions: [...allowed, ...silent], limits, inPlaceOf: email }];
      });
    });
  }

  /** What an account that is not asking just now may see with one of its permissions. */
  async sightOf(account: AccountEntity, permission: Permission): Promise<Sight> {
    const grants = await this.grantsOf(account);
    const limits = limitsOf(holding(grants, permission));
    return { silent: account.permissions.includes('policies.silent'), limits };
  }

  /** What roles allow together, in the order of all permissions. */
  async permissionsOf(
    roles: readonly string[],
    seesSilent: boolean,
    manager: EntityManager = this.manager,
  ): Promise<Permission[]> {
    const own = await this.ownRoles(roles, manager);
    const unknown = roles.filter((id) => !isShipped(id) && !own.has(id));
    if (unknown.length > 0)
      throw new AppError('invalid-request', 'One of these roles does not exist. Nothing was changed.');
    const allowed = new Set<Permission>(
      roles.flatMap((id) => own.get(id)?.permissions ?? (isShipped(id) ? [...ROLES[id]] : [])),
    );
    if (seesSilent) allowed.add('policies.silent');
    return PERMISSIONS.filter((permission) => allowed.has(permission));
  }

  /** The program behind a key. Throws `not-signed-in` for one that is unknown, too old or withdrawn. */
  async service(key: string): Promise<Caller> {
    const now = new Date();
    const found = await this.manager.findOneBy(ServiceKeyEntity, { tokenHash: keyHash(key) });
    const account = found && (await this.manager.findOneBy(AccountEntity, { id: found.accountId }));
    if (!account || account.disabledAt || found.withdrawnAt || found.expiresAt <= now)
      throw new AppError('not-signed-in', 'This key is unknown, has expired or was revoked.');
    if (!found.lastUsed || now.getTime() - found.lastUsed.getTime() > SEEN_EVERY_MS)
      await this.manager.update(ServiceKeyEntity, { id: found.id }, { lastUsed: now });
    return { ...(await this.signedIn(account, now)), sessionId: '', csrfToken: '', isService: true };
  }

  /** An account as routes know it, before one is chosen. */
  async signedIn(
    account: AccountEntity,
    now = new Date(),
    beside?: ReadBeside,
  ): Promise<Omit<Caller, 'sessionId' | 'csrfToken'>> {
    const grants = await this.grantsOf(account, now, beside);
    const allowed = new Set(grants.flatMap(({ permissions }) => permissions));
    return {
      accountId: account.id,
      name: account.name,
      email: account.email,
      permissions: PERMISSIONS.filter((permission) => allowed.has(permission)),
      secondFactor: hasFactor(account),
      codes: account.factorSince != null,
      limits: [],
      grants,
    };
  }

  private async ownRoles(
    ids: readonly string[],
    manager: EntityManager = this.manager,
  ): Promise<Map<string, OwnRoleEntity>> {
    const own = [...new Set(ids)].filter((id) => !isShipped(id));
    if (own.length === 0) return new Map();
    return byId(await manager.findBy(OwnRoleEntity, { id: In(own) }));
  }
}

const byId = (roles: readonly OwnRoleEntity[]): Map<string, OwnRoleEntity> =>
  new Map(roles.map((role) => [role.id, role]));

export const isShipped = (id: string): id is Role => Object.hasOwn(ROLES, id);

/** A key as it is kept. */
export const keyHash = (key: string): string => createHash('sha256').update(key).digest('hex');
