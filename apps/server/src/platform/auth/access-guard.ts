import { timingSafeEqual } from 'node:crypto';
import { type CanActivate, type ExecutionContext, Injectable } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { SessionService } from '../../accounts/session.service.js';
import { AgentsService } from '../../doors/agents/agents.service.js';
import { AppError } from '../errors/app-error.js';
import { AGENT, OPEN, PERMIT, type RequestWithCaller, SIGNED_IN } from './permit.js';

export const SESSION_COOKIE = 'lantern_session';
export const CSRF_HEADER = 'x-csrf-token';
const READING = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Lets a request through when its session may do what the route declares, and its change carries the right token. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    private readonly sessions: SessionService,
    private readonly agents: AgentsService,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    const needed = this.reflector.getAllAndOverride<string | undefined>(PERMIT, [
      context.getHandler(),
      context.getClass(),
    ]);
    if (needed === OPEN) return true;
    const request = context.switchToHttp().getRequest<RequestWithCaller>();
    if (needed === AGENT) {
      request.agent = await this.agents.of(request.header('authorization'));
      return true;
    }
    const token: unknown = request.cookies?.[SESSION_COOKIE];
    const caller = typeof token === 'string' ? await this.sessions.findCaller(token) : null;
    if (!caller) throw new AppError('not-signed-in', 'Sign in first.');
    const permitted = needed === SIGNED_IN || caller.permissions.some((permission) => permission === needed);
    if (needed === undefined || !permitted)
      throw new AppError(
        'not-permitted',
        `This account may not do that; it needs "${needed ?? 'a declared permission'}".`,
      );
    if (!READING.has(request.method) && !equal(request.header(CSRF_HEADER), caller.csrfToken)) {
      throw new AppError(
        'csrf-missing',
        `Changes need the header ${CSRF_HEADER} with the token of the session.`,
      );
    }
    request.caller = caller;
    return true;
  }
}

function equal(given: string | undefined, expected: string): boolean {
  if (given === undefined || given.length !== expected.length) return false;
  return timingSafeEqual(Buffer.from(given), Buffer.from(expected));
}
