import { createHash, randomBytes, randomUUID } from 'node:crypto';
import type { SignOnRequest, SignOnTrial } from '@lantern/contracts/sign-on';
import { Inject, Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import type { Caller } from '../../platform/auth/permit.js';
import { CONFIG, type Config } from '../../platform/config.js';
import { AppError } from '../../platform/errors/app-error.js';
import { seal, unseal } from '../../platform/sealing.js';
import { Trail } from '../../platform/trail/trail.service.js';
import { Access } from '../access/access.service.js';
import { AccountEntity, SessionEntity } from '../account.entity.js';
import { demandAdministrator } from '../administrators.js';
import { hashPassword } from '../password.js';
import { Passkeys } from '../passkeys/passkeys.service.js';
import { SessionService, type SignInFrom } from '../session.service.js';
import { type Claimed, readClaims, rolesFor } from './claims.js';
import { IdentityProvider, type Underway } from './provider.service.js';
import { SignOnFailure } from './failure.js';
import type { SignOnEntity } from './sign-on.entity.js';
import { SignOnSetting } from './sign-on-setting.service.js';

/** So long somebody may take at the provider. */
export const UNDERWAY_MS = 10 * 60_000;
const PLACE = 'sign-in under way';

/** Signing in and out through the organisation's identity provider; its groups become roles here. */
@Injectable()
export class SignOn {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    @Inject(CONFIG) private readonly config: Config,
    private readonly setting: SignOnSetting,
    private readonly provider: IdentityProvider,
    private readonly access: Access,
    private readonly sessions: SessionService,
    private readonly passkeys: Passkeys,
    private readonly trail: Trail,
  ) {}

  /** Where the browser goes, and what it has to bring back: sealed, so that nothing is kept for strangers. */
  async begin(): Promise<{ readonly url: string; readonly underway: string }> {
    const { url, underway } = await this.provider.begin(await this.demanded());
    const kept = JSON.stringify({ ...underway, until: Date.now() + UNDERWAY_MS });
    const sealed = await seal(this.config.keys.installation, PLACE, Buffer.from(kept));
    return { url, underway: sealed.toString('base64url') };
  }

  /** Opens a session for whoever came back from the provider with one of our roles. */
  async answer(
    query: string,
    kept: string | undefined,
    from: SignInFrom,
  ): Promise<{ readonly token: string; readonly caller: Caller }> {
    try {
      const setting = await this.demanded();
      const underway = await this.underway(kept);
      const { claims, issuer, session } = await this.provider.answered(setting, query, underway);
      const claimed = readClaims(claims, issuer, setting.groupsClaim);
      if (typeof claimed === 'string') throw new SignOnFailure(claimed);
      const account = await this.account(claimed, setting);
      const signOnSession = session === null ? null : sessionHash(issuer, session);
      return await this.sessions.open(account, from, { with: 'single sign-on' }, signOnSession);
    } catch (error) {
      if (error instanceof AppError)
        await this.trail.add({
          actor: 'unknown',
          action: 'sign-in-failed',
          facts: { from: from.address, why: 'single sign-on' },
        });
      throw error;
    }
  }

  /** Where the browser signs out at the provider; null for a session that did not come from there. */
  async end(caller: Caller): Promise<string | null> {
    const setting = await this.setting.inForce();
    const account = await this.manager.findOneBy(AccountEntity, { id: caller.accountId });
    if (!setting || account?.signOnKey == null) return null;
    return this.provider.end(setting, `${this.config.address}/`);
  }

  /** The provider says that somebody signed out there: their sessions here end too. */
  async signedOut(token: string): Promise<void> {
    const setting = await this.demanded();
    const { issuer, sub, session } = await this.provider.signedOut(setting, token);
    const account =
      sub === null ? null : await this.manager.findOneBy(AccountEntity, { signOnKey: keyOf(issuer, sub) });
    // Somebody who never came here has nothing to end.
    if (sub !== null && !account) return;
    const open = await this.manager.find(SessionEntity, {
      where: {
        ...(account ? { accountId: account.id } : {}),
        ...(session === null ? {} : { signOnSession: sessionHash(issuer, session) }),
      },
    });
    for (const { accountId, id } of open) {
      const ended = await this.manager.findOneBy(AccountEntity, { id: accountId });
      await this.manager.transaction(async () => {
        await this.sessions.end(accountId, { id });
        await this.trail.add({
          actor: ended?.email ?? '',
          action: 'signed-out',
          facts: { with: 'single sign-on' },
        });
      });
    }
  }

  /** Asks the provider of a setting who it is; nothing is kept. */
  async trial(request: SignOnRequest): Promise<SignOnTrial> {
    const secret = request.clientSecret === undefined ? null : Buffer.from(request.clientSecret);
    return this.provider.trial({
      ...{ ...request, id: 0, changedAt: new Date(), changedBy: '', emergency: null },
      // Discovery sends no secret; whether there is one decides how the client says who it is.
      clientSecret:
        secret && (await seal(this.config.keys.installation, 'single sign-on client secret', secret)),
    });
  }

  private async demanded(): Promise<SignOnEntity> {
    const setting = await this.setting.inForce();
    if (!setting) throw new SignOnFailure('not-set-up');
    return setting;
  }

  private async underway(kept: string | undefined): Promise<Underway> {
    const opened = await unseal(
      this.config.keys.installation,
      PLACE,
      Buffer.from(kept ?? '', 'base64url'),
    ).catch(() => null);
    const read = opened && (JSON.parse(opened.toString()) as Underway & { readonly until: number });
    if (!read || read.until < Date.now()) throw new SignOnFailure('too-late');
    return read;
  }

  /** The account of somebody, made or brought up to date: its roles are those of the groups, each time anew. */
  private async account(claimed: Claimed, setting: SignOnEntity): Promise<AccountEntity> {
    const roles = rolesFor(claimed.groups, setting.groupRoles);
    if (roles.length === 0) throw new SignOnFailure('no-role');
    const { account, isChanged } = await this.manager.transaction(async (manager) => {
      const all = await manager.find(AccountEntity, { lock: { mode: 'pessimistic_write' } });
      const known = all.find(({ signOnKey }) => signOnKey === claimed.key) ?? taken(all, claimed, setting);
      if (known?.disabledAt) throw new SignOnFailure('disabled');
      const permissions = await this.access.permissionsOf(roles, known?.seesSilent ?? false, manager);
      const changed = {
        ...{ roles, permissions, name: claimed.name, email: claimed.email, signOnKey: claimed.key },
        invitedAt: null,
      };
      if (known && all.some(({ id, email }) => id !== known.id && email === claimed.email))
        throw new SignOnFailure('address-taken');
      const next = { id: known?.id ?? randomUUID(), kind: 'person' as const, ...known, ...changed };
      if (known)
        demandAdministrator(all.map((each) => (each.id === known.id ? { ...each, ...changed } : each)));
      const isNew = known?.signOnKey == null;
      // From now on the provider says who they are: a password or passkey of before opens nothing.
      const passwordHash = isNew ? await hashPassword(randomBytes(32).toString('hex')) : known.passwordHash;
      if (known && isNew) await this.passkeys.clear(manager, known.id);
      await manager.save(AccountEntity, { ...next, passwordHash });
      return { account: next.id, isChanged: known ? !isSame(known.roles ?? [], roles) : false };
    });
    if (isChanged) await this.sessions.end(account, {});
    return this.manager.findOneByOrFail(AccountEntity, { id: account });
  }
}

/** An account with this address from before, which its holder takes over; the provider must vouch for the address. */
function taken(
  all: readonly AccountEntity[],
  { email, isVerified }: Claimed,
  { emergency }: SignOnEntity,
): AccountEntity | undefined {
  const same = all.find((account) => account.email === email);
  if (!same) return undefined;
  if (!isVerified || same.signOnKey != null || same.kind === 'service' || same.id === emergency)
    throw new SignOnFailure('address-taken');
  return same;
}

const isSame = (one: readonly string[], other: readonly string[]): boolean =>
  one.length === other.length && one.every((role) => other.includes(role));

const keyOf = (issuer: string, sub: string): string =>
  createHash('sha256').update(`${issuer}\n${sub}`).digest('hex');
const sessionHash = (issuer: string, session: string): string =>
  createHash('sha256').update(`session ${issuer}\n${session}`).digest('hex');
