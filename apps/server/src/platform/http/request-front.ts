import express, { type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import type {
  Caller,
  CallingAgent,
  CallingProgram,
  CallingReader,
  RequestWithCaller,
} from '../auth/permit.js';
import { AppError } from '../errors/app-error.js';
import { bodyRefusal } from '../errors/body-refusal.js';
import { isTooDeep } from './json-shape.js';

/** Largest body of a request without sign-in: an address and a password. */
const OPEN_LIMIT = 4 * 1024;
/** Largest body of somebody signed in: a pasted list of 100,000 words with room to spare. */
const SIGNED_IN_LIMIT = 8 * 1024 * 1024;
/** Largest body of an agent: the largest file that is read, in base 64, with its texts. */
const AGENT_LIMIT = 42 * 1024 * 1024;
/** Bodies up to this size are ordinary: they take no part in what large ones may hold together. */
const ORDINARY = 256 * 1024;
/** Bytes of large bodies that are held at the same time. */
const LARGE_AT_ONCE = 200 * 1024 * 1024;

/** What agents hand in: movements, and events of applications in any of their envelopes. */
/** What readers hand in: movements of files they watch, and items that were asked for whole. */
const READER_HANDS_IN = /^\/api\/reader\/(?:movements|parts\/[\da-f-]{36}\/fetched)$/u;
const HANDS_IN = new Set(['/api/intake/movements', '/api/intake/events', '/api/intake/findings']);
const HANDED_IN = [
  ...['application/json', 'application/cloudevents+json', 'application/cloudevents-batch+json'],
  ...['application/jsonl', 'application/x-ndjson'],
];

/** Routes that need no account; everything else is refused before its body is read. */
const OPEN_ROUTES = new Set([
  'GET /api/health',
  'POST /api/session',
  'GET /api/session/sign-on',
  'POST /api/session/sign-on',
  'GET /api/session/sign-on/answer',
  'POST /api/session/sign-on/back-channel',
  'POST /api/session/passkey',
  'POST /api/session/passkey/challenge',
  'GET /api/intake/schema',
  'GET /api/intake/events/schema',
  'GET /api/intake/automations/schema',
  'POST /api/reader/enrol',
]);

/** Links of invitations and of questions: what stands behind them is checked where it is used. */
const BY_LINK = /^(?:GET|POST) \/api\/(?:welcome|questions)\/[\w-]{20,100}$/;

const isOpen = (request: Request): boolean => {
  const route = `${request.method} ${pathOf(request)}`;
  return OPEN_ROUTES.has(route) || BY_LINK.test(route);
};

/** A key in the header (RFC 6750, 2.1). */
const BEARER = /^Bearer ([\w-]{20,200})$/u;

/** Who asks: known before anything of the request is read. */
export interface Identities {
  caller(token: string): Promise<Caller | null>;
  /** A program with a key of a service account; throws `not-signed-in`. */
  service(key: string): Promise<Caller>;
  agent(authorization: string | undefined): Promise<CallingAgent>;
  reader(
    authorization: string | undefined,
    request: { readonly method: string; readonly path: string },
  ): Promise<CallingReader>;
  program(authorization: string | undefined): Promise<CallingProgram>;
  readonly cookie: string;
}

/**
 * What stands in front of all routes: who asks is known first, a body is read only as far as that allows, and its shape
 * is looked at before anything walks it.
 */
export function requestFront(identities: Identities): RequestHandler[] {
  return [noStore, identify(identities), bodies()];
}

const noStore: RequestHandler = (_request, response, next) => {
  response.setHeader('cache-control', 'no-store');
  next();
};

function identify({ caller, service, agent, reader, program, cookie }: Identities): RequestHandler {
  return (request: RequestWithCaller, response, next) => {
    if (isOpen(request)) return next();
    const known = isForAgents(request)
      ? agent(request.header('authorization')).then((found) => (request.agent = found))
      : isForReaders(request)
        ? reader(request.header('authorization'), { method: request.method, path: pathOf(request) }).then(
            (found) => (request.reader = found),
          )
        : isForPrograms(request)
          ? program(request.header('authorization')).then((found) => (request.program = found))
          : callerOf(request, { cookie, caller, service }).then((found) => (request.caller = found));
    known.then(
      () => next(),
      (error: unknown) => refuse(request, response, error),
    );
  };
}

async function callerOf(
  request: Request,
  { cookie, caller, service }: Pick<Identities, 'cookie' | 'caller' | 'service'>,
): Promise<Caller> {
  const token: unknown = request.cookies?.[cookie];
  const [, key] = BEARER.exec(request.header('authorization') ?? '') ?? [];
  // A browser session is told from a program by its cookie: a request with both is the session's.
  if (typeof token !== 'string' && key !== undefined) return service(key);
  const found = typeof token === 'string' ? await caller(token) : null;
  if (!found) throw new AppError('not-signed-in', 'Sign in first.');
  return found;
}

function bodies(): RequestHandler {
  const verify = (_request: unknown, _response: unknown, body: Buffer): void => {
    // A plain error: the body reader writes a status on it, and the status of a refusal cannot be written.
    if (isTooDeep(body)) throw new Error('The request body is nested too deeply.');
  };
  const open = express.json({ limit: OPEN_LIMIT, verify });
  // What an identity provider tells comes as a form (OpenID Connect Back-Channel Logout 1.0, 2.5).
  const told = express.urlencoded({ limit: OPEN_LIMIT, extended: false, verify });
  // What an identity provider tells of people has a type of its own (RFC 7644, 8.1).
  const signedIn = express.json({
    ...{ limit: SIGNED_IN_LIMIT, verify },
    type: ['application/json', 'application/scim+json'],
  });
  // Read whole and not yet parsed: what is large is taken apart elsewhere.
  const agents = express.raw({ limit: AGENT_LIMIT, type: HANDED_IN, verify });
  let held = 0;
  return (request: RequestWithCaller, response, next) => {
    const handsIn =
      (request.agent !== undefined && HANDS_IN.has(pathOf(request))) ||
      (request.reader !== undefined && READER_HANDS_IN.test(pathOf(request)));
    const parse = handsIn
      ? agents
      : request.agent || request.reader || request.program || request.caller
        ? signedIn
        : pathOf(request) === '/api/session/sign-on/back-channel'
          ? told
          : open;
    const size = Number(request.header('content-length') ?? ORDINARY + 1);
    if (!request.is(HANDED_IN) || size <= ORDINARY) return parse(request, response, next);
    const most = handsIn ? AGENT_LIMIT : SIGNED_IN_LIMIT;
    const counted = Math.min(size > 0 ? size : most, most);
    if (held + counted > LARGE_AT_ONCE) return refuse(request, response, tooMuch());
    held += counted;
    response.once('close', () => (held -= counted));
    parse(request, response, next);
  };
}

const tooMuch = (): AppError =>
  new AppError(
    'too-many-requests',
    'The server is reading other large requests. Nothing was changed. Try again in a few seconds.',
  );

/** Answers before the body is read; the connection ends with it, since nobody waits for the rest. */
function refuse(request: Request, response: Response, error: unknown): void {
  const refusal =
    error instanceof AppError
      ? error
      : new AppError(
          'busy',
          'The server could not check your sign-in. Nothing was changed. Try again in a few seconds.',
        );
  if (refusal.status === 429 || refusal.status === 503) response.setHeader('retry-after', '5');
  if (Number(request.header('content-length') ?? 0) > 0 || request.header('transfer-encoding'))
    response.setHeader('connection', 'close');
  response.status(refusal.status).json(refusal.body());
}

const pathOf = (request: Request): string => (request.originalUrl.split('?')[0] ?? '').replace(/\/+$/, '');

const isForReaders = (request: Request): boolean => pathOf(request).startsWith('/api/reader/');
const isForPrograms = (request: Request): boolean =>
  pathOf(request).startsWith('/api/stand-ins/ledger-interface/');
const isForAgents = (request: Request): boolean => pathOf(request).startsWith('/api/intake/');

/** Answers a request whose body could not be read; passes every other error on. */
export function bodyErrors(error: unknown, request: Request, response: Response, next: NextFunction): void {
  const refusal = error instanceof AppError ? error : bodyRefusal(error);
  if (refusal) refuse(request, response, refusal);
  else next(error);
}
