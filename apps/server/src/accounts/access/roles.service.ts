import { randomUUID } from 'node:crypto';
import {
  type LimitChoicesView,
  MOST_OWN_ROLES,
  NARROWED_PERMISSIONS,
  type OwnRoleView,
  type RoleLimits,
  type RoleRequest,
  UNTOUCHED_PERMISSIONS,
} from '@lantern/contracts/access';
import { type Permission, PERMISSIONS } from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { AccountEntity } from '../account.entity.js';
import { demandAdministrator } from '../administrators.js';
import { SignOnEntity } from '../sign-on/sign-on.entity.js';
import { SessionService } from '../session.service.js';
import { Access } from './access.service.js';
import { OwnRoleEntity } from './access.entity.js';

/** Roles of the organisation's own: sets of permissions, with or without limits. */
@Injectable()
export class OwnRoles {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly access: Access,
    private readonly sessions: SessionService,
  ) {}

  async list(): Promise<OwnRoleView[]> {
    const [roles, accounts] = await Promise.all([
      this.manager.find(OwnRoleEntity, { order: { name: 'ASC' } }),
      this.manager.find(AccountEntity, { order: { name: 'ASC' } }),
    ]);
    return roles.map(({ id, name, description, permissions, limits, needsFactor, changedAt, changedBy }) => ({
      ...{ id, name, description, permissions, limits, changedBy },
      needsFactor: needsFactor ?? false,
      holders: holdersOf(id, accounts).map((account) => account.name),
      changedAt: changedAt.toISOString(),
    }));
  }

  /** Departments that people or incidents have, for whoever writes limits. Policies come from the revision. */
  async departments(): Promise<LimitChoicesView['departments']> {
    const rows = await this.manager.query<{ department: string }[]>(
      `SELECT department FROM person WHERE department <> ''
       UNION SELECT department FROM movement WHERE department <> '' ORDER BY department`,
    );
    return rows.map(({ department }) => department);
  }

  async create(request: RoleRequest, caller: Caller): Promise<OwnRoleView[]> {
    const role = this.read(request, caller);
    await this.manager.transaction(async (manager) => {
      await this.demandFree(manager, role.name, null);
      if ((await manager.count(OwnRoleEntity)) >= MOST_OWN_ROLES)
        throw new AppError('too-many', `There can be ${MOST_OWN_ROLES} roles of your own at most.`);
      await manager.insert(OwnRoleEntity, { id: randomUUID(), ...role });
    });
    return this.list();
  }

  /** Holds from the next sign-in of each holder on: their sessions end. */
  async change(id: string, request: RoleRequest, caller: Caller): Promise<OwnRoleView[]> {
    const role = this.read(request, caller);
    const holders = await this.manager.transaction(async (manager) => {
      // Under a lock on all accounts: two changes must not take the last administrator together.
      const accounts = await manager.find(AccountEntity, { lock: { mode: 'pessimistic_write' } });
      if (!(await manager.existsBy(OwnRoleEntity, { id }))) throw gone();
      await this.demandFree(manager, role.name, id);
      await manager.update(OwnRoleEntity, { id }, role);
      const held = holdersOf(id, accounts);
      for (const account of held) {
        const { roles, permissions } = account;
        const silent = permissions.includes('policies.silent');
        const next = await this.access.permissionsOf(roles ?? [], silent, manager);
        await manager.update(AccountEntity, { id: account.id }, { permissions: next });
        account.permissions = next;
      }
      demandAdministrator(accounts);
      return held;
    });
    for (const holder of holders)
      await this.sessions.end(holder.id, holder.id === caller.accountId ? { but: caller.sessionId } : {});
    return this.list();
  }

  /** Refused while somebody holds it, or a group of the identity provider gives it: a role does not vanish from under its holders. */
  async remove(id: string): Promise<OwnRoleView[]> {
    await this.manager.transaction(async (manager) => {
      const accounts = await manager.find(AccountEntity, { lock: { mode: 'pessimistic_write' } });
      const held = holdersOf(id, accounts);
      if (held.length > 0)
        throw new AppError(
          'in-use',
          `${held.map(({ name }) => name).join(', ')} ${held.length === 1 ? 'has' : 'have'} this role. Give them another one first.`,
        );
      const [setting] = await manager.find(SignOnEntity, { take: 1 });
      const group = setting?.groupRoles.find(({ roles }) => roles.includes(id));
      if (group)
        throw new AppError(
          'in-use',
          `Members of "${group.group}" get this role by single sign-on. Give the group another one first.`,
        );
      const removed = await manager.delete(OwnRoleEntity, { id });
      if (!removed.affected) throw gone();
    });
    return this.list();
  }

  private read(request: RoleRequest, caller: Caller): Omit<OwnRoleEntity, 'id'> {
    const { name, description, needsFactor } = request;
    const permissions = PERMISSIONS.filter(
      (permission) => permission !== 'policies.silent' && request.permissions.includes(permission),
    );
    if (permissions.length === 0)
      throw new AppError('invalid-request', 'Choose at least one permission. Nothing was saved.');
    const limits = request.limits && isLimited(request.limits) ? request.limits : null;
    const wide = limits ? permissions.filter((permission) => !canBeLimited(permission)) : [];
    if (wide.length > 0)
      throw new AppError(
        'invalid-request',
        `These permissions cannot be limited: ${wide.join(', ')}. Move them to a role without limits.`,
        { details: { permissions: wide.join(', ') } },
      );
    const changed = { changedAt: new Date(), changedBy: caller.email };
    return {
      name: name.trim(),
      description: description.trim(),
      permissions,
      limits,
      needsFactor,
      ...changed,
    };
  }

  private async demandFree(manager: EntityManager, name: string, id: string | null): Promise<void> {
    const same = await manager.findOneBy(OwnRoleEntity, { name });
    if (same && same.id !== id)
      throw new AppError('name-taken', `There is a role called "${name}" already.`, { details: { name } });
  }
}

const holdersOf = (id: string, accounts: readonly AccountEntity[]): AccountEntity[] =>
  accounts.filter(({ roles }) => roles?.includes(id));

const isLimited = ({
  departments,
  policies,
  channels,
  severities,
  ownTeam,
  hidesNames,
}: RoleLimits): boolean =>
  ownTeam ||
  hidesNames === true ||
  [departments, policies, channels, severities].some((list) => list.length > 0);

const canBeLimited = (permission: Permission): boolean =>
  [...NARROWED_PERMISSIONS, ...UNTOUCHED_PERMISSIONS].some((each) => each === permission);

const gone = (): AppError => new AppError('not-found', 'This role no longer exists.');
