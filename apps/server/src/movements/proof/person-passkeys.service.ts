import { randomUUID } from 'node:crypto';
import {
  MOST_PASSKEYS,
  type PasskeyAnswer,
  type PasskeyOptionsView,
  type PersonPasskeyView,
} from '@lantern/contracts/passkeys';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { AppError } from '../../platform/errors/app-error.js';
import { hashOf, PasskeyCeremony } from '../../platform/passkeys/passkey-ceremony.service.js';
import { PersonPasskeyEntity } from './proof.entity.js';

const adding = (address: string): string => `add for ${address}`;
/** A challenge is for one movement of one person: an answer to another one proves nothing. */
const proving = (address: string, submission: string): string => `prove ${address} ${submission}`;

/** Passkeys of people at work (WebAuthn Level 3): they prove who is there in the place of a code. */
@Injectable()
export class PersonPasskeys {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly ceremony: PasskeyCeremony,
  ) {}

  async list(address: string): Promise<PersonPasskeyView[]> {
    const found = await this.of(address);
    return found.map(({ id, createdAt }) => ({ id, createdAt: createdAt.toISOString() }));
  }

  async begin({
    address,
    name,
  }: {
    readonly address: string;
    readonly name: string;
  }): Promise<PasskeyOptionsView> {
    const known = await this.of(address);
    demandRoom(known.length);
    return this.ceremony.toMake(
      adding(address),
      { id: `person ${hashOf(address).slice(0, 32)}`, address, name },
      known.map(({ credentialId }) => credentialId),
    );
  }

  async add(address: string, answer: PasskeyAnswer): Promise<void> {
    const { challenge, ...made } = await this.ceremony.made(adding(address), answer);
    const credentialHash = hashOf(made.credentialId);
    await this.manager.transaction(async (manager) => {
      if (!(await this.ceremony.useUp(manager, challenge)))
        throw new AppError('act-refused', 'This answer of the device was used already. Try again.');
      demandRoom(await manager.countBy(PersonPasskeyEntity, { personAddress: address }));
      if (await manager.existsBy(PersonPasskeyEntity, { credentialHash }))
        throw new AppError('key-used', 'This passkey is in use already.');
      await manager.insert(PersonPasskeyEntity, {
        ...{ id: randomUUID(), personAddress: address, ...made, credentialHash, createdAt: new Date() },
      });
    });
  }

  async remove(address: string, id: string): Promise<void> {
    const gone = await this.manager.delete(PersonPasskeyEntity, { id, personAddress: address });
    if (!gone.affected) throw new AppError('not-found', 'This passkey was removed already.');
  }

  /** What the browser needs to prove who is there, for one movement. Throws `act-refused` where there is no passkey. */
  async toProve(address: string, submission: string): Promise<PasskeyOptionsView> {
    const known = await this.of(address);
    if (known.length === 0)
      throw new AppError('act-refused', 'This person has no passkey. Use a code, or add a passkey first.');
    return this.ceremony.toUse(
      proving(address, submission),
      known.map(({ credentialId }) => credentialId),
    );
  }

  /** Checks an answer within the caller's transaction; a right one is used up. */
  async check(
    manager: EntityManager,
    { address, submission }: { readonly address: string; readonly submission: string },
    answer: PasskeyAnswer,
  ): Promise<'right' | 'wrong'> {
    const passkey = await manager.findOneBy(PersonPasskeyEntity, {
      ...{ personAddress: address, credentialHash: hashOf(answer.id) },
    });
    const used = passkey && (await this.ceremony.used(proving(address, submission), answer, passkey));
    if (!used || !(await this.ceremony.useUp(manager, used.challenge))) return 'wrong';
    await manager.update(PersonPasskeyEntity, { id: passkey.id }, { counter: used.counter });
    return 'right';
  }

  private of(personAddress: string): Promise<PersonPasskeyEntity[]> {
    return this.manager.find(PersonPasskeyEntity, { where: { personAddress }, order: { createdAt: 'ASC' } });
  }
}

function demandRoom(count: number): void {
  if (count >= MOST_PASSKEYS)
    throw new AppError('too-many', `A person has ${MOST_PASSKEYS} passkeys at most. Remove one first.`);
}
