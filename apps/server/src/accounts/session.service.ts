import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LessThan, MoreThan, Repository } from 'typeorm';
import { AppError } from '../platform/errors/app-error.js';
import { LiveEvents } from '../platform/live/live-events.js';
import type { Caller } from '../platform/auth/permit.js';
import { AccountEntity, SessionEntity } from './account.entity.js';

/** A working day with room at both ends. */
export const SESSION_HOURS = 12;

/** Argon2id with the first recommended parameters of RFC 9106 section 4 scaled to a small machine (OWASP: 19 MiB, t = 2, p = 1). */
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, ARGON2);
}

@Injectable()
export class SessionService {
  /** Hash of a password nobody has: unknown addresses take as long as known ones. */
  private readonly nobody = hashPassword(randomBytes(16).toString('hex'));

  constructor(
    @InjectRepository(AccountEntity) private readonly accounts: Repository<AccountEntity>,
    @InjectRepository(SessionEntity) private readonly sessions: Repository<SessionEntity>,
    private readonly live: LiveEvents,
  ) {}

  /** Checks the password and opens a session; the token is returned once and never stored. */
  async signIn(email: string, password: string): Promise<{ token: string; caller: Caller }> {
    const account = await this.accounts.findOneBy({ email: email.toLowerCase() });
    const matches = await verify(account?.passwordHash ?? (await this.nobody), password);
    if (!account || !matches)
      throw new AppError('wrong-credentials', 'The address or the password is not right.');
    const token = randomBytes(32).toString('hex');
    const session = this.sessions.create({
      tokenHash: tokenHash(token),
      accountId: account.id,
      csrfToken: randomBytes(32).toString('hex'),
      expiresAt: new Date(Date.now() + SESSION_HOURS * 3_600_000),
    });
    await this.sessions.delete({ expiresAt: LessThan(new Date()) });
    await this.sessions.insert(session);
    return { token, caller: toCaller(session, account) };
  }

  async findCaller(token: string): Promise<Caller | null> {
    const session = await this.sessions.findOneBy({
      tokenHash: tokenHash(token),
      expiresAt: MoreThan(new Date()),
    });
    const account = session && (await this.accounts.findOneBy({ id: session.accountId }));
    return account ? toCaller(session, account) : null;
  }

  async signOut(caller: Caller): Promise<void> {
    await this.sessions.delete({ tokenHash: caller.sessionId });
    this.live.endSession(caller.sessionId);
  }

  /** Whether a session is neither signed out nor over. */
  isOpen(sessionId: string): Promise<boolean> {
    return this.sessions.existsBy({ tokenHash: sessionId, expiresAt: MoreThan(new Date()) });
  }
}

function tokenHash(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}

function toCaller(session: SessionEntity, account: AccountEntity): Caller {
  return {
    sessionId: session.tokenHash,
    accountId: account.id,
    name: account.name,
    email: account.email,
    permissions: account.permissions,
    csrfToken: session.csrfToken,
  };
}
