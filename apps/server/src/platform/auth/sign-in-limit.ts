import type { Request, RequestHandler } from 'express';
import { ipKeyGenerator, rateLimit } from 'express-rate-limit';
import { AppError } from '../errors/app-error.js';

const WINDOW_MS = 60_000;
/** Wrong passwords from one address in a minute: enough for an office behind one address, little for a guesser. */
const FAILURES_OF_ADDRESS = 30;
/** Wrong passwords for one account from one address in a minute: enough for a person. */
const FAILURES_OF_BOTH = 10;
/**
 * Wrong passwords for one account in a minute from anywhere: guessing from many addresses is slowed down, and its holder
 * finds room again in the next minute.
 */
const FAILURES_OF_ACCOUNT = 60;

const addressOf = (request: Request): string => ipKeyGenerator(request.ip ?? '');

function accountOf(request: Request): string {
  const { email } = (request.body ?? {}) as { readonly email?: unknown };
  return typeof email === 'string' ? email.trim().toLowerCase().slice(0, 254) : '';
}

/** Slows down who guesses passwords from one address, before anything of the request is read. */
export function addressLimit(): RequestHandler {
  return limit(FAILURES_OF_ADDRESS, addressOf);
}

/** Slows down who guesses the password of one account, from one address or from many. */
export function accountLimit(): RequestHandler[] {
  // Passkey requests name no account. One shared limit would let a single guesser block all of them.
  const namesOne = (request: Request): boolean => request.method === 'POST' && accountOf(request) !== '';
  return [
    limit(FAILURES_OF_BOTH, (request) => `${accountOf(request)} ${addressOf(request)}`, namesOne),
    limit(FAILURES_OF_ACCOUNT, accountOf, namesOne),
  ];
}

/**
 * Slows down who tries passwords or codes with a session that is not theirs: by session, since an office shares its
 * address.
 */
export function ownAccountLimit(cookie: string): RequestHandler {
  return limit(
    FAILURES_OF_BOTH,
    (request) => {
      const token: unknown = request.cookies?.[cookie];
      return typeof token === 'string' ? token : addressOf(request);
    },
    (request) => request.method === 'PUT' || request.method === 'POST',
  );
}

/** Right passwords are not counted. */
function limit(
  failures: number,
  keyOf: (request: Request) => string,
  counts = (request: Request): boolean => request.method === 'POST',
): RequestHandler {
  return rateLimit({
    windowMs: WINDOW_MS,
    limit: failures,
    keyGenerator: keyOf,
    skipSuccessfulRequests: true,
    skip: (request) => !counts(request),
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    handler: (_request, response) => {
      const refusal = new AppError('too-many-requests', 'Too many attempts. Wait a minute and try again.');
      response.status(refusal.status).json(refusal.body());
    },
  });
}
