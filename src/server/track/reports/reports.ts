import type { Static } from '@sinclair/typebox';
import { lt } from 'drizzle-orm';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import { OrderReport, QuoteReport, signedCalls } from '../../../contract/track/signed-calls';
import { networkOf } from '../../../core/attribution/opened';
import type { Id } from '../../../core/text/id';
import type { TrackedCall } from '../../../core/tracking/calls';
import type { App } from '../../ground/context';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { together } from '../../ground/db/together';
import { readSigned } from '../../ground/http/body';
import { allFaults } from '../../ground/http/mended';
import { Problem, problemFrom } from '../../ground/http/problem';
import type { Site } from '../../ground/http/site';
import { Throttle } from '../../ground/http/throttle';
import { validate } from '../../ground/http/validate';
import { hash } from '../../ground/seal';
import { keys } from '../../ground/tables/connection';
import { orders } from '../../ground/tables/orders';
import { seenMessages } from '../../ground/tables/reports';
import { readCookie } from '../../registers/access/session';
import { takeOrder, type Taken } from '../orders/intake';
import { normaliseOrder } from '../orders/normalise';
import { takeLead, takeRenewal } from '../orders/payments';
import { takePicture } from '../orders/pictured';
import { takeRefund } from '../orders/refund';
import { picturedAs } from '../orders/ways';
import { quote } from '../quotes/quotes';
import { visitorCookie } from '../visits/visits';
import { keptUnsigned, log, logCounted, type LogRow } from './log';
import { sameReference, withReferences } from './references';
import { checkHeaders, checkSignature } from './signature';

const statements = perApp((app) => ({
  pictures: rowsBy(app, keys, ['id'], { only: ['pictures'] }),
  see: app.sqlite.prepare<[string, string, string, number]>(
    'INSERT INTO seen_messages (key, id, body_hash, at) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING',
  ),
  ordered: rowsBy(app, orders, ['reference', 'payment'], { only: ['id'] }),
  seen: rowsBy(app, seenMessages, ['key', 'id']),
}));

function outcomeOf(problem: Problem): string {
  return problem.code === 'contradicts'
    ? 'contradicts'
    : problem.code === 'not-signed'
      ? 'not-signed'
      : 'refused';
}

/** Reads a reference for the log from whatever came. */
function referenceIn(value: unknown, field: string): string | null {
  const found = (value as Record<string, unknown> | null)?.[field];
  return typeof found === 'string' ? found.slice(0, 100) : null;
}

function refuseReused(app: App, key: string, id: string, body: Buffer): void {
  const bodyHash = hash(body);
  if (statements(app).see.run(key, id, bodyHash, app.clock.real()).changes === 1) return;
  if (statements(app).seen.get(key, id)?.bodyHash !== bodyHash)
    throw new Problem(
      'not-signed',
      `webhook-id ${id.slice(0, 60)} was used for another body before; make a new id for each message`,
    );
}

type Take = (app: App, body: unknown) => Taken;

/** Bytes of a report: an order of two hundred lines has room in it. */
const reportBytes = 128 * 1024;

type Signed = Request & { signed: { key: string; id: string } };

/** Signature before anything else: what is not signed is counted, and never read as what it says it is. */
function signatureCheck(app: App, call: TrackedCall) {
  return async (req: Request, res: Response, next: NextFunction) => {
    const headers = {
      key: req.get('x-gravenel-key'),
      id: req.get('webhook-id'),
      timestamp: req.get('webhook-timestamp'),
      signature: req.get('webhook-signature'),
    };
    let text = '';
    try {
      checkHeaders(app, headers);
      await readSigned(req, res, reportBytes);
      const raw = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
      text = raw.toString('utf8', 0, keptUnsigned);
      (req as Signed).signed = checkSignature(app, headers, raw);
    } catch (thrown) {
      const problem = problemFrom(thrown);
      if (problem.code === 'not-signed')
        await together(app)(() =>
          logCounted(app, req.ip ?? '', {
            row: { call, way: 'server', key: headers.key?.slice(0, 60) ?? null, reference: null, body: text },
            outcome: 'not-signed',
            status: problem.status,
            said: problem.message,
          }),
        );
      throw thrown;
    }
    next();
  };
}

function bodyOf(req: Request): { raw: Buffer; text: string; parse: () => unknown } {
  const raw = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
  const text = raw.toString('utf8');
  return {
    raw,
    text,
    parse: () => {
      try {
        return JSON.parse(text) as unknown;
      } catch (cause) {
        throw new Problem('malformed', 'The body is not valid JSON', { cause });
      }
    },
  };
}

