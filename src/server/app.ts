import { createServer, IncomingMessage, ServerResponse } from 'node:http';
import type { Server } from 'node:http';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ErrorRequestHandler, Express, NextFunction, Request, Response } from 'express';
import express from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import QRCode from 'qrcode';
import { affiliateRoutes } from './affiliates/routes';
import type { App } from './context';
import { Problem, problemFrom } from './http/problem';
import { ledgerRoutes } from './ledger/routes';
import { openApi } from './openapi';
import { messageRoutes } from './messages/routes';
import { offerRoutes } from './offers/routes';
import { payoutRoutes } from './payouts/routes';
import { policyRoutes } from './policy/routes';
import { portalRoutes } from './portal/routes';
import { productRoutes } from './products/routes';
import { prospectRoutes } from './prospects/routes';
import { recruitingRoutes } from './recruiting/routes';
import { figureRoutes } from './reports/routes';
import { staffRoutes } from './staff/routes';
import { sessionRoutes } from './staff/sessions';
import { termsRoutes } from './terms/routes';
import { buttonRoute, reportRoutes, snippetRoute } from './tracking/reports';
import { trackingRoutes } from './tracking/routes';
import type { HostAliases } from './tracking/visits';
import { VisitDesk } from './tracking/visits';

/** Refuses a state-changing request that a browser sends from another site. */
function originCheck(app: App) {
  const own = new URL(app.address);
  return (req: Request, _res: Response, next: NextFunction) => {
    if (req.method === 'GET' || req.method === 'HEAD' || req.method === 'OPTIONS') return next();
    const origin = req.get('origin');
    const site = req.get('sec-fetch-site');
    const host = req.get('host');
    const fits = origin === undefined ? site === undefined || site === 'same-origin' || site === 'none' : origin === own.origin || origin === `${req.protocol}://${host}`;
    return next(fits ? undefined : new Problem('wrong-origin', 'State can be changed from Gravenel’s own pages only'));
  };
}

function requestLog(app: App) {
  return (req: Request, res: Response, next: NextFunction) => {
    const began = performance.now();
    res.once('finish', () => app.log.info({ method: req.method, path: req.path.replace(/\/go\/.*/, '/go/…'), status: res.statusCode, ms: Math.round(performance.now() - began) }));
    next();
  };
}

function webRoutes(server: Express, web: string): void {
  server.use('/assets', express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
  server.use(express.static(web, { index: false, maxAge: '1h' }));
  const page = join(web, 'index.html');
  let html: string | null = null;
  server.get(/^\/(?!api\/|go\/|px\/).*/, (_req, res, next) => {
    html ??= existsSync(page) ? readFileSync(page, 'utf8') : null;
    if (html === null) return next(new Problem('not-found', 'The interface is not built: run npm run build'));
    return res.set('cache-control', 'no-cache').type('html').send(html);
  });
}

const errorAnswer = (app: App): ErrorRequestHandler => (thrown, req, res, next) => {
  if (res.headersSent) return next(thrown);
  const problem = problemFrom(thrown);
  if (problem.code === 'internal') app.log.error({ err: thrown, method: req.method, path: req.path }, 'a request failed');
  if (problem.retryAfter) res.set('retry-after', String(problem.retryAfter));
  return res.status(problem.status).type('application/problem+json').send(JSON.stringify(problem.toBody()));
};

/**
 * Express gives every request and response its own prototypes, which is slow for each. Here the classes that the HTTP
 * server makes its requests and responses of carry Express's properties themselves, so that this becomes a no-op.
 */
function classesFor(server: Express): { IncomingMessage: typeof IncomingMessage; ServerResponse: typeof ServerResponse } {
  class GravenelRequest extends IncomingMessage {}
  class GravenelResponse extends ServerResponse {}
  Object.defineProperties(GravenelRequest.prototype, { ...Object.getOwnPropertyDescriptors(express.request), app: { value: server, configurable: true, writable: true } });
  Object.defineProperties(GravenelResponse.prototype, { ...Object.getOwnPropertyDescriptors(express.response), app: { value: server, configurable: true, writable: true } });
  server.request = GravenelRequest.prototype as unknown as typeof server.request;
  server.response = GravenelResponse.prototype as unknown as typeof server.response;
  return { IncomingMessage: GravenelRequest, ServerResponse: GravenelResponse as typeof ServerResponse };
}

/**
 * Builds the HTTP server: the redirect in front, then Express with every capability.
 * @param options folders of the built interface and of the documents, and the made-up hosts that stand-ins play
 */
export function createApp(app: App, options: { web: string; docs: string; aliases: HostAliases }): { http: Server; express: Express } {
  const server = express();
  server.disable('x-powered-by');
  server.set('query parser', 'simple');
  server.set('etag', false);
  server.use(requestLog(app));
  // before the headers for browsers: what a shop's server reads has no use for them
  reportRoutes(server, app);
  server.use(helmet({
    contentSecurityPolicy: { directives: { 'default-src': ["'self'"], 'script-src': ["'self'"], 'style-src': ["'self'", "'unsafe-inline'"], 'img-src': ["'self'", 'data:'], 'frame-ancestors': ["'none'"], 'form-action': ["'self'"], 'upgrade-insecure-requests': null } },
    strictTransportSecurity: app.address.startsWith('https:') ? undefined : false,
  }));
  snippetRoute(server, app);
  buttonRoute(server, app);
  server.use('/api', originCheck(app), express.json({ limit: '6mb', strict: false, type: ['application/json', 'application/problem+json'] }));
  server.use('/api', (_req, res, next) => {
    res.set('cache-control', 'no-store');
    next();
  });
  // the one form that anybody may send as often as they like
  server.use(['/api/v1/join', '/api/v1/answers', '/api/v1/letters'], rateLimit({ windowMs: 600_000, limit: 300, standardHeaders: 'draft-7', legacyHeaders: false, skip: (req) => req.method === 'GET',
    handler: (_req, _res, next) => next(new Problem('too-many', 'Too many of these from this address; try again in ten minutes', { retryAfter: 600 })) }));
  const capabilities = [sessionRoutes, productRoutes, termsRoutes, recruitingRoutes, prospectRoutes, offerRoutes, policyRoutes, messageRoutes, affiliateRoutes, trackingRoutes, ledgerRoutes, payoutRoutes, figureRoutes, portalRoutes, staffRoutes];
  for (const mount of capabilities) mount(server, app);
  server.get('/api/openapi.json', (_req, res) => { res.json(openApi(app.address)); });
  server.get('/api/v1/qr.svg', async (req, res) => {
    const path = typeof req.query.path === 'string' && req.query.path.startsWith('/') ? req.query.path.slice(0, 200) : '/join';
    res.type('svg').send(await QRCode.toString(app.address + path, { type: 'svg', margin: 1, color: { dark: '#1C2430', light: '#FFFFFF' } }));
  });
  server.use('/api', () => { throw new Problem('not-found', 'There is no such call; /api/openapi.json lists them'); });
  // what a problem's type leads to
  server.get('/docs/errors', (_req, res) => { res.type('text/plain').sendFile(join(options.docs, 'errors.md')); });
  webRoutes(server, options.web);
  server.use(() => { throw new Problem('not-found', 'There is no such page'); });
  server.use(errorAnswer(app));

  const visits = new VisitDesk(app, options.aliases);
  const http = createServer(classesFor(server), (req, res) => {
    if (!visits.handle(req, res)) server(req as Request, res as Response);
  });
  http.keepAliveTimeout = 30_000;
  return { http, express: server };
}
