import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { generate, generateSecret } from 'otplib';
import { EntityManager } from 'typeorm';
import { stepOf } from '../../accounts/second-factor.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { seal, unseal } from '../../platform/sealing.js';
import { PersonFactorEntity } from './proof.entity.js';

/** Wrong codes of one person within an hour after which every code is refused: guessing six digits becomes hopeless. */
const MOST_WRONG = 12;
const WRONG_FOR_MS = 3_600_000;
/** A code lives for one step of thirty seconds (RFC 6238, 5.2). */
export const STEP_SECONDS = 30;

/** What became of a code. */
export type CodeResult = 'right' | 'wrong' | 'no-factor' | 'too-many';

/** Second factors of people in the directory: time-based codes (TOTP, RFC 6238). */
@Injectable()
export class PersonFactors {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** Checks a code within the caller's transaction. A right code is used up, a wrong one is counted. */
  async check(manager: EntityManager, address: string, code: string, now: Date): Promise<CodeResult> {
    const factor = await manager.findOne(PersonFactorEntity, {
      where: { personAddress: address },
      lock: { mode: 'pessimistic_write' },
    });
    if (!factor) return 'no-factor';
    const counts = factor.wrongSince !== null && now.getTime() - factor.wrongSince.getTime() < WRONG_FOR_MS;
    if (counts && factor.wrong >= MOST_WRONG) return 'too-many';
    const last = factor.lastStep === null ? null : Number(factor.lastStep);
    const step = await stepOf(await this.secretOf(factor), code, last);
    if (step === null) {
      await manager.update(
        PersonFactorEntity,
        { personAddress: address },
        { wrong: counts ? factor.wrong + 1 : 1, ...(counts ? {} : { wrongSince: now }) },
      );
      return 'wrong';
    }
    await manager.update(
      PersonFactorEntity,
      { personAddress: address },
      { lastStep: String(step), wrong: 0, wrongSince: null },
    );
    return 'right';
  }

  /** The secret of somebody, made where there is none yet. For the stand-in that holds it. */
  async secret(address: string): Promise<string> {
    const known = await this.manager.findOneBy(PersonFactorEntity, { personAddress: address });
    if (known) return this.secretOf(known);
    const made = generateSecret();
    const secret = await seal(this.config.keys.installation, `factor of ${address}`, Buffer.from(made));
    // Two windows may ask at once: the first one's counts.
    await this.manager
      .createQueryBuilder()
      .insert()
      .into(PersonFactorEntity)
      .values({ personAddress: address, secret, lastStep: null, wrong: 0, wrongSince: null })
      .orIgnore()
      .execute();
    return this.secretOf(await this.manager.findOneByOrFail(PersonFactorEntity, { personAddress: address }));
  }

  /** The code of now. */
  async codeNow(address: string): Promise<string> {
    return generate({ secret: await this.secret(address) });
  }

  private async secretOf({ personAddress, secret }: PersonFactorEntity): Promise<string> {
    return Buffer.from(
      await unseal(this.config.keys.installation, `factor of ${personAddress}`, secret),
    ).toString('utf8');
  }
}