/** A call that a shop signs: its name in the log, the field that names what it is about, its body, and what takes it. */
type Reported = Exclude<TrackedCall, 'quote'>;

interface Report {
  call: Reported;
  field: string;
  take: Take;
}

/** A signed call whose body is what its schema says: it was validated before anything takes it. */
const report = <C extends Reported>(
  call: C,
  field: string,
  take: (app: App, body: Static<(typeof signedCalls)[C]['body']>) => Taken,
): Report => ({
  call,
  field,
  take: (app, body) => take(app, body as Static<(typeof signedCalls)[C]['body']>),
});

/** One call of the contract, signed: reading, validation, then the work and its log entry as one piece of a durable transaction. */
function reportRoute(app: App, { call, field, take }: Report) {
  const { body: schema } = signedCalls[call];
  return async (req: Request, res: Response) => {
    const { signed } = req as Signed;
    const { raw, text, parse } = bodyOf(req);
    const row: LogRow = { call, way: 'server', key: signed.key.slice(0, 60), reference: null, body: text };
    try {
      const body = parse();
      row.reference = referenceIn(body, field);
      const taken = await together(app)(() => {
        refuseReused(app, signed.key, signed.id, raw);
        validate(schema, body, {
          more: (faults) =>
            allFaults(app, {
              schema,
              value: body,
              faults,
              work: (like) => take(app, withReferences(like as object)),
            }),
        });
        const result = take(app, withReferences(body as object));
        log(app, row, {
          outcome: result.answer.outcome,
          status: result.status,
          said: [result.said, ...(result.answer.warnings ?? []).map((w) => `Warning: ${w.detail}`)].join(
            '. ',
          ),
          order: result.order,
        });
        return result;
      });
      res.status(taken.status).json(taken.answer);
    } catch (thrown) {
      const problem = problemFrom(thrown);
      // the log is on the same disk that was at fault: what cannot be written there is told to the shop all the same
      if (problem.status < 500)
        await together(app)(() =>
          log(app, row, {
            outcome: outcomeOf(problem),
            status: problem.status,
            said: problem.message,
            order: null,
          }),
        );
      throw thrown;
    }
  };
}

/** A price at checkout: signed as reports are, not a report itself. One message makes one quote, however often it comes. */
function quoteRoute(app: App) {
  return async (req: Request, res: Response) => {
    const { signed } = req as Signed;
    const { raw, parse } = bodyOf(req);
    const body = parse();
    const said = await together(app)(() => {
      refuseReused(app, signed.key, signed.id, raw);
      validate(QuoteReport, body);
      return quote(app, body as QuoteReport, `${signed.key} ${signed.id}`);
    });
    res.status(said.repeated ? 200 : 201).json(said.answer);
  };
}

// 1 × 1, transparent
const picture = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');

/** What is said of a picture: recorded is only what counts. */
export function pictureOutcome({ status, answer }: Taken): string {
  return status === 201 ? 'unconfirmed' : answer.outcome;
}

/** New sales that one address can make known by pictures in a quarter of an hour. */
const mostNewSales = 60;
const newSales = perApp(() => new Throttle(mostNewSales));

function isNewSale(app: App, query: Record<string, string | undefined>): boolean {
  const order = {
    reference: sameReference(query.order ?? ''),
    payment: sameReference(query.payment ?? query.order ?? ''),
  };
  return picturedAs(app, order) === undefined && !statements(app).ordered.get(order.reference, order.payment);
}

interface Said {
  status: number;
  outcome: string;
  said: string;
  order: Id<'order'> | null;
}

/** A picture's address as the report of an order; validated as one. */
function reportOfPicture(
  app: App,
  req: Request,
  { order, currency, product, amount, test, ...more }: Record<string, string | undefined>,
): OrderReport {
  const visitor = readCookie(req.headers.cookie, visitorCookie);
  return {
    order,
    placedAt: new Date(app.clock.now()).toISOString(),
    currency,
    lines: [{ product, quantity: 1, amount }],
    ...(more.payment ? { payment: more.payment } : {}),
    ...(more.visit ? { visit: more.visit } : {}),
    ...(visitor ? { visitor } : {}),
    ...(more.coupon ? { coupon: more.coupon } : {}),
    ...(test === 'true' || test === '1' ? { test: true } : {}),
  } as OrderReport;
}

