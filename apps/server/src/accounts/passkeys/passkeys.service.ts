import { randomUUID } from 'node:crypto';
import {
  MOST_PASSKEYS,
  type PasskeyAddedView,
  type PasskeyAddRequest,
  type PasskeyAnswer,
  type PasskeyOptionsView,
  type PasskeysView,
} from '@lantern/contracts/passkeys';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { AppError } from '../../platform/errors/app-error.js';
import { AccountEntity } from '../account.entity.js';
import { FactorDemand } from '../factor-demand.service.js';
import { isPassword } from '../password.js';
import { newRecoveryCodes, recoveryHash } from '../second-factor.js';
import { hashOf, PasskeyCeremony } from '../../platform/passkeys/passkey-ceremony.service.js';
import { PasskeyEntity } from './passkey.entity.js';

const SIGN_IN = 'sign-in';
const adding = (accountId: string): string => `add ${accountId}`;

/** Passkeys (WebAuthn Level 3): a device that proves who is there, in the place of a password and a second factor. */
@Injectable()
export class Passkeys {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly ceremony: PasskeyCeremony,
    private readonly demand: FactorDemand,
  ) {}

  async list(accountId: string): Promise<PasskeysView> {
    const found = await this.manager.find(PasskeyEntity, {
      where: { accountId },
      order: { createdAt: 'ASC' },
    });
    return {
      address: this.ceremony.origin,
      passkeys: found.map(({ id, name, createdAt, lastUsed }) => ({
        ...{ id, name, createdAt: createdAt.toISOString() },
        lastUsed: lastUsed?.toISOString() ?? null,
      })),
    };
  }

  /** What the browser needs to make a passkey. Throws `wrong-credentials` for a wrong password. */
  async begin({ accountId }: Caller, password: string): Promise<PasskeyOptionsView> {
    const account = await this.manager.findOneByOrFail(AccountEntity, { id: accountId });
    if (!(await isPassword(account.passwordHash, password)))
      throw new AppError('wrong-credentials', 'The present password is not right. Nothing was changed.');
    const known = await this.manager.findBy(PasskeyEntity, { accountId });
    if (known.length >= MOST_PASSKEYS)
      throw new AppError('too-many', `An account has ${MOST_PASSKEYS} passkeys at most. Remove one first.`);
    return this.ceremony.toMake(
      adding(accountId),
      { id: accountId, address: account.email, name: account.name },
      known.map(({ credentialId }) => credentialId),
    );
  }

  /** Keeps a passkey that a device made. The first one comes with recovery codes where the account has none. */
  async add({ accountId }: Caller, { name, ...answer }: PasskeyAddRequest): Promise<PasskeyAddedView> {
    const { challenge, credentialId, publicKey, counter } = await this.ceremony.made(
      adding(accountId),
      answer,
    );
    const codes = await this.manager.transaction(async (manager) => {
      const account = await manager.findOneOrFail(AccountEntity, {
        where: { id: accountId },
        lock: { mode: 'pessimistic_write' },
      });
      await this.useUp(manager, challenge);
      if ((await manager.countBy(PasskeyEntity, { accountId })) >= MOST_PASSKEYS)
        throw new AppError('too-many', `An account has ${MOST_PASSKEYS} passkeys at most. Remove one first.`);
      if (await manager.existsBy(PasskeyEntity, { credentialHash: hashOf(credentialId) }))
        throw new AppError('key-used', 'This passkey is in use already.');
      await manager.insert(PasskeyEntity, {
        ...{ id: randomUUID(), accountId, credentialId, credentialHash: hashOf(credentialId) },
        ...{ publicKey, counter, name: name.trim(), createdAt: new Date() },
        lastUsed: null,
      });
      const fresh = (account.recoveryHashes ?? []).length > 0 ? [] : newRecoveryCodes();
      const passkeys = (account.passkeys ?? 0) + 1;
      const recoveryHashes = fresh.length > 0 ? fresh.map(recoveryHash) : account.recoveryHashes;
      await manager.update(AccountEntity, { id: accountId }, { passkeys, recoveryHashes });
      return fresh;
    });
    return { ...(await this.list(accountId)), codes };
  }

  /** Takes a passkey off. Refused where a role needs a second factor and none would be left. */
  async remove({ accountId }: Caller, id: string): Promise<PasskeysView> {
    await this.manager.transaction(async (manager) => {
      const account = await manager.findOneOrFail(AccountEntity, {
        where: { id: accountId },
        lock: { mode: 'pessimistic_write' },
      });
      const passkeys = (account.passkeys ?? 0) - 1;
      if (passkeys <= 0 && !account.factorSince && (await this.demand.concerns(account.roles)))
        throw new AppError('act-refused', 'Your role needs a second factor, and this is your last one.');
      const removed = await manager.delete(PasskeyEntity, { id, accountId });
      if (!removed.affected) throw new AppError('not-found', 'This passkey was removed already.');
      const isLast = passkeys <= 0 && !account.factorSince;
      const left = isLast ? { passkeys: 0, recoveryHashes: null } : { passkeys: Math.max(0, passkeys) };
      await manager.update(AccountEntity, { id: accountId }, left);
    });
    return this.list(accountId);
  }

  /** What the browser needs to sign in; it asks its devices, and nobody says who they are beforehand. */
  challenge(): Promise<PasskeyOptionsView> {
    return this.ceremony.toUse(SIGN_IN);
  }

  /**
   * The account that a device proved. Throws `wrong-credentials`, in the same words for a passkey that is not known and for
   * an answer that is not right.
   */
  async prove(answer: PasskeyAnswer): Promise<AccountEntity> {
    const passkey = await this.manager.findOneBy(PasskeyEntity, { credentialHash: hashOf(answer.id) });
    if (!passkey) throw notKnown();
    const used = await this.ceremony.used(SIGN_IN, answer, passkey);
    if (!used) throw notKnown();
    await this.manager.transaction(async (manager) => {
      await this.useUp(manager, used.challenge);
      await manager.update(
        PasskeyEntity,
        { id: passkey.id },
        { counter: used.counter, lastUsed: new Date() },
      );
    });
    const account = await this.manager.findOneBy(AccountEntity, { id: passkey.accountId });
    if (!account || account.disabledAt || account.invitedAt || account.kind === 'service') throw notKnown();
    return account;
  }

  /** Ends all of them: whoever lost their devices starts anew. */
  async clear(manager: EntityManager, accountId: string): Promise<void> {
    await manager.delete(PasskeyEntity, { accountId });
    await manager.update(AccountEntity, { id: accountId }, { passkeys: 0 });
  }

  private async useUp(manager: EntityManager, challenge: string): Promise<void> {
    if (!(await this.ceremony.useUp(manager, challenge))) throw notKnown();
  }
}

const notKnown = (): AppError =>
  new AppError('wrong-credentials', 'This passkey is not known here, or was not confirmed in time.');
