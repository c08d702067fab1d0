import type { TSchema } from '@sinclair/typebox';
import type { Express, NextFunction, Request, Response } from 'express';
import express from 'express';
import { rateLimit } from 'express-rate-limit';
import { and, eq } from 'drizzle-orm';
import type { RefundReport } from '../../contract/tracking';
import { LeadReport, OrderReport, QuoteReport, RefundReport as RefundSchema, RenewalReport } from '../../contract/tracking';
import type { App } from '../context';
import { theProgramme } from '../context';
import { newId } from '../db/ids';
import { given, insertion, perApp } from '../db/prepared';
import { together } from '../db/together';
import { keys, reports, seenMessages } from '../db/schema';
import { Problem, problemFrom } from '../http/problem';
import { readCookie } from '../http/session';
import { validate } from '../http/validate';
import { hash } from '../seal';
import type { Taken, Way } from './intake';
import { takeOrder } from './intake';
import { normaliseOrder } from './normalise';
import { takeLead, takeRenewal } from './payments';
import { quote } from './quotes';
import { takePicture } from './pictured';
import { takeRefund } from './refund';
import { checkSignature } from './signature';
import { visitorCookie } from './visits';

interface LogRow {
  call: string;
  way: Way;
  key: string | null;
  reference: string | null;
  body: string;
}

const keptBody = 20_000;
// anybody can send what is not signed: little of it is kept
const keptUnsigned = 500;

const statements = perApp((app) => ({
  report: insertion(app, reports), see: insertion(app, seenMessages),
  seen: app.db.select().from(seenMessages).where(and(eq(seenMessages.key, given('key')), eq(seenMessages.id, given('id')))).prepare(),
}));

/** Writes a report and its outcome into the log that the Connection page shows. */
export function log(app: App, row: LogRow, outcome: string, status: number, said: string, order: string | null): void {
  statements(app).report.run({ id: newId('report'), at: app.clock.now(), ...row, body: row.body.slice(0, outcome === 'not-signed' ? keptUnsigned : keptBody), outcome, status, said: said.slice(0, 1000), order });
}

function outcomeOf(problem: Problem): string {
  return problem.code === 'contradicts' ? 'contradicts' : problem.code === 'not-signed' ? 'not-signed' : 'refused';
}

/** Reads a reference for the log from whatever came. */
function referenceIn(value: unknown, field: string): string | null {
  const found = (value as Record<string, unknown> | null)?.[field];
  return typeof found === 'string' ? found.slice(0, 100) : null;
}

function refuseReused(app: App, key: string, id: string, body: Buffer): void {
  const bodyHash = hash(body);
  const before = statements(app).seen.get({ key, id });
  if (before && before.bodyHash !== bodyHash) throw new Problem('not-signed', `webhook-id ${id.slice(0, 60)} was used for another body before; make a new id for each message`);
  if (!before) statements(app).see.run({ key, id, bodyHash, at: app.clock.real() });
}

type Take = (app: App, body: never) => Taken;

/** One call of the contract: signature, reading, validation, then the work and its log entry as one piece of a durable transaction. */
function reportRoute(app: App, call: string, field: string, schema: TSchema, take: Take) {
  return async (req: Request, res: Response) => {
    const raw = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    const text = raw.toString('utf8');
    const row: LogRow = { call, way: 'server', key: req.get('x-gravenel-key')?.slice(0, 60) ?? null, reference: null, body: text };
    try {
      const signed = checkSignature(app, { key: req.get('x-gravenel-key'), id: req.get('webhook-id'), timestamp: req.get('webhook-timestamp'), signature: req.get('webhook-signature') }, raw);
      let body: unknown;
      try {
        body = JSON.parse(text);
      } catch (cause) {
        throw new Problem('malformed', 'The body is not valid JSON', { cause });
      }
      row.reference = referenceIn(body, field);
      const taken = await together(app)(() => {
        refuseReused(app, signed.key, signed.id, raw);
        validate(schema, body);
        const result = take(app, body as never);
        log(app, row, result.answer.outcome, result.status, result.said, result.order);
        return result;
      });
      res.status(taken.status).json(taken.answer);
    } catch (thrown) {
      const problem = problemFrom(thrown);
      if (problem.code === 'internal') app.log.error({ err: thrown, call }, 'a report failed');
      await together(app)(() => log(app, row, outcomeOf(problem), problem.status, problem.message, null));
      throw problem;
    }
  };
}