/** What a picture says, taken and answered in words. Call inside a transaction. */
function pictureSaid(app: App, req: Request, key: string, query: Record<string, string | undefined>): Said {
  const known = statements(app).pictures.get(key);
  const refused = (status: number, said: string): Said => ({ status, outcome: 'refused', said, order: null });
  if (!known) return refused(404, `The key ${key.slice(0, 40)} is not known here`);
  if (!known.pictures)
    return refused(403, 'This key takes no pictures: switch them on for it on the Connection page');
  if (isNewSale(app, query) && newSales(app).take(networkOf(req.ip ?? ''), app.clock.real()))
    return refused(
      429,
      `More than ${mostNewSales} new sales by picture from one address in a quarter of an hour: this one is not kept`,
    );
  const report = reportOfPicture(app, req, query);
  try {
    validate(OrderReport, report);
    const order = normaliseOrder(app, withReferences(report));
    // a picture may be loaded again at any later moment: its own moment is no part of what it says
    const content = JSON.stringify([
      query.order,
      query.payment,
      query.currency,
      query.product,
      query.amount,
      query.visit,
      query.coupon,
      query.test,
    ]);
    const taken = takePicture(app, { ...order, content }, key);
    return { status: taken.status, outcome: pictureOutcome(taken), said: taken.said, order: taken.order };
  } catch (thrown) {
    const problem = problemFrom(thrown);
    // what is refused wrote nothing: a fault of ours takes the whole back
    if (problem.status >= 500) throw thrown;
    return { status: problem.status, outcome: outcomeOf(problem), said: problem.message, order: null };
  }
}

function pictureRoute(app: App) {
  return async (req: Request, res: Response) => {
    const query = req.query as Record<string, string | undefined>;
    const key = String(req.params.key).replace(/\.gif$/, '');
    const row: LogRow = {
      call: 'picture',
      way: 'picture',
      key: key.slice(0, 60),
      reference: referenceIn(query, 'order'),
      body: JSON.stringify(query),
    };
    const { status, outcome } = await together(app)(() => {
      const said = pictureSaid(app, req, key, query);
      // a sale that is new is a row of its own, and of those one address has so many; anything else is counted
      if (said.outcome === 'unconfirmed' || said.order !== null)
        log(app, row, { outcome: said.outcome, status: said.status, said: said.said, order: said.order });
      else
        logCounted(app, req.ip ?? '', { row, outcome: said.outcome, status: said.status, said: said.said });
      return said;
    });
    res
      .status(status === 404 ? 404 : 200)
      .set({ 'cache-control': 'no-store', 'x-gravenel-outcome': outcome })
      .type('gif')
      .send(picture);
  };
}

/** Reports a minute that one key may send, from GRAVENEL_REPORTS_PER_MINUTE; one address may send as many before its signature is looked at. */
const perMinute = () => Number(process.env.GRAVENEL_REPORTS_PER_MINUTE ?? 6000);

function minuteLimit(keyGenerator?: (req: Request) => string) {
  return rateLimit({
    windowMs: 60_000,
    limit: perMinute(),
    standardHeaders: 'draft-7',
    legacyHeaders: false,
    validate: false,
    ...(keyGenerator ? { keyGenerator } : {}),
    handler: (_req: Request, _res: Response, next: NextFunction) =>
      next(
        new Problem('too-many', `More than ${perMinute()} reports in a minute; send this one again later`, {
          retryAfter: 60,
        }),
      ),
  });
}

/** What shops report: the field that names it, and who takes it once it was validated. */
const reports: readonly Report[] = [
  report('order', 'order', (app, body) => takeOrder(app, normaliseOrder(app, body), 'server')),
  report('refund', 'refund', takeRefund),
  report('renewal', 'payment', (app, body) => takeRenewal(app, body)),
  report('lead', 'lead', takeLead),
];

/** The calls of the tracking contract. Their bodies are read raw, since signatures cover them so. */
export function reportRoutes(site: Site): void {
  const { server, app } = site;
  // by what nobody can choose: the address before the signature, the key once it has signed
  const byAddress = minuteLimit();
  const byKey = minuteLimit((req) => (req as Signed).signed.key);
  server.use(['/api/track', '/px'], (_req, res, next) => {
    res.set('x-content-type-options', 'nosniff');
    next();
  });
  const take = (call: TrackedCall, route: RequestHandler) =>
    server.post(signedCalls[call].path, byAddress, signatureCheck(app, call), byKey, route);
  for (const report of reports) take(report.call, reportRoute(app, report));
  take('quote', quoteRoute(app));
  server.get('/px/:key', byAddress, pictureRoute(app));
}

/** Forgets which messages were seen before a moment of the machine's clock. */
export function forgetSeenMessages(app: App, before: number): void {
  app.db.delete(seenMessages).where(lt(seenMessages.at, before)).run();
}
