import { existsSync, readFileSync } from 'node:fs';
import { createServer, type Server, type ServerResponse } from 'node:http';
import { join } from 'node:path';
import express, { type ErrorRequestHandler, type Express, type Request, type Response } from 'express';
import helmet from 'helmet';
import { couponRoutes } from './equip/coupons/routes';
import { coverageRoutes } from './equip/coverage/routes';
import { creativeRoutes } from './equip/creatives/routes';
import { materialRoute } from './equip/creatives/serve';
import { plannedRoutes } from './equip/due/routes';
import { feedRoutes } from './equip/feeds/routes';
import { requestRoutes } from './equip/requests/routes';
import type { App } from './ground/context';
import { classesFor } from './ground/http/classes';
import { codeRoutes } from './ground/http/codes';
import { refuseMethod } from './ground/http/method';
import { openApi } from './ground/http/openapi';
import { originCheck, type Trust } from './ground/http/origin';
import { Problem, problemFrom } from './ground/http/problem';
import { pathForLog, requestLog } from './ground/http/request-log';
import type { Site } from './ground/http/site';
import { newSlices } from './ground/http/turns';
import { clockRoutes } from './jobs/routes';
import { ledgerRoutes } from './ledger/routes';
import { auditRoutes } from './lookback/audit/routes';
import { figureRoutes } from './lookback/today/routes';
import { portalMaterialRoutes } from './portal/material';
import { portalRoutes } from './portal/routes';
import { portalSessionRoutes } from './portal/sessions';
import { recruitingRoutes } from './recruit/applications/routes';
import { messageRoutes } from './recruit/letters/routes';
import { offerRoutes } from './recruit/offers/routes';
import { practiceRoutes } from './recruit/practices/routes';
import { prospectRoutes } from './recruit/prospects/routes';
import { affiliateRoutes } from './recruit/roster/routes';
import { sessionRoutes } from './registers/accounts/routes';
import { payoutRoutes } from './settle/runs/routes';
import { policyRoutes } from './setup/policy/routes';
import { productRoutes } from './setup/products/routes';
import { staffRoutes } from './setup/settings/routes';
import { termsRoutes } from './setup/terms/routes';
import { reportRoutes } from './track/reports/reports';
import { trackingRoutes } from './track/routes';
import { buttonRoute, snippetRoute } from './track/visits/snippets';
import { VisitDesk } from './track/visits/visits';

function webRoutes(server: Express, web: string): void {
  server.use(
    '/assets',
    express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
  );
  server.use(express.static(web, { index: false, maxAge: '1h' }));
  const page = join(web, 'index.html');
  let html: string | null = null;
  server.get(/^\/(?!api\/|go\/|px\/|material\/|feeds\/).*/, (_req, res, next) => {
    html ??= existsSync(page) ? readFileSync(page, 'utf8') : null;
    if (html === null) return next(new Problem('not-found', 'The interface is not built: run npm run build'));
    return res.set('cache-control', 'no-cache').type('html').send(html);
  });
}

const errorAnswer =
  (app: App): ErrorRequestHandler =>
  (thrown, req, res, next) => {
    if (res.headersSent) return next(thrown);
    const problem = problemFrom(thrown);
    // what a service says on purpose (a bank that is closed, a seal that was lost) is no fault of this server
    if (problem.status >= 500 && !(thrown instanceof Problem))
      app.faults.note('request', thrown, { method: req.method, path: pathForLog(req.path) });
    if (problem.retryAfter) res.set('retry-after', String(problem.retryAfter));
    return res.status(problem.status).type('application/problem+json').send(JSON.stringify(problem.toBody()));
  };
/** Milliseconds of requests that are begun before redirects have their turn again. */
const sliceOfRequests = 3;