/** A price at checkout: signed as reports are, not a report itself. */
function quoteRoute(app: App) {
  return (req: Request, res: Response) => {
    const raw = Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0);
    checkSignature(app, { key: req.get('x-gravenel-key'), id: req.get('webhook-id'), timestamp: req.get('webhook-timestamp'), signature: req.get('webhook-signature') }, raw);
    let body: unknown;
    try {
      body = JSON.parse(raw.toString('utf8'));
    } catch (cause) {
      throw new Problem('malformed', 'The body is not valid JSON', { cause });
    }
    validate(QuoteReport, body);
    res.status(201).json(app.transaction(() => quote(app, body as QuoteReport)));
  };
}

// 1 × 1, transparent
const picture = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');

/** What is said of a picture: recorded is only what counts. */
export function pictureOutcome({ status, answer }: Taken): string {
  return status === 201 ? 'unconfirmed' : answer.outcome;
}

function pictureRoute(app: App) {
  return (req: Request, res: Response) => {
    const query = req.query as Record<string, string | undefined>;
    const key = String(req.params.key).replace(/\.gif$/, '');
    const answer = (status: number, outcome: string, said: string, order: string | null, body: string) => {
      log(app, { call: 'picture', way: 'picture', key: key.slice(0, 60), reference: referenceIn(query, 'order'), body }, outcome, status, said, order);
      res.status(status === 404 ? 404 : 200).set({ 'cache-control': 'no-store', 'x-gravenel-outcome': outcome }).type('gif').send(picture);
    };
    const asked = JSON.stringify(query);
    const known = app.db.select({ pictures: keys.pictures }).from(keys).where(eq(keys.id, key)).get();
    if (!known) return answer(404, 'refused', `The key ${key.slice(0, 40)} is not known here`, null, asked);
    if (!known.pictures) return answer(403, 'refused', 'This key takes no pictures: switch them on for it on the Connection page', null, asked);
    const visitor = readCookie(req.headers.cookie, visitorCookie);
    const report = {
      order: query.order, placedAt: new Date(app.clock.now()).toISOString(), currency: query.currency, lines: [{ product: query.product, quantity: 1, amount: query.amount }],
      ...(query.payment ? { payment: query.payment } : {}), ...(query.visit ? { visit: query.visit } : {}), ...(visitor ? { visitor } : {}),
      ...(query.coupon ? { coupon: query.coupon } : {}), ...(query.test === 'true' || query.test === '1' ? { test: true } : {}),
    } as OrderReport;
    try {
      const taken = app.transaction(() => {
        validate(OrderReport, report);
        const order = normaliseOrder(app, report);
        // a picture may be loaded again at any later moment: its own moment is no part of what it says
        const content = JSON.stringify([query.order, query.payment, query.currency, query.product, query.amount, query.visit, query.coupon, query.test]);
        return takePicture(app, { ...order, content }, key);
      });
      return answer(taken.status, pictureOutcome(taken), taken.said, taken.order, asked);
    } catch (thrown) {
      const problem = problemFrom(thrown);
      if (problem.code === 'internal') app.log.error({ err: thrown, call: 'picture' }, 'a report failed');
      return answer(problem.status, outcomeOf(problem), problem.message, null, asked);
    }
  };
}

/** Reports a minute that one key may send, from GRAVENEL_REPORTS_PER_MINUTE. */
const perMinute = () => Number(process.env.GRAVENEL_REPORTS_PER_MINUTE ?? 6000);

/** The calls of the tracking contract. Mounted before the JSON parser: signatures cover the raw body. */
export function reportRoutes(server: Express, app: App): void {
  const limit = rateLimit({
    windowMs: 60_000, limit: perMinute(), standardHeaders: 'draft-7', legacyHeaders: false, validate: false,
    keyGenerator: (req: Request) => req.get('x-gravenel-key') ?? `from ${req.ip ?? 'nowhere'}`,
    handler: (_req: Request, _res: Response, next: NextFunction) => next(new Problem('too-many', `More than ${perMinute()} reports in a minute; send this one again later`, { retryAfter: 60 })),
  });
  server.use(['/api/track', '/px'], (_req, res, next) => { res.set('x-content-type-options', 'nosniff'); next(); });
  const raw = express.raw({ type: () => true, limit: '256kb' });
  server.post('/api/track/v1/orders', limit, raw, reportRoute(app, 'order', 'order', OrderReport, (a, body: OrderReport) => takeOrder(a, normaliseOrder(a, body), 'server')));
  server.post('/api/track/v1/refunds', limit, raw, reportRoute(app, 'refund', 'refund', RefundSchema, (a, body: RefundReport) => takeRefund(a, body)));
  server.post('/api/track/v1/renewals', limit, raw, reportRoute(app, 'renewal', 'payment', RenewalReport, (a, body: RenewalReport) => takeRenewal(a, body)));
  server.post('/api/track/v1/leads', limit, raw, reportRoute(app, 'lead', 'lead', LeadReport, (a, body: LeadReport) => takeLead(a, body)));
  server.post('/api/track/v1/quotes', limit, raw, quoteRoute(app));
  server.get('/px/:key', limit, pictureRoute(app));
}

