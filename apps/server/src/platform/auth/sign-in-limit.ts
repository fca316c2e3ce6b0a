import type { RequestHandler } from 'express';
import { rateLimit } from 'express-rate-limit';
import { AppError } from '../errors/app-error.js';

/** Wrong passwords from one address in a minute: enough for a person, nothing for a guesser. */
const FAILURES_A_MINUTE = 10;

/** Slows down who guesses passwords; right ones are not counted. */
export function signInLimit(): RequestHandler {
  return rateLimit({
    windowMs: 60_000,
    limit: FAILURES_A_MINUTE,
    skipSuccessfulRequests: true,
    skip: (request) => request.method !== 'POST',
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    handler: (_request, response) => {
      const refusal = new AppError('too-many-requests', 'Too many attempts; wait a minute and try again.');
      response.status(refusal.status).json(refusal.body());
    },
  });
}