/** What browsers are told of every page and call. */
const headersOf = (app: App) =>
  helmet({
    contentSecurityPolicy: {
      directives: {
        'default-src': ["'self'"],
        'script-src': ["'self'"],
        'style-src': ["'self'", "'unsafe-inline'"],
        'img-src': ["'self'", 'data:'],
        'frame-ancestors': ["'none'"],
        'form-action': ["'self'"],
        'upgrade-insecure-requests': null,
      },
    },
    strictTransportSecurity: app.address.startsWith('https:') ? undefined : false,
  });

/** Everything under /api, in the order of the work. */
const capabilities = [
  sessionRoutes,
  portalSessionRoutes,
  productRoutes,
  termsRoutes,
  recruitingRoutes,
  practiceRoutes,
  prospectRoutes,
  offerRoutes,
  policyRoutes,
  messageRoutes,
  affiliateRoutes,
  creativeRoutes,
  couponRoutes,
  plannedRoutes,
  requestRoutes,
  coverageRoutes,
  trackingRoutes,
  ledgerRoutes,
  payoutRoutes,
  figureRoutes,
  portalRoutes,
  portalMaterialRoutes,
  staffRoutes,
  clockRoutes,
  auditRoutes,
  codeRoutes,
];

function callRoutes(site: Site): void {
  const { server, app } = site;
  server.use('/api', originCheck(app.address));
  server.use('/api', (_req, res, next) => {
    res.set('cache-control', 'no-store');
    next();
  });
  for (const mount of capabilities) mount(site);
  server.get('/api/openapi.json', (_req, res) => {
    res.json(openApi(app.address));
  });
  server.use(refuseMethod(server));
  server.use('/api', () => {
    throw new Problem('not-found', 'There is no such call; /api/openapi.json lists them');
  });
}

function expressOf(app: App, options: Options): Express {
  const server = express();
  const site = { server, app };
  server.set('trust proxy', options.trust);
  server.disable('x-powered-by');
  server.set('query parser', 'simple');
  server.set('etag', false);
  server.use(requestLog(app));
  // before the headers for browsers: what a shop's server reads has no use for them
  reportRoutes(site);
  server.use(headersOf(app));
  snippetRoute(site);
  buttonRoute(site);
  materialRoute(site);
  feedRoutes(site);
  callRoutes(site);
  // what a problem's type leads to
  server.get('/docs/errors', (_req, res) => {
    res.type('text/plain').sendFile(join(options.docs, 'errors.md'));
  });
  webRoutes(server, options.web);
  server.use(() => {
    throw new Problem('not-found', 'There is no such page');
  });
  server.use(errorAnswer(app));
  return server;
}

interface Options {
  /** folders of the built interface and of the documents */
  web: string;
  docs: string;
  /** the proxies that may say for whom they ask */
  trust: Trust;
}

/** Builds the HTTP server: the redirect in front, then Express with every capability. */
export function createApp(app: App, options: Options): { http: Server; express: Express } {
  const server = expressOf(app, options);
  const visits = new VisitDesk(app, options.trust);
  const slices = newSlices(sliceOfRequests);
  const guarded = (res: ServerResponse, work: () => void) => {
    try {
      work();
    } catch (thrown) {
      app.faults.note('listener', thrown);
      answerUnavailable(res);
    }
  };
  // redirects at once; a burst of anything else in slices between them
  const http = createServer(classesFor(server), (req, res) =>
    guarded(res, () => {
      if (!visits.handle(req, res)) slices(() => guarded(res, () => server(req as Request, res as Response)));
    }),
  );
  http.keepAliveTimeout = 30_000;
  return { http, express: server };
}

/** The last answer there is, when nothing else could be said. */
function answerUnavailable(res: ServerResponse): void {
  if (res.headersSent) res.destroy();
  else
    res
      .writeHead(503, {
        'content-type': 'text/plain; charset=utf-8',
        'retry-after': '2',
        'cache-control': 'no-store',
      })
      .end('Not available just now. Please try again in a moment.\n');
}
