import type { SignOnOffer, SignOnRequest, SignOnView } from '@lantern/contracts/sign-on';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { AccountEntity } from '../account.entity.js';
import { Access } from '../access/access.service.js';
import { SignOnEntity } from './sign-on.entity.js';

const ID = 1;
const PLACE = 'single sign-on client secret';

/** How single sign-on is set up, and for whom passwords are left. */
@Injectable()
export class SignOnSetting {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly access: Access,
  ) {}

  /** Where people come back to from the provider. */
  get redirectUri(): string {
    return `${this.config.address}/api/session/sign-on/answer`;
  }

  /** The setting in force; null where single sign-on is off. */
  async inForce(): Promise<SignOnEntity | null> {
    const found = await this.manager.findOneBy(SignOnEntity, { id: ID });
    return found?.enabled ? found : null;
  }

  async view(): Promise<SignOnView> {
    const found = await this.manager.findOneBy(SignOnEntity, { id: ID });
    return {
      ...{ enabled: found?.enabled ?? false, issuer: found?.issuer ?? '', clientId: found?.clientId ?? '' },
      ...{ hasSecret: Boolean(found?.clientSecret), groupsClaim: found?.groupsClaim ?? 'groups' },
      ...{ groupRoles: found?.groupRoles ?? [], onlyWay: found?.onlyWay ?? false },
      emergency: found?.emergency ?? null,
      redirectUri: this.redirectUri,
      backChannelUri: `${this.config.address}/api/session/sign-on/back-channel`,
      changedAt: found?.changedAt.toISOString() ?? null,
      changedBy: found?.changedBy ?? null,
    };
  }

  /** What the sign-in page offers. */
  async offer(): Promise<SignOnOffer> {
    const setting = await this.inForce();
    return {
      provider: setting && new URL(setting.issuer).host,
      onlyWay: setting?.onlyWay ?? false,
    };
  }

  async secretOf({ clientSecret }: SignOnEntity): Promise<string | null> {
    return clientSecret && (await unseal(this.config.keys.installation, PLACE, clientSecret)).toString();
  }

  /** Throws a sentence where it would lock everybody out, or gives roles that there are not. */
  async set(request: SignOnRequest, caller: Caller): Promise<SignOnView> {
    const { clientSecret, ...rest } = request;
    const { protocol, hostname } = new URL(request.issuer);
    if (protocol !== 'https:' && !isLoopback(hostname))
      throw new AppError('invalid-request', 'The identity provider must be reached by https.');
    await this.access.permissionsOf(
      request.groupRoles.flatMap(({ roles }) => roles),
      false,
    );
    if (request.enabled && request.onlyWay) await this.demandEmergency(request.emergency);
    const known = await this.manager.findOneBy(SignOnEntity, { id: ID });
    await this.manager.save(SignOnEntity, {
      ...{ id: ID, ...rest, emergency: request.emergency ?? null },
      clientSecret:
        clientSecret === undefined
          ? (known?.clientSecret ?? null)
          : await seal(this.config.keys.installation, PLACE, Buffer.from(clientSecret)),
      ...{ changedAt: new Date(), changedBy: caller.email },
    });
    return this.view();
  }

  /** Throws `act-refused` for an account that has to come from the provider. */
  async demandLocal({ id }: Pick<AccountEntity, 'id'>): Promise<void> {
    const setting = await this.inForce();
    if (setting?.onlyWay && setting.emergency !== id)
      throw new AppError(
        'act-refused',
        'Sign in through your organisation. Passwords are for emergencies only.',
      );
  }

  /** Whether this is the account that is left for emergencies while everybody else comes from the provider. */
  async isEmergency({ id }: Pick<AccountEntity, 'id'>): Promise<boolean> {
    const setting = await this.inForce();
    return setting !== null && setting.emergency === id;
  }

  private async demandEmergency(id: string | null): Promise<void> {
    const account = id === null ? null : await this.manager.findOneBy(AccountEntity, { id });
    const can =
      account &&
      account.kind !== 'service' &&
      !account.disabledAt &&
      !account.invitedAt &&
      account.signOnKey == null &&
      account.permissions.includes('accounts.manage');
    if (!can)
      throw new AppError(
        'act-refused',
        'Choose an emergency account first. It must be active, have a password and be able to manage accounts.',
      );
  }
}

export const isLoopback = (hostname: string): boolean =>
  ['localhost', '127.0.0.1', '[::1]'].includes(hostname);
