import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { INestApplication } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import cookieParser from 'cookie-parser';
import express, { type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import { signInLimit } from './platform/auth/sign-in-limit.js';
import { AppModule } from './app.module.js';
import { undeclaredRoutes } from './platform/auth/route-audit.js';
import type { Config } from './platform/config.js';
import { NestLogger, rootLogger } from './platform/logging.js';
import { uploadLimit } from './platform/upload-limit.js';
import { describeApi } from './platform/openapi.js';

const WEB = fileURLToPath(new URL('../../web/dist', import.meta.url));
/** A pasted list of 100,000 words with room to spare. */
const JSON_LIMIT = '8mb';

/** The largest file that is read, in base 64, with its texts. */
const INTAKE_LIMIT = '42mb';

/** Large bodies are read for agents alone; whoever shows no key is told so before anything is read. */
function intakeBody(): RequestHandler {
  const parse = express.json({ limit: INTAKE_LIMIT });
  return (request, response, next) =>
    request.header('authorization') === undefined ? next() : parse(request, response, next);
}

/** Makes the server ready to listen. Throws when a route declares no permission. */
export async function createApplication(config: Config): Promise<INestApplication> {
  const logger = rootLogger();
  const application = await NestFactory.create<NestExpressApplication>(AppModule.of(config), {
    logger: new NestLogger(logger),
    bodyParser: false,
  });
  application.setGlobalPrefix('api');
  application.use(
    pinoHttp({
      logger,
      autoLogging: { ignore: (request) => request.url === '/api/health' },
      serializers: {
        // No query, no headers, no body: they can hold content and secrets.
        req: (request: { method: string; url: string }) => ({
          method: request.method,
          path: request.url.split('?')[0],
        }),
        res: (response: { statusCode: number }) => ({ status: response.statusCode }),
      },
    }),
  );
  application.use(
    helmet({ contentSecurityPolicy: { directives: CONTENT_SECURITY }, strictTransportSecurity: false }),
  );
  application.use(cookieParser());
  application.use('/api/intake', intakeBody());
  application.useBodyParser('json', { limit: JSON_LIMIT });
  application.use('/api/session', signInLimit());
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
