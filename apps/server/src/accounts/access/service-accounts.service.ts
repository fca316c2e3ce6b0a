import { randomBytes, randomUUID } from 'node:crypto';
import {
  MOST_KEY_DAYS,
  type NewServiceKeyView,
  type ServiceAccountRequest,
  type ServiceKeyRequest,
  type ServiceKeyView,
} from '@lantern/contracts/access';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { AccountEntity } from '../account.entity.js';
import { hashPassword } from '../password.js';
import { Access, KEY_BEGINS, keyHash } from './access.service.js';
import { ServiceKeyEntity } from './access.entity.js';

const DAY_MS = 86_400_000;
/** Characters of a key that are kept to know it again. */
const SHOWN = KEY_BEGINS.length + 4;
/** Valid keys of one service account: a new one is brought in before the old one is withdrawn. */
const MOST_VALID = 5;

/** Accounts of programs: with roles as people have them, and keys that expire in the place of a password. */
@Injectable()
export class ServiceAccounts {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly access: Access,
  ) {}

  /** A new account for a program; it can do nothing before it has a key. */
  async create({ name, roles }: ServiceAccountRequest): Promise<void> {
    const permissions = await this.access.permissionsOf(roles, false);
    demandForPrograms(permissions);
    const word = name
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9]+/gu, '-')
      .replace(/^-|-$/gu, '');
    const email = `${word || 'program'}@services.localhost`;
    if (await this.manager.existsBy(AccountEntity, { email }))
      throw new AppError('name-taken', `There is a service account called "${name.trim()}" already.`, {
        details: { name: name.trim() },
      });
    // A hash that no password has.
    const passwordHash = await hashPassword(randomBytes(32).toString('hex'));
    await this.manager.insert(AccountEntity, {
      ...{ id: randomUUID(), name: name.trim(), email, kind: 'service', passwordHash },
      ...{ permissions, roles },
    });
  }

  async keys(accountId?: string): Promise<ServiceKeyView[]> {
    const found = await this.manager.find(ServiceKeyEntity, {
      ...(accountId ? { where: { accountId } } : {}),
      order: { createdAt: 'DESC' },
    });
    const now = new Date();
    return found.map((key) => toView(key, now));
  }

  /** Makes a key; it is shown once. */
  async make(accountId: string, request: ServiceKeyRequest, caller: Caller): Promise<NewServiceKeyView> {
    const now = new Date();
    const expiresAt = new Date(request.expiresAt);
    if (!(expiresAt > now) || expiresAt.getTime() > now.getTime() + MOST_KEY_DAYS * DAY_MS)
      throw new AppError(
        'invalid-request',
        `The expiry date must be in the future, within ${MOST_KEY_DAYS} days.`,
      );
    const secret = `${KEY_BEGINS}${randomBytes(32).toString('base64url')}`;
    const key = await this.manager.transaction(async (manager) => {
      const account = await manager.findOne(AccountEntity, {
        where: { id: accountId, kind: 'service' },
        lock: { mode: 'pessimistic_write' },
      });
      if (!account) throw new AppError('not-found', 'There is no such service account.');
      const known = await manager.findBy(ServiceKeyEntity, { accountId, withdrawnAt: IsNull() });
      if (known.filter((one) => one.expiresAt > now).length >= MOST_VALID)
        throw new AppError('too-many', `An account has ${MOST_VALID} valid keys at most. Revoke one first.`);
      const made: ServiceKeyEntity = {
        ...{ id: randomUUID(), accountId, tokenHash: keyHash(secret), begins: secret.slice(0, SHOWN) },
        ...{ createdAt: now, createdBy: caller.email, expiresAt, lastUsed: null, withdrawnAt: null },
      };
      await manager.insert(ServiceKeyEntity, made);
      return made;
    });
    return { key: toView(key, now), secret };
  }

  /** Of effect at once: the next request with it is refused. */
  async withdraw(id: string): Promise<void> {
    const changed = await this.manager.update(
      ServiceKeyEntity,
      { id, withdrawnAt: IsNull() },
      { withdrawnAt: new Date() },
    );
    if (!changed.affected) throw new AppError('not-found', 'This key was already revoked.');
  }
}

/** A key lies in a file somewhere: it must not be able to make accounts. Throws `act-refused`. */
export function demandForPrograms(permissions: readonly string[]): void {
  if (permissions.includes('accounts.manage'))
    throw new AppError('act-refused', 'A service account cannot manage accounts. Choose other roles.');
}

function toView(key: ServiceKeyEntity, now: Date): ServiceKeyView {
  const { id, accountId, begins, createdBy, createdAt, expiresAt, lastUsed, withdrawnAt } = key;
  return {
    ...{ id, accountId, begins, createdBy },
    createdAt: createdAt.toISOString(),
    expiresAt: expiresAt.toISOString(),
    lastUsed: lastUsed?.toISOString() ?? null,
    state: withdrawnAt ? 'withdrawn' : expiresAt <= now ? 'expired' : 'valid',
  };
}