/** The buy button: a link to the sales page with the price of this moment and the true number left at it. */
export function buttonRoute(server: Express, app: App): void {
  server.get('/button.js', (_req, res) => {
    res.type('application/javascript').set({ 'cache-control': 'public, max-age=600', 'cross-origin-resource-policy': 'cross-origin', 'access-control-allow-origin': '*' }).send(`(function () {
  'use strict';
  var ORIGIN = ${JSON.stringify(app.address)}, own = document.currentScript, code = own && own.getAttribute('data-product');
  if (!code) return;
  var link = document.createElement('a'), note = document.createElement('span');
  link.className = 'gravenel-buy'; note.className = 'gravenel-left'; link.textContent = own.getAttribute('data-text') || 'Buy';
  own.parentNode.insertBefore(link, own); own.parentNode.insertBefore(note, own);
  function show() {
    fetch(ORIGIN + '/api/open/v1/products/' + encodeURIComponent(code)).then(function (r) { return r.ok ? r.json() : null; }).then(function (offer) {
      if (!offer) return;
      var visit = window.gravenel && window.gravenel.visit();
      if (offer.onSale) link.href = offer.page + (visit ? (offer.page.indexOf('?') < 0 ? '?' : '&') + 'gvn=' + encodeURIComponent(visit) : '');
      else link.removeAttribute('href');
      link.textContent = (own.getAttribute('data-text') || 'Buy') + (offer.asked[0] ? ' \u00b7 ' + offer.asked[0].value + ' ' + offer.asked[0].currency : '');
      link.title = offer.asked.slice(1).map(function (p) { return p.value + ' ' + p.currency; }).join(', ');
      note.textContent = offer.left === null ? '' : offer.left === 0 ? ' sold out' : ' ' + offer.left + ' left at this price';
    }).catch(function () {});
  }
  show();
  setInterval(show, 30000);
})();
`);
  });
}

/** The page snippet: keeps the visit in first-party storage for the window and gives it to the shop's checkout. */
export function snippetRoute(server: Express, app: App): void {
  server.get('/gravenel.js', (_req, res) => {
    const days = theProgramme(app).windowDays;
    res.type('application/javascript').set({ 'cache-control': 'public, max-age=600', 'cross-origin-resource-policy': 'cross-origin', 'access-control-allow-origin': '*' }).send(`(function () {
  'use strict';
  var KEY = 'gvn', WINDOW = ${days} * 86400000, ORIGIN = ${JSON.stringify(app.address)};
  function read() {
    try {
      var kept = JSON.parse(localStorage.getItem(KEY) || 'null');
      return kept && kept.at > Date.now() - WINDOW ? kept.visit : null;
    } catch (e) { return null; }
  }
  var match = /[?&]gvn=(vis_[0-9a-z]+)/.exec(location.search);
  if (match) try { localStorage.setItem(KEY, JSON.stringify({ visit: match[1], at: Date.now() })); } catch (e) {}
  window.gravenel = {
    visit: read,
    picture: function (key, order) {
      var parts = [];
      for (var name in order) if (order[name] != null) parts.push(name + '=' + encodeURIComponent(order[name]));
      var visit = read();
      if (visit && !order.visit) parts.push('visit=' + visit);
      new Image().src = ORIGIN + '/px/' + encodeURIComponent(key) + '.gif?' + parts.join('&');
    }
  };
  function fill() {
    var visit = read();
    var fields = document.querySelectorAll('input[name=gvn]');
    for (var i = 0; i < fields.length; i++) if (visit && !fields[i].value) fields[i].value = visit;
  }
  if (document.readyState === 'loading') document.addEventListener('DOMContentLoaded', fill); else fill();
})();
`);
  });
}
