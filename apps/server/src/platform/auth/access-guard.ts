import { timingSafeEqual } from 'node:crypto';
import { NARROWED_PERMISSIONS } from '@lantern/contracts/access';
import { type CanActivate, type ExecutionContext, Injectable } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { AppError } from '../errors/app-error.js';
import { holding, limitsOf } from './grants.js';
import {
  AGENT,
  NARROWED,
  OPEN,
  PERMIT,
  PROGRAM,
  READER,
  type RequestWithCaller,
  SIGNED_IN,
  type Caller,
} from './permit.js';

export const CSRF_HEADER = 'x-csrf-token';
const READING = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Lets a request through when its session may do what the route declares, and its change carries the right token. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(private readonly reflector: Reflector) {}

  canActivate(context: ExecutionContext): boolean {
    const needed = this.reflector.getAllAndOverride<string | undefined>(PERMIT, [
      context.getHandler(),
      context.getClass(),
    ]);
    if (needed === OPEN) return true;
    const request = context.switchToHttp().getRequest<RequestWithCaller>();
    if (needed === AGENT) {
      if (!request.agent) throw new AppError('unknown-agent', 'No agent has this key.');
      return true;
    }
    if (needed === READER) {
      if (!request.reader) throw new AppError('unknown-reader', 'No reader has this key.');
      return true;
    }
    if (needed === PROGRAM) {
      if (!request.program) throw new AppError('unknown-agent', 'No program has this key.');
      return true;
    }
    // Who asks was found out before the request was read.
    const { caller } = request;
    if (!caller) throw new AppError('not-signed-in', 'Sign in first.');
    const isNarrowed = this.reflector.getAllAndOverride<boolean | undefined>(NARROWED, [
      context.getHandler(),
      context.getClass(),
    ]);
    request.caller = { ...caller, ...scopeOf(caller, needed, isNarrowed === true) };
    // A key in the header cannot be sent by another site, so no CSRF token is needed.
    if (caller.isService) return true;
    if (!READING.has(request.method) && !equal(request.header(CSRF_HEADER), caller.csrfToken)) {
      throw new AppError(
        'csrf-missing',
        `Changes need the header ${CSRF_HEADER} with the token of the session.`,
      );
    }
    return true;
  }
}

/**
 * Limits that apply to a call, and the absent account that the caller stands in for. Throws `not-permitted` if no role
 * holds the permission, or if only roles with limits hold it and the route is not marked as narrowed.
 */
function scopeOf(
  { grants, isService }: Caller,
  needed: string | undefined,
  isNarrowed: boolean,
): Pick<Caller, 'limits' | 'inPlaceOf'> {
  if (needed === SIGNED_IN) {
    if (isService)
      throw new AppError(
        'not-permitted',
        'Service accounts cannot use this. It is for people who are signed in.',
      );
    return { limits: limitsOf(holding(grants, 'incidents.read')), inPlaceOf: null };
  }
  const held = holding(grants, needed);
  if (needed === undefined || held.length === 0)
    throw new AppError(
      'not-permitted',
      `Your account may not do this. It needs the permission "${needed ?? 'a declared permission'}".`,
    );
  const own = held.some(({ inPlaceOf }) => inPlaceOf === null);
  const inPlaceOf = own ? null : (held[0]?.inPlaceOf ?? null);
  const isConcerned = NARROWED_PERMISSIONS.some((permission) => permission === needed);
  if (!isConcerned) return { limits: limitsOf(holding(grants, 'incidents.read')), inPlaceOf };
  const limits = limitsOf(held);
  if (limits && !isNarrowed)
    throw new AppError(
      'not-permitted',
      'Your role covers only some incidents. This covers all of them, so your account cannot use it.',
    );
  return { limits, inPlaceOf };
}

function equal(given: string | undefined, expected: string): boolean {
  if (given === undefined || given.length !== expected.length) return false;
  return timingSafeEqual(Buffer.from(given), Buffer.from(expected));
}
