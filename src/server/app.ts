import { existsSync, readFileSync } from 'node:fs';
import { createServer, IncomingMessage, ServerResponse, type Server } from 'node:http';
import { join } from 'node:path';
import express, {
  type ErrorRequestHandler,
  type Express,
  type NextFunction,
  type Request,
  type Response,
} from 'express';
import helmet from 'helmet';
import QRCode from 'qrcode';
import type { App } from './ground/context';
import { perAddress } from './ground/http/limits';
import { openApi } from './ground/http/openapi';
import { originCheck, type Trust } from './ground/http/origin';
import { Problem, problemFrom } from './ground/http/problem';
import { newSlices } from './ground/http/turns';
import { clockRoutes } from './jobs/routes';
import { ledgerRoutes } from './ledger/routes';
import { auditRoutes } from './lookback/audit/routes';
import { figureRoutes } from './lookback/today/routes';
import { portalRoutes } from './portal/routes';
import { portalSessionRoutes } from './portal/sessions';
import { recruitingRoutes } from './recruit/applications/routes';
import { messageRoutes } from './recruit/letters/routes';
import { offerRoutes } from './recruit/offers/routes';
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

/** A path as the log may keep it: what is long enough to be a token is left out. */
function pathForLog(path: string): string {
  return path
    .slice(0, 300)
    .split('/')
    .map((part) => (part.length > longestId ? '…' : part))
    .join('/');
}
const longestId = 30;

function requestLog(app: App) {
  return (req: Request, res: Response, next: NextFunction) => {
    const began = performance.now();
    // what follows mounts shortens the path: it is taken now
    const path = pathForLog(req.path);
    res.once('finish', () =>
      app.log.info({
        method: req.method,
        path,
        status: res.statusCode,
        ms: Math.round(performance.now() - began),
      }),
    );
    next();
  };
}

function webRoutes(server: Express, web: string): void {
  server.use(
    '/assets',
    express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
  );
  server.use(express.static(web, { index: false, maxAge: '1h' }));
  const page = join(web, 'index.html');
  let html: string | null = null;
  server.get(/^\/(?!api\/|go\/|px\/).*/, (_req, res, next) => {
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

/**
 * Express gives every request and response its own prototypes, which is slow for each. Here the classes that the HTTP
 * server makes its requests and responses of carry Express's properties themselves, so that this becomes a no-op.
 */
function classesFor(server: Express): {
  IncomingMessage: typeof IncomingMessage;
  ServerResponse: typeof ServerResponse;
} {
  class GravenelRequest extends IncomingMessage {}
  class GravenelResponse extends ServerResponse {}
  Object.defineProperties(GravenelRequest.prototype, {
    ...Object.getOwnPropertyDescriptors(express.request),
    app: { value: server, configurable: true, writable: true },
  });
  Object.defineProperties(GravenelResponse.prototype, {
    ...Object.getOwnPropertyDescriptors(express.response),
    app: { value: server, configurable: true, writable: true },
  });
  server.request = GravenelRequest.prototype as unknown as typeof server.request;
  server.response = GravenelResponse.prototype as unknown as typeof server.response;
  return { IncomingMessage: GravenelRequest, ServerResponse: GravenelResponse as typeof ServerResponse };
}

/** Milliseconds of requests that are begun before redirects have their turn again. */
const sliceOfRequests = 3;

/** QR codes that one address may have drawn in ten minutes. */
const drawnCodes = 600;

/**
 * Builds the HTTP server: the redirect in front, then Express with every capability.
 * @param options folders of the built interface and of the documents, and the proxies that may say for whom they ask
 */
export function createApp(
  app: App,
  options: { web: string; docs: string; trust: Trust },
): { http: Server; express: Express } {
  const server = express();
  server.set('trust proxy', options.trust);
  server.disable('x-powered-by');
  server.set('query parser', 'simple');
  server.set('etag', false);
  server.use(requestLog(app));
  // before the headers for browsers: what a shop's server reads has no use for them
  reportRoutes(server, app);
  server.use(
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
    }),
  );
  snippetRoute(server, app);
  buttonRoute(server, app);
  server.use('/api', originCheck(app.address));
  server.use('/api', (_req, res, next) => {
    res.set('cache-control', 'no-store');
    next();
  });
  const capabilities = [
    sessionRoutes,
    portalSessionRoutes,
    productRoutes,
    termsRoutes,
    recruitingRoutes,
    prospectRoutes,
    offerRoutes,
    policyRoutes,
    messageRoutes,
    affiliateRoutes,
    trackingRoutes,
    ledgerRoutes,
    payoutRoutes,
    figureRoutes,
    portalRoutes,
    staffRoutes,
    clockRoutes,
    auditRoutes,
  ];
  for (const mount of capabilities) mount(server, app);
  server.get('/api/openapi.json', (_req, res) => {
    res.json(openApi(app.address));
  });
  server.get('/api/v1/qr.svg', perAddress(drawnCodes), async (req, res) => {
    const path =
      typeof req.query.path === 'string' && req.query.path.startsWith('/')
        ? req.query.path.slice(0, 200)
        : '/join';
    res.type('svg').send(
      await QRCode.toString(app.address + path, {
        type: 'svg',
        margin: 1,
        color: { dark: '#1C2430', light: '#FFFFFF' },
      }),
    );
  });
  server.use('/api', () => {
    throw new Problem('not-found', 'There is no such call; /api/openapi.json lists them');
  });
  // what a problem's type leads to
  server.get('/docs/errors', (_req, res) => {
    res.type('text/plain').sendFile(join(options.docs, 'errors.md'));
  });
  webRoutes(server, options.web);
  server.use(() => {
    throw new Problem('not-found', 'There is no such page');
  });
  server.use(errorAnswer(app));

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
