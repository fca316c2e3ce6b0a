import { randomBytes, randomUUID } from 'node:crypto';
import {
  type AccountRequest,
  type AccountView,
  type InvitationView,
  type InviteRequest,
  type Permission,
  type WelcomeView,
} from '@lantern/contracts';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, MoreThan } from 'typeorm';
import type { Caller } from '../platform/auth/permit.js';
import { Trail } from '../platform/trail/trail.service.js';
import { AppError } from '../platform/errors/app-error.js';
import { AccountEntity, hasFactor, InvitationEntity, SessionEntity } from './account.entity.js';
import { Access } from './access/access.service.js';
import { demandForPrograms } from './access/service-accounts.service.js';
import { demandAdministrator } from './administrators.js';
import { FactorService } from './factor.service.js';
import { Passkeys } from './passkeys/passkeys.service.js';
import { demandStrong, hashPassword, isPassword } from './password.js';
import { SessionService, stillOpen, tokenHash } from './session.service.js';

/** A link lives for a day. */
const LINK_HOURS = 24;
/** A hash that no password has. */
const NO_PASSWORD = () => hashPassword(randomBytes(32).toString('hex'));

/** Accounts: who holds which roles and permissions, invited, changed and disabled. */
@Injectable()
export class AccountsService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly sessions: SessionService,
    private readonly factors: FactorService,
    private readonly access: Access,
    private readonly passkeys: Passkeys,
    private readonly trail: Trail,
  ) {}

  /** People's accounts that hold `permission` and are not disabled, by address. */
  async holding(permission: Permission): Promise<AccountEntity[]> {
    const all = await this.manager.find(AccountEntity, {
      where: { kind: 'person' },
      order: { email: 'ASC' },
    });
    return all.filter(({ permissions, disabledAt }) => !disabledAt && permissions.includes(permission));
  }

  /** Makes others who act under the same account wait until the caller's transaction ends. */
  async lock(manager: EntityManager, id: string): Promise<void> {
    await manager.findOne(AccountEntity, { where: { id }, lock: { mode: 'pessimistic_write' } });
  }

  /** Roles of an account; none for one from before there were roles. */
  async rolesOf(id: string): Promise<readonly string[]> {
    const account = await this.manager.findOneBy(AccountEntity, { id });
    return account?.roles ?? [];
  }

  async list(): Promise<AccountView[]> {
    const [accounts, sessions] = await Promise.all([
      this.manager.find(AccountEntity, { order: { name: 'ASC' } }),
      this.manager.findBy(SessionEntity, stillOpen(new Date())),
    ]);
    return accounts.map((account) =>
      toView(account, sessions.filter(({ accountId }) => accountId === account.id).length),
    );
  }

  /** A new account without a password, and the link with which its holder chooses one. Throws `name-taken`. */
  async invite({ name, email, roles }: InviteRequest, caller: Caller): Promise<InvitationView> {
    const address = email.trim().toLowerCase();
    if (await this.manager.existsBy(AccountEntity, { email: address }))
      throw new AppError('name-taken', `There is an account of ${address} already.`, {
        details: { name: address },
      });
    const id = randomUUID();
    await this.manager.insert(AccountEntity, {
      id,
      name: name.trim(),
      email: address,
      passwordHash: await NO_PASSWORD(),
      permissions: await this.access.permissionsOf(roles, false),
      roles,
      invitedAt: new Date(),
    });
    return this.link(id, caller);
  }

  /**
   * A new link for an account whose password or second factor is lost: both end, all passkeys and sessions, and what binds
   * it to the identity provider.
   */
  async reset(id: string, caller: Caller): Promise<InvitationView> {
    const account = await this.get(id);
    if (account.kind === 'service')
      throw new AppError('act-refused', 'A service account has no password. Create a new key for it.');
    if (account.disabledAt) throw new AppError('act-refused', 'This account is disabled. Enable it first.');
    if (id === caller.accountId)
      throw new AppError('act-refused', 'Change your own password on the page of your account.');
    await this.manager.update(
      AccountEntity,
      { id },
      { passwordHash: await NO_PASSWORD(), invitedAt: new Date(), signOnKey: null },
    );
    await this.manager.transaction(async (manager) => {
      await this.passkeys.clear(manager, id);
      await this.factors.clear(id);
    });
    await this.sessions.end(id, {});
    return this.link(id, caller);
  }

  /**
   * Roles, sight of silent rules, enabled or not. Whatever changes, its sessions end: what was allowed when they began
   * is over. Throws `last-administrator` where nobody would be left to manage accounts.
   */
  async change(
    id: string,
    { roles, seesSilent, disabled }: AccountRequest,
    caller: Caller,
  ): Promise<AccountView> {
    const account = await this.manager.transaction(async (manager) => {
      // All administrators are looked at under a lock: two must not remove each other at the same time.
      const all = await manager.find(AccountEntity, { lock: { mode: 'pessimistic_write' } });
      const found = all.find((each) => each.id === id);
      if (!found) throw new AppError('not-found', 'There is no such account.');
      const permissions = await this.access.permissionsOf(roles, seesSilent, manager);
      if (found.kind === 'service') demandForPrograms(permissions);
      if (disabled && id === caller.accountId)
        throw new AppError('act-refused', 'You cannot disable your own account. Another administrator can.');
      const disabledAt = disabled ? (found.disabledAt ?? new Date()) : null;
      const changed = { roles, seesSilent, permissions, disabledAt };
      demandAdministrator(all.map((each) => (each.id === id ? { ...each, ...changed } : each)));
      await manager.update(AccountEntity, { id }, changed);
      return { ...found, ...changed };
    });
    await this.sessions.end(id, id === caller.accountId ? { but: caller.sessionId } : {});
    return toView(account, (await this.sessions.list(id)).length);
  }

  /** For whom a link is. Throws `link-over` for one that was used, is too old or never was. */
  async welcome(token: string): Promise<WelcomeView> {
    const { invitation, account } = await this.invited(token);
    return { name: account.name, email: account.email, expiresAt: invitation.expiresAt.toISOString() };
  }

  /** Sets the password that the holder of a link chose; the link is used up. */
  async accept(token: string, password: string): Promise<AccountEntity> {
    const { account } = await this.invited(token);
    demandStrong(password, account);
    const passwordHash = await hashPassword(password);
    await this.manager.transaction(async (manager) => {
      const used = await manager.delete(InvitationEntity, { tokenHash: tokenHash(token) });
      if (!used.affected) throw linkOver();
      await manager.delete(InvitationEntity, { accountId: account.id });
      await manager.update(AccountEntity, { id: account.id }, { passwordHash, invitedAt: null });
      await this.trail.add({ actor: account.email, action: 'password-chosen' });
    });
    return this.get(account.id);
  }

  /** The holder's own change; every other session of the account ends. */
  async changePassword(caller: Caller, current: string, next: string): Promise<void> {
    const account = await this.get(caller.accountId);
    if (!(await isPassword(account.passwordHash, current)))
      throw new AppError('wrong-credentials', 'The present password is not right. Nothing was changed.');
    demandStrong(next, account);
    const passwordHash = await hashPassword(next);
    await this.manager.transaction(async (manager) => {
      await manager.update(AccountEntity, { id: account.id }, { passwordHash });
      await this.sessions.end(account.id, { but: caller.sessionId });
    });
  }

  private async link(accountId: string, caller: Caller): Promise<InvitationView> {
    const token = randomBytes(32).toString('base64url');
    const expiresAt = new Date(Date.now() + LINK_HOURS * 3_600_000);
    await this.manager.transaction(async (manager) => {
      await manager.delete(InvitationEntity, { accountId });
      await manager.insert(InvitationEntity, {
        tokenHash: tokenHash(token),
        accountId,
        expiresAt,
        createdBy: caller.email,
      });
    });
    return {
      account: toView(await this.get(accountId), 0),
      path: `/welcome/${token}`,
      expiresAt: expiresAt.toISOString(),
    };
  }

  private async invited(token: string): Promise<{ invitation: InvitationEntity; account: AccountEntity }> {
    const invitation = await this.manager.findOneBy(InvitationEntity, {
      tokenHash: tokenHash(token),
      expiresAt: MoreThan(new Date()),
    });
    const account = invitation && (await this.manager.findOneBy(AccountEntity, { id: invitation.accountId }));
    if (!account || account.disabledAt) throw linkOver();
    return { invitation, account };
  }

  private async get(id: string): Promise<AccountEntity> {
    const account = await this.manager.findOneBy(AccountEntity, { id });
    if (!account) throw new AppError('not-found', 'There is no such account.');
    return account;
  }
}

const linkOver = (): AppError =>
  new AppError('link-over', 'This link was used or is older than a day. Ask an administrator for a new one.');

function toView(account: AccountEntity, sessions: number): AccountView {
  const { id, name, email, permissions, disabledAt, invitedAt, lastSignIn } = account;
  return {
    id,
    name,
    email,
    kind: account.kind ?? 'person',
    roles: account.roles ?? [],
    permissions,
    seesSilent: account.seesSilent ?? permissions.includes('policies.silent'),
    state: disabledAt ? 'disabled' : invitedAt ? 'invited' : 'active',
    lastSignIn: lastSignIn?.toISOString() ?? null,
    secondFactor: hasFactor(account),
    signOn: account.signOnKey != null,
    sessions,
  };
}
