import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { INestApplication } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import cookieParser from 'cookie-parser';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import type { Server } from 'node:http';
import { Access } from '../accounts/access/access.service.js';
import { SessionService } from '../accounts/session.service.js';
import { LedgerKeys } from '../stand-ins/ledger/ledger-keys.service.js';
import { Readers } from '../discovery/readers/readers.service.js';
import { AgentsService } from '../doors/agents/agents.service.js';
import { isBehindTls, sessionCookie } from '../platform/auth/session-cookie.js';
import { accountLimit, addressLimit, ownAccountLimit } from '../platform/auth/sign-in-limit.js';
import { inSlices } from '../platform/http/in-slices.js';
import { bodyErrors, type Identities, requestFront } from '../platform/http/request-front.js';
import { safePath } from '../platform/http/safe-path.js';
import { AppModule } from './app.module.js';
import { undeclaredRoutes } from '../platform/auth/route-audit.js';
import type { Config } from '../platform/config.js';
import { NestLogger, rootLogger } from '../platform/logging.js';
import { uploadLimit } from '../platform/http/upload-limit.js';
import { describeApi } from '../platform/openapi.js';

const WEB = fileURLToPath(new URL('../../../web/dist', import.meta.url));
/** A request that is not whole by then is ended: uploads of the largest files take seconds. */
const REQUEST_WITHIN_MS = 120_000;

/** Behind TLS browsers are told to come back over TLS alone, for half a year (RFC 6797). */
const TLS_REMEMBERED_SECONDS = 180 * 86_400;

function identitiesOf(application: INestApplication, cookie: string): Identities {
  const sessions = application.get(SessionService);
  const access = application.get(Access);
  const agents = application.get(AgentsService);
  const readers = application.get(Readers);
  const keys = application.get(LedgerKeys);
  return {
    cookie,
    caller: (token) => sessions.findCaller(token),
    service: (key) => access.service(key),
    agent: (authorization) => agents.of(authorization),
    reader: (authorization, request) => readers.of(authorization, request),
    program: (authorization) => keys.programOf(authorization),
  };
}

/** Makes the server ready to listen. Throws when a route declares no permission. */
export async function createApplication(config: Config): Promise<INestApplication> {
  const logger = rootLogger();
  const application = await NestFactory.create<NestExpressApplication>(AppModule.of(config), {
    logger: new NestLogger(logger),
    bodyParser: false,
    // Event streams stay open for hours: closing does not wait for them.
    forceCloseConnections: true,
  });
  // Answers are never kept, so that a digest of each of them would serve nobody.
  application.set('etag', false);
  application.set('trust proxy', config.proxies.length > 0 ? [...config.proxies] : false);
  (application.getHttpServer() as Server).requestTimeout = REQUEST_WITHIN_MS;
  application.setGlobalPrefix('api');
  const cookie = sessionCookie(config).name;
  application.use(inSlices());
  application.use(
    pinoHttp({
      logger,
      autoLogging: { ignore: (request) => request.url === '/api/health' },
      serializers: {
        // No query, no headers, no body: they can hold content and secrets.
        req: (request: { method: string; url: string }) => ({
          method: request.method,
          path: safePath(request.url),
        }),
        res: (response: { statusCode: number }) => ({ status: response.statusCode }),
      },
    }),
  );
  application.use(
    helmet({
      contentSecurityPolicy: { directives: CONTENT_SECURITY },
      strictTransportSecurity: isBehindTls(config) && { maxAge: TLS_REMEMBERED_SECONDS },
    }),
  );
  application.use(cookieParser());
  application.use('/api/session', addressLimit());
  application.use('/api/welcome', addressLimit());
  application.use('/api/questions', addressLimit());
  application.use('/api/reader/enrol', addressLimit());
  application.use('/api/own-account', ownAccountLimit(cookie));
  application.use('/api', ...requestFront(identitiesOf(application, cookie)), bodyErrors);
  application.use('/api/session', accountLimit());
  application.use('/api', uploadLimit());
  const undeclared = undeclaredRoutes(application);
  if (undeclared.length > 0)
    throw new Error(`Routes without a declared permission: ${undeclared.join(', ')}`);
  describeApi(application);
  serveWeb(application);
  application.enableShutdownHooks();
  return application;
}

const CONTENT_SECURITY = {
  defaultSrc: ["'self'"],
  scriptSrc: ["'self'"],
  workerSrc: ["'self'", 'blob:'],
  styleSrc: ["'self'", "'unsafe-inline'"],
  imgSrc: ["'self'", 'data:'],
  fontSrc: ["'self'", 'data:'],
  connectSrc: ["'self'"],
  frameAncestors: ["'none'"],
  upgradeInsecureRequests: null,
};

/** Serves the built web application; every address that is no file and no API path opens it, so that links reload. */
function serveWeb(application: NestExpressApplication): void {
  if (!existsSync(WEB)) return;
  application.use(express.static(WEB, { index: false, maxAge: '1h', setHeaders: cacheForever }));
  application.use((request: Request, response: Response, next: NextFunction) => {
    if (
      request.method !== 'GET' ||
      request.path === '/api' ||
      request.path.startsWith('/api/') ||
      request.path.startsWith('/assets/')
    )
      next();
    else response.sendFile('index.html', { root: WEB, headers: { 'cache-control': 'no-cache' } });
  });
}

/** Bundled files carry a hash of their content in their name. */
function cacheForever(response: Response, path: string): void {
  if (path.includes('/assets/')) response.setHeader('cache-control', 'public, max-age=31536000, immutable');
}
