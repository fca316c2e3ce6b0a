import { createHash, randomUUID } from 'node:crypto';
import {
  MOST_PASSKEYS,
  type PasskeyAddedView,
  type PasskeyAddRequest,
  type PasskeyAnswer,
  type PasskeyOptionsView,
  type PasskeysView,
} from '@lantern/contracts/passkeys';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import {
  type AuthenticationResponseJSON,
  generateAuthenticationOptions,
  generateRegistrationOptions,
  type RegistrationResponseJSON,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from '@simplewebauthn/server';
import { EntityManager, LessThan } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { AccountEntity } from '../account.entity.js';
import { FactorDemand } from '../factor-demand.service.js';
import { isPassword } from '../password.js';
import { newRecoveryCodes, recoveryHash } from '../second-factor.js';
import { CHALLENGE_MS, challengeEnd, newChallenge } from './challenge.js';
import { PasskeyEntity, UsedChallengeEntity } from './passkey.entity.js';
import { hasName, type RelyingParty, relyingParty } from './relying-party.js';

const SIGN_IN = 'sign-in';
const adding = (accountId: string): string => `add ${accountId}`;

/** Passkeys (WebAuthn Level 3): a device that proves who is there, in the place of a password and a second factor. */
@Injectable()
export class Passkeys {
  private readonly party: RelyingParty;

  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly demand: FactorDemand,
  ) {
    this.party = relyingParty(config);
  }

  async list(accountId: string): Promise<PasskeysView> {
    const found = await this.manager.find(PasskeyEntity, {
      where: { accountId },
      order: { createdAt: 'ASC' },
    });
    return {
      address: this.party.origin,
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
    this.demandName();
    const known = await this.manager.findBy(PasskeyEntity, { accountId });
    if (known.length >= MOST_PASSKEYS)
      throw new AppError('too-many', `An account has ${MOST_PASSKEYS} passkeys at most. Remove one first.`);
    const options = await generateRegistrationOptions({
      ...{ rpName: 'Uncut Lantern', rpID: this.party.id, userName: account.email },
      ...{ userDisplayName: account.name, userID: Uint8Array.from(Buffer.from(accountId)) },
      challenge: newChallenge(this.config.keys.installation, adding(accountId), Date.now()),
      timeout: CHALLENGE_MS,
      attestationType: 'none',
      excludeCredentials: known.map(({ credentialId }) => ({ id: credentialId })),
      authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
    });
    return { options: { ...options } };
  }

  /** Keeps a passkey that a device made. The first one comes with recovery codes where the account has none. */
  async add({ accountId }: Caller, { name, ...answer }: PasskeyAddRequest): Promise<PasskeyAddedView> {
    const { registrationInfo, challenge } = await this.registration(adding(accountId), answer);
    const { id: credentialId, publicKey, counter } = registrationInfo.credential;
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
        ...{ publicKey: Buffer.from(publicKey), counter, name: name.trim(), createdAt: new Date() },
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
  async challenge(): Promise<PasskeyOptionsView> {
    this.demandName();
    const options = await generateAuthenticationOptions({
      rpID: this.party.id,
      challenge: newChallenge(this.config.keys.installation, SIGN_IN, Date.now()),
      timeout: CHALLENGE_MS,
      userVerification: 'required',
    });
    return { options: { ...options } };
  }

  /**
   * The account that a device proved. Throws `wrong-credentials`, in the same words for a passkey that is not known and for
   * an answer that is not right.
   */
  async prove(answer: PasskeyAnswer): Promise<AccountEntity> {
    const passkey = await this.manager.findOneBy(PasskeyEntity, { credentialHash: hashOf(answer.id) });
    if (!passkey) throw notKnown();
    const seen: { challenge?: string } = {};
    const verified = await verifyAuthenticationResponse({
      response: answer as unknown as AuthenticationResponseJSON,
      expectedChallenge: this.isOurs(SIGN_IN, seen),
      expectedOrigin: this.party.origin,
      expectedRPID: this.party.id,
      requireUserVerification: true,
      credential: {
        id: passkey.credentialId,
        publicKey: Uint8Array.from(passkey.publicKey),
        counter: Number(passkey.counter),
      },
    }).catch(() => null);
    if (!verified?.verified || seen.challenge === undefined) throw notKnown();
    const { challenge } = seen;
    await this.manager.transaction(async (manager) => {
      await this.useUp(manager, challenge);
      const { newCounter } = verified.authenticationInfo;
      await manager.update(PasskeyEntity, { id: passkey.id }, { counter: newCounter, lastUsed: new Date() });
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

  private async registration(purpose: string, answer: PasskeyAnswer) {
    const seen: { challenge?: string } = {};
    const verified = await verifyRegistrationResponse({
      response: answer as unknown as RegistrationResponseJSON,
      expectedChallenge: this.isOurs(purpose, seen),
      expectedOrigin: this.party.origin,
      expectedRPID: this.party.id,
      requireUserVerification: true,
    }).catch(() => null);
    if (!verified?.verified || seen.challenge === undefined)
      throw new AppError('act-refused', 'The device did not prove its passkey in time. Try again.');
    return { registrationInfo: verified.registrationInfo, challenge: seen.challenge };
  }

  /** Knows challenges of ours again, and notes the one that was answered. */
  private isOurs(purpose: string, seen: { challenge?: string }) {
    return (challenge: string): boolean => {
      seen.challenge = challenge;
      return challengeEnd(this.config.keys.installation, purpose, challenge, Date.now()) !== null;
    };
  }

  /** Of two that bring the same answer, one comes through. Notes of challenges that are over go. */
  private async useUp(manager: EntityManager, challenge: string): Promise<void> {
    const now = new Date();
    await manager.delete(UsedChallengeEntity, { expiresAt: LessThan(now) });
    const used = await manager
      .createQueryBuilder()
      .insert()
      .orIgnore()
      .into(UsedChallengeEntity)
      .values({ challengeHash: hashOf(challenge), expiresAt: new Date(now.getTime() + CHALLENGE_MS) })
      .execute();
    const { affectedRows } = used.raw as { readonly affectedRows?: number };
    if (affectedRows !== 1) throw notKnown();
  }

  private demandName(): void {
    if (!hasName(this.party))
      throw new AppError(
        'act-refused',
        'Passkeys need a name in the address of the workbench. Set LANTERN_ADDRESS to one.',
      );
  }
}

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex');

const notKnown = (): AppError =>
  new AppError('wrong-credentials', 'This passkey is not known here, or was not confirmed in time.');
