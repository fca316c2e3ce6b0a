import type { SignInRequest } from '@lantern/contracts';
import type { PasskeyAnswer } from '@lantern/contracts/passkeys';
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { In, LessThan, MoreThan, Not, Repository } from 'typeorm';
import { AppError } from '../platform/errors/app-error.js';
import { InsideMail, SYSTEM_SENDER } from '../platform/inside-mail.js';
import { LiveEvents } from '../platform/live/live-events.js';
import type { Caller } from '../platform/auth/permit.js';
import { Trail } from '../platform/trail/trail.service.js';
import { AccountEntity, SessionEntity } from './account.entity.js';
import { DeputyEntity, OwnRoleEntity } from './access/access.entity.js';
import { Access, type ReadBeside } from './access/access.service.js';
import { FactorDemand } from './factor-demand.service.js';
import { FactorService } from './factor.service.js';
import { Passkeys } from './passkeys/passkeys.service.js';
import { SignOnSetting } from './sign-on/sign-on-setting.service.js';
import { hashPassword, isPassword } from './password.js';

/** A working day with room at both ends. */
export const SESSION_HOURS = 12;

/** A session that nobody used for so long is over: somebody went home and left it open. */
const IDLE_HOURS = 4;
/** Being seen is written down so often at most. */
const SEEN_EVERY_MS = 60_000;

/** From where somebody signs in. */
export interface SignInFrom {
  readonly agent: string;
  readonly address: string;
}

@Injectable()
export class SessionService {
  /** Hash of a password nobody has: unknown addresses take as long as known ones. */
  private readonly nobody = hashPassword(randomBytes(16).toString('hex'));

  constructor(
    @InjectRepository(AccountEntity) private readonly accounts: Repository<AccountEntity>,
    @InjectRepository(SessionEntity) private readonly sessions: Repository<SessionEntity>,
    private readonly live: LiveEvents,
    private readonly trail: Trail,
    private readonly factors: FactorService,
    private readonly demand: FactorDemand,
    private readonly access: Access,
    private readonly passkeys: Passkeys,
    private readonly setting: SignOnSetting,
    private readonly inside: InsideMail,
  ) {}

  /** Checks the password and opens a session; the token is returned once and never stored. */
  async signIn(
    { email, password, code }: SignInRequest,
    from: SignInFrom,
  ): Promise<{ token: string; caller: Caller }> {
    const account = await this.accounts.findOneBy({ email: email.toLowerCase() });
    const matches = await isPassword(account?.passwordHash ?? (await this.nobody), password);
    // The answer is the same for a wrong password, a disabled account and one that is only invited.
    if (!account || !matches || account.disabledAt || account.invitedAt || account.kind === 'service') {
      await this.trail.add({
        actor: email.toLowerCase(),
        action: 'sign-in-failed',
        facts: { from: from.address },
      });
      throw new AppError('wrong-credentials', 'The address or the password is not right.');
    }
    try {
      await this.factors.demand(account, code);
    } catch (error) {
      if (error instanceof AppError && error.code === 'wrong-code')
        await this.trail.add({
          actor: account.email,
          action: 'sign-in-failed',
          facts: { from: from.address, why: 'second factor' },
        });
      throw error;
    }
    await this.setting.demandLocal(account);
    const isEmergency = await this.setting.isEmergency(account);
    if (isEmergency) await this.tellEmergency(account, from);
    return this.open(account, from, isEmergency ? { with: 'emergency account' } : {});
  }

  /** Opens a session for whoever confirms a passkey, which is both factors at once. */
  async signInByPasskey(answer: PasskeyAnswer, from: SignInFrom): Promise<{ token: string; caller: Caller }> {
    try {
      const account = await this.passkeys.prove(answer);
      await this.setting.demandLocal(account);
      return await this.open(account, from, { with: 'passkey' });
    } catch (error) {
      if (error instanceof AppError && error.code === 'wrong-credentials')
        await this.trail.add({
          actor: 'unknown',
          action: 'sign-in-failed',
          facts: { from: from.address, why: 'passkey' },
        });
      throw error;
    }
  }

  /** Opens a session for an account that has proved who it is. */
  async open(
    account: AccountEntity,
    { agent, address }: SignInFrom,
    facts: Readonly<Record<string, string>> = {},
    signOnSession: string | null = null,
  ): Promise<{ token: string; caller: Caller }> {
    const token = randomBytes(32).toString('hex');
    const now = new Date();
    const session = this.sessions.create({
      tokenHash: tokenHash(token),
      accountId: account.id,
      csrfToken: randomBytes(32).toString('hex'),
      expiresAt: new Date(now.getTime() + SESSION_HOURS * 3_600_000),
      id: randomUUID(),
      createdAt: now,
      lastSeen: now,
      agent: agent.slice(0, 200),
      address: address.slice(0, 64),
      signOnSession,
    });
    await this.sessions.delete({ expiresAt: LessThan(now) });
    await this.sessions.manager.transaction(async () => {
      // The account first: a new session holds the row of its account for reading, and two of them would wait for each
      // other to write it.
      await this.accounts.update({ id: account.id }, { lastSignIn: now });
      await this.sessions.insert(session);
      await this.trail.add({ actor: account.email, action: 'signed-in', facts: { from: address, ...facts } });
    });
    return { token, caller: await this.callerOf(session, account) };
  }

