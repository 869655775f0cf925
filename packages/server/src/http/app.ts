import {
  ApodixError,
  faultCatalogue,
  routes,
  UPLOAD_PATH,
  type FaultCode,
  type Route,
  type RouteName,
} from '@apodix/core';
import express, {
  type ErrorRequestHandler,
  type Express,
  type Request,
  type RequestHandler,
  type Response,
} from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { pinoHttp } from 'pino-http';
import { grant } from '../access/guards.ts';
import { RecentGrants } from '../access/recent-grants.ts';
import type { Services } from '../services/services.ts';
import type { Call } from '../routing/call.ts';
import { findCaller } from '../sessions/find-caller.ts';
import { readSessionToken } from '../sessions/session-cookie.ts';
import type { Uploads } from '../takes/uploads.ts';
import { handlers } from './handlers.ts';
import { limitRequests } from './limit-requests.ts';

/** The HTTP application: every route of the table, uploads, and the pages. */
export function createApp(services: Services, uploads: Uploads): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  app.set('trust proxy', services.settings.APODIX_TRUSTED_PROXIES);
  app.use(pinoHttp({ logger: services.log, quietReqLogger: true, autoLogging: false }));
  app.use(setSecurityHeaders());
  app.use(requireOwnOrigin);
  app.use('/api', limitRequests(services));
  const recent = new RecentGrants();
  app.use((request, response, next) => {
    if (request.method === 'GET' || request.method === 'HEAD') return next();
    recent.takeBack();
    // And of what was granted while it was being carried out.
    response.on('close', () => recent.takeBack());
    next();
  });
  app.all([UPLOAD_PATH, `${UPLOAD_PATH}/*splat`], uploads.handle);
  for (const name of Object.keys(routes) as RouteName[]) registerRoute(app, name, services, recent);
  app.use('/api', () => {
    throw new ApodixError('NOT_FOUND');
  });
  servePages(app, services.settings.APODIX_WEB_FOLDER);
  app.use(answerFault(services));
  return app;
}

const MOST_BODY_BYTES = 2_000_000;

/** Routes that a player asks many times over for parts of one file. */
const READ_IN_PARTS = new Set<RouteName>(['readTakeFile', 'readMadeFile']);

function registerRoute(app: Express, name: RouteName, services: Services, recent: RecentGrants): void {
  const route: Route = routes[name];
  const handler = handlers[name] as (call: Call) => Promise<unknown>;
  const readJson = express.json({ limit: route.mostBodyBytes ?? MOST_BODY_BYTES, strict: true });
  const readBody = async (request: Request, response: Response) => {
    await new Promise<void>((done, fail) =>
      readJson(request, response, (error) => (error ? fail(error) : done())),
    );
    return parseBody(route, request.body);
  };
  const method = route.method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete';
  app[method](route.path, async (request: Request, response: Response) => {
    const ask = async () => {
      const person = await findCaller(services.sessions, request);
      return grant(route.access, person, request.params as Record<string, string>, services);
    };
    const token = READ_IN_PARTS.has(name) ? readSessionToken(request) : null;
    const granted = token === null ? await ask() : await recent.find(token, request.originalUrl, ask);
    // Only now: whoever may not call it has nothing of theirs taken in.
    const body = route.body ? await readBody(request, response) : null;
    response.set('cache-control', 'no-store');
    const answer = await handler({ granted, body, request, response, services });
    if (answer !== undefined && !response.headersSent) response.json(answer);
  });
}

function parseBody(route: Route, raw: unknown): unknown {
  const parsed = route.body?.safeParse(raw);
  if (!parsed?.success)
    throw new ApodixError('BAD_REQUEST', {
      detail:
        parsed?.error.issues
          .slice(0, 3)
          .map((issue) => `${issue.path.join('.')}: ${issue.message}`)
          .join('; ') ?? '',
    });
  return parsed.data;
}

function setSecurityHeaders(): RequestHandler {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        // WebAssembly alone: no text is ever run as a script.
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        workerSrc: ["'self'", 'blob:'],
        imgSrc: ["'self'", 'data:', 'blob:'],
        mediaSrc: ["'self'", 'blob:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    crossOriginOpenerPolicy: { policy: 'same-origin' },
    crossOriginResourcePolicy: { policy: 'same-origin' },
    referrerPolicy: { policy: 'no-referrer' },
    strictTransportSecurity: false,
  });
}

/**
 * Writes are carried out only for pages of Apodix itself: the origin that a browser tells has to be this
 * host.
 */
const requireOwnOrigin: RequestHandler = (request, _response, next) => {
  if (['GET', 'HEAD', 'OPTIONS'].includes(request.method)) return next();
  const origin = request.get('origin');
  const site = request.get('sec-fetch-site');
  const isForeign =
    (origin !== undefined && readHost(origin) !== request.get('host')) ||
    (site !== undefined && site !== 'same-origin' && site !== 'none');
  next(isForeign ? new ApodixError('FOREIGN_ORIGIN') : undefined);
};

function readHost(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}

function servePages(app: Express, webFolder: string | undefined): void {
  const folder = webFolder === undefined ? null : resolve(webFolder);
  if (folder === null || !existsSync(join(folder, 'index.html'))) return;
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', index: false }));
  app.use(express.static(folder, { index: false, maxAge: 0 }));
  app.get(
    '/{*splat}',
    (_request, response) =>
      void response.set('cache-control', 'no-cache').sendFile(join(folder, 'index.html')),
  );
}

function answerFault(services: Services): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) return next(error);
    const fault = toFault(error);
    if (fault.code === 'UNEXPECTED')
      services.log.error({ err: error, path: request.path }, 'A request failed');
    response.status(faultCatalogue[fault.code].httpStatus).json(fault.toJSON());
  };
}

function toFault(error: unknown): ApodixError {
  if (error instanceof ApodixError) return error;
  const raw = error as { type?: string; status?: number; code?: string };
  if (raw.type === 'entity.too.large') return new ApodixError('UPLOAD_TOO_LARGE', { cause: error });
  if (raw.code === 'ENOSPC') return new ApodixError('NO_DISK_SPACE', { cause: error });
  const code: FaultCode =
    raw.status === 400
      ? 'BAD_REQUEST'
      : raw.status === 404 || raw.code === 'ENOENT'
        ? 'NOT_FOUND'
        : 'UNEXPECTED';
  return new ApodixError(code, { cause: error });
}
