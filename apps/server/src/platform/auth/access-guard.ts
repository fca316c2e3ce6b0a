import { timingSafeEqual } from 'node:crypto';
import { type CanActivate, type ExecutionContext, Injectable } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { AppError } from '../errors/app-error.js';
import { AGENT, OPEN, PERMIT, PROGRAM, READER, type RequestWithCaller, SIGNED_IN } from './permit.js';

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
    const permitted = needed === SIGNED_IN || caller.permissions.some((permission) => permission === needed);
    if (needed === undefined || !permitted)
      throw new AppError(
        'not-permitted',
        `Your account may not do this. It needs the permission "${needed ?? 'a declared permission'}".`,
      );
    if (!READING.has(request.method) && !equal(request.header(CSRF_HEADER), caller.csrfToken)) {
      throw new AppError(
        'csrf-missing',
        `Changes need the header ${CSRF_HEADER} with the token of the session.`,
      );
    }
    return true;
  }
}

function equal(given: string | undefined, expected: string): boolean {
  if (given === undefined || given.length !== expected.length) return false;
  return timingSafeEqual(Buffer.from(given), Buffer.from(expected));
}
