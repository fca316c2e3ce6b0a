import type { NewFactorView, RecoveryCodesView } from '@lantern/contracts';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager, IsNull } from 'typeorm';
import type { Caller } from '../platform/auth/permit.js';
import { CONFIG, type Config } from '../platform/config.js';
import { AppError } from '../platform/errors/app-error.js';
import { seal, unseal } from '../platform/sealing.js';
import { AccountEntity, hasFactor } from './account.entity.js';
import { newFactor, newRecoveryCodes, recoveryHash, stepOf } from './second-factor.js';

const placeOf = (id: string): string => `account ${id} second factor`;

/** Second factors: set up, asked for, and done without by a recovery code. */
@Injectable()
export class FactorService {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  /** A secret that counts once its holder has shown a right code. Throws `act-refused` where one is in use. */
  async begin(caller: Caller): Promise<NewFactorView> {
    const { secret, uri } = newFactor(caller.email);
    const factorSecret = await seal(
      this.config.keys.installation,
      placeOf(caller.accountId),
      Buffer.from(secret),
    );
    const changed = await this.manager.update(
      AccountEntity,
      { id: caller.accountId, factorSince: IsNull() },
      { factorSecret, factorStep: null },
    );
    if (!changed.affected)
      throw new AppError('act-refused', 'A second factor is in use already. Remove it first.');
    return { secret, uri };
  }

  /** Turns it on with a first right code; the recovery codes are in the answer and nowhere else. */
  async confirm({ accountId }: Caller, code: string): Promise<RecoveryCodesView> {
    const account = await this.get(accountId);
    if (account.factorSince) throw new AppError('act-refused', 'The second factor is in use already.');
    const step = await this.step(account, code);
    if (step === null) throw wrongCode();
    const codes = newRecoveryCodes();
    const changed = await this.manager.update(
      AccountEntity,
      { id: accountId, factorSince: IsNull() },
      { factorSince: new Date(), factorStep: step, recoveryHashes: codes.map(recoveryHash) },
    );
    if (!changed.affected)
      throw new AppError('changed-meanwhile', 'The second factor was turned on elsewhere.');
    return { codes };
  }

  /** Takes it off with a right code. */
  async remove({ accountId }: Caller, code: string): Promise<void> {
    const account = await this.get(accountId);
    await this.demand(account, code);
    await this.clear(accountId, (account.passkeys ?? 0) > 0 ? account.recoveryHashes : null);
  }

  /** Forgets it. Recovery codes stay where passkeys are left that they are for as well. */
  async clear(accountId: string, recoveryHashes: string[] | null | undefined = null): Promise<void> {
    await this.manager.update(
      AccountEntity,
      { id: accountId },
      { factorSecret: null, factorSince: null, factorStep: null, recoveryHashes },
    );
  }

  /**
   * Uses up a code where the account asks for one. Throws `second-factor-needed` without a code and `wrong-code` for one
   * that is wrong, too old or was used.
   */
  async demand(account: AccountEntity, code: string | undefined): Promise<void> {
    if (!hasFactor(account)) return;
    if (code === undefined || code.trim() === '')
      throw new AppError(
        'second-factor-needed',
        account.factorSince
          ? 'Enter the code of your second factor.'
          : 'Sign in with your passkey, or enter a recovery code.',
        { details: { with: account.factorSince ? 'code' : 'passkey' } },
      );
    // A secret that was never confirmed counts for nothing.
    const step = account.factorSince ? await this.step(account, code.replace(/\s/g, '')) : null;
    const used = step === null ? await this.useRecovery(account, code) : await this.useStep(account, step);
    if (!used) throw wrongCode();
  }

  private async step({ id, factorSecret, factorStep }: AccountEntity, code: string): Promise<number | null> {
    if (!factorSecret) return null;
    const secret = (await unseal(this.config.keys.installation, placeOf(id), factorSecret)).toString();
    return stepOf(secret, code, factorStep ?? null);
  }

  /** Of two that bring the same code at once, one comes through. */
  private async useStep({ id }: AccountEntity, step: number): Promise<boolean> {
    const changed = await this.manager
      .createQueryBuilder()
      .update(AccountEntity)
      .set({ factorStep: step })
      .where('id = :id AND (factorStep IS NULL OR factorStep < :step)', { id, step })
      .execute();
    return (changed.affected ?? 0) > 0;
  }

  private async useRecovery({ id }: AccountEntity, code: string): Promise<boolean> {
    const hash = recoveryHash(code);
    return this.manager.transaction(async (manager) => {
      const account = await manager.findOne(AccountEntity, {
        where: { id },
        lock: { mode: 'pessimistic_write' },
      });
      const hashes = account?.recoveryHashes ?? [];
      if (!hashes.includes(hash)) return false;
      await manager.update(AccountEntity, { id }, { recoveryHashes: hashes.filter((each) => each !== hash) });
      return true;
    });
  }

  private get(id: string): Promise<AccountEntity> {
    return this.manager.findOneByOrFail(AccountEntity, { id });
  }
}

const wrongCode = (): AppError =>
  new AppError(
    'wrong-code',
    'This code is not right, was used or is too old. Wait for the next one and try again.',
  );