  /** The account that is left for emergencies was used: every administrator learns of it. */
  private async tellEmergency({ id, name }: AccountEntity, { address }: SignInFrom): Promise<void> {
    const all = await this.accounts.find({ where: { kind: 'person' } });
    const at = new Date();
    for (const each of all) {
      if (each.id === id || each.disabledAt || !each.permissions.includes('accounts.manage')) continue;
      await this.inside.send(this.accounts.manager, {
        ...{ at, from: SYSTEM_SENDER, to: each.email, subject: 'The emergency account was used' },
        text: `${name} signed in at ${at.toISOString()} from ${address}, without single sign-on. If none of you knows why, disable the account and check the audit trail.`,
      });
    }
  }

  /** Who a cookie is of; null for a session that is over, was not used for hours, or whose account was disabled. */
  async findCaller(token: string): Promise<Caller | null> {
    const now = new Date();
    const found = await this.read(tokenHash(token), now);
    if (!found || found.account.disabledAt) return null;
    const { session, account, beside } = found;
    if (now.getTime() - session.lastSeen.getTime() > SEEN_EVERY_MS)
      await this.sessions.update({ tokenHash: session.tokenHash }, { lastSeen: now });
    return this.callerOf(session, account, beside);
  }

  /** An open session with all that says what it may do, in one question: it is asked with every request. */
  private async read(
    hash: string,
    now: Date,
  ): Promise<{
    readonly session: SessionEntity;
    readonly account: AccountEntity;
    readonly beside: ReadBeside;
  } | null> {
    const session = (await this.sessions
      .createQueryBuilder('s')
      .innerJoinAndMapOne('s.account', AccountEntity, 'a', 'a.id = s.accountId')
      .leftJoinAndMapMany(
        's.ownRoles',
        OwnRoleEntity,
        'r',
        'JSON_CONTAINS(a.roles, JSON_QUOTE(CAST(r.id AS CHAR)))',
      )
      .leftJoinAndMapMany(
        's.absences',
        DeputyEntity,
        'd',
        'd.deputyId = a.id AND d.since <= :now AND d.until > :now',
      )
      .where('s.tokenHash = :hash AND s.expiresAt > :now AND s.lastSeen > :idle', {
        ...{ hash, now, idle: idleSince(now) },
      })
      .getOne()) as (SessionEntity & ReadBeside & { readonly account: AccountEntity }) | null;
    return session && { session, account: session.account, beside: session };
  }

  /** Without a second factor that its role needs, an account may do nothing but set one up. */
  private async callerOf(
    session: SessionEntity,
    account: AccountEntity,
    beside?: ReadBeside,
  ): Promise<Caller> {
    const factorDemanded = await this.demand.isDue(account, beside?.ownRoles);
    const known = await this.access.signedIn(account, new Date(), beside);
    return {
      ...known,
      ...(factorDemanded ? { permissions: [], grants: [] } : {}),
      sessionId: session.tokenHash,
      csrfToken: session.csrfToken,
      factorDemanded,
    };
  }

  /** Where an account is signed in, the newest first. */
  list(accountId: string): Promise<SessionEntity[]> {
    return this.sessions.find({
      where: { accountId, ...stillOpen(new Date()) },
      order: { createdAt: 'DESC' },
    });
  }

  /** Ends sessions of an account: one, or all but one, or all. Throws `not-found` for one that is not open. */
  async end(accountId: string, which: { readonly id?: string; readonly but?: string }): Promise<void> {
    const ended = await this.sessions.findBy({
      accountId,
      ...(which.id === undefined ? {} : { id: which.id }),
      ...(which.but === undefined ? {} : { tokenHash: Not(which.but) }),
    });
    if (which.id !== undefined && ended.length === 0)
      throw new AppError('not-found', 'This session is over already.');
    if (ended.length === 0) return;
    const hashes = ended.map((session) => session.tokenHash);
    await this.sessions.delete({ tokenHash: In(hashes) });
    for (const hash of hashes) this.live.endSession(hash);
  }

  async signOut(caller: Caller): Promise<void> {
    await this.sessions.manager.transaction(async () => {
      await this.sessions.delete({ tokenHash: caller.sessionId });
      await this.trail.add({ actor: caller.email, action: 'signed-out' });
    });
    this.live.endSession(caller.sessionId);
  }

  /** Whether a session is neither signed out nor over. */
  isOpen(sessionId: string): Promise<boolean> {
    return this.sessions.existsBy({ tokenHash: sessionId, ...stillOpen(new Date()) });
  }
}

/** Which sessions are neither over nor unused for hours. */
export const stillOpen = (now: Date) => ({
  expiresAt: MoreThan(now),
  lastSeen: MoreThan(idleSince(now)),
});

const idleSince = (now: Date): Date => new Date(now.getTime() - IDLE_HOURS * 3_600_000);

/** A secret as it is kept: what the table holds opens nothing. */
export function tokenHash(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}
