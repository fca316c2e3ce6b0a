import { createHash } from 'node:crypto';
import type { PasskeyAnswer, PasskeyOptionsView } from '@lantern/contracts/passkeys';
import { Inject, Injectable } from '@nestjs/common';
import {
  type AuthenticationResponseJSON,
  generateAuthenticationOptions,
  generateRegistrationOptions,
  type RegistrationResponseJSON,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from '@simplewebauthn/server';
import { type EntityManager, LessThan } from 'typeorm';
import { CONFIG, type Config } from '../config.js';
import { AppError } from '../errors/app-error.js';
import { CHALLENGE_MS, challengeEnd, newChallenge } from './challenge.js';
import { hasName, type RelyingParty, relyingParty } from './relying-party.js';
import { UsedChallengeEntity } from './used-challenge.entity.js';

/** A passkey as a device made it. */
export interface MadePasskey {
  readonly credentialId: string;
  /** COSE key (RFC 9052). */
  readonly publicKey: Buffer;
  readonly counter: number;
  /** The challenge that was answered, to be used up. */
  readonly challenge: string;
}

/** A passkey that is known, as far as its answer is checked. */
export interface KnownPasskey {
  readonly credentialId: string;
  readonly publicKey: Buffer;
  readonly counter: number | string;
}

/** Both ceremonies of WebAuthn Level 3, each challenge for one purpose and answered once. */
@Injectable()
export class PasskeyCeremony {
  private readonly party: RelyingParty;

  constructor(@Inject(CONFIG) private readonly config: Config) {
    this.party = relyingParty(config);
  }

  /** Address under which browsers bind passkeys to this workbench. */
  get origin(): string {
    return this.party.origin;
  }

  /** What the browser needs to make a passkey. */
  async toMake(
    purpose: string,
    holder: { readonly id: string; readonly address: string; readonly name: string },
    known: readonly string[],
  ): Promise<PasskeyOptionsView> {
    this.demandName();
    const options = await generateRegistrationOptions({
      ...{ rpName: 'Uncut Lantern', rpID: this.party.id, userName: holder.address },
      ...{ userDisplayName: holder.name, userID: Uint8Array.from(Buffer.from(holder.id)) },
      challenge: this.challenge(purpose),
      timeout: CHALLENGE_MS,
      attestationType: 'none',
      excludeCredentials: known.map((id) => ({ id })),
      authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
    });
    return { options: { ...options } };
  }

  /** The passkey that a device made. Throws `act-refused` for an answer that is not right, or late. */
  async made(purpose: string, answer: PasskeyAnswer): Promise<MadePasskey> {
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
    const { id, publicKey, counter } = verified.registrationInfo.credential;
    return { credentialId: id, publicKey: Buffer.from(publicKey), counter, challenge: seen.challenge };
  }

  /** What the browser needs to use a passkey: one of `allowed`, or any where nothing is named. */
  async toUse(purpose: string, allowed: readonly string[] = []): Promise<PasskeyOptionsView> {
    this.demandName();
    const options = await generateAuthenticationOptions({
      rpID: this.party.id,
      challenge: this.challenge(purpose),
      timeout: CHALLENGE_MS,
      userVerification: 'required',
      ...(allowed.length > 0 ? { allowCredentials: allowed.map((id) => ({ id })) } : {}),
    });
    return { options: { ...options } };
  }

  /** The device's count and the challenge to be used up; null for an answer that is not right, or late. */
  async used(
    purpose: string,
    answer: PasskeyAnswer,
    { credentialId, publicKey, counter }: KnownPasskey,
  ): Promise<{ readonly counter: number; readonly challenge: string } | null> {
    const seen: { challenge?: string } = {};
    const verified = await verifyAuthenticationResponse({
      response: answer as unknown as AuthenticationResponseJSON,
      expectedChallenge: this.isOurs(purpose, seen),
      expectedOrigin: this.party.origin,
      expectedRPID: this.party.id,
      requireUserVerification: true,
      credential: { id: credentialId, publicKey: Uint8Array.from(publicKey), counter: Number(counter) },
    }).catch(() => null);
    if (!verified?.verified || seen.challenge === undefined) return null;
    return { counter: verified.authenticationInfo.newCounter, challenge: seen.challenge };
  }

  /** Of two that bring the same answer, one comes through. Notes of challenges that are over go. */
  async useUp(manager: EntityManager, challenge: string): Promise<boolean> {
    const now = new Date();
    await manager.delete(UsedChallengeEntity, { expiresAt: LessThan(now) });
    const used = await manager
      .createQueryBuilder()
      .insert()
      .orIgnore()
      .into(UsedChallengeEntity)
      .values({ challengeHash: hashOf(challenge), expiresAt: new Date(now.getTime() + CHALLENGE_MS) })
      .execute();
    return (used.raw as { readonly affectedRows?: number }).affectedRows === 1;
  }

  private challenge(purpose: string): Uint8Array<ArrayBuffer> {
    return newChallenge(this.config.keys.installation, purpose, Date.now());
  }

  /** Knows challenges of ours again, and notes the one that was answered. */
  private isOurs(purpose: string, seen: { challenge?: string }) {
    return (challenge: string): boolean => {
      seen.challenge = challenge;
      return challengeEnd(this.config.keys.installation, purpose, challenge, Date.now()) !== null;
    };
  }

  private demandName(): void {
    if (!hasName(this.party))
      throw new AppError(
        'act-refused',
        'Passkeys need a name in the address of the workbench. Set LANTERN_ADDRESS to one.',
      );
  }
}

/** SHA-256, by which credentials are found: their ids can be longer than what an index takes. */
export const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex');
