import { eq } from 'drizzle-orm';
import type { RehearsalOut } from '../../../contract/setup/rate-book';
import { addDays, dayOf, isDay } from '../../../core/calendar/zone';
import type { Spent } from '../../../core/terms/caps';
import { asIfAlways } from '../../../core/terms/draft';
import { isLocked, termsAt } from '../../../core/terms/members';
import { presentLines } from '../../../core/terms/present';
import { rehearsal, type Difference, type RehearsalResult } from '../../../core/terms/rehearse';
import { resolveWithWorking } from '../../../core/terms/resolve-working';
import { isId, type Id } from '../../../core/text/id';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { orderLines, orders } from '../../ground/tables/orders';
import { rehearsals } from '../../ground/tables/terms';
import { affiliateNames } from '../../registers/people/names';
import { theProgramme } from '../../registers/programme/record';
import { datedChanges, openDraft } from './draft-store';
import {
  mostListed,
  running,
  showRehearsal,
  type Kept,
  type RehearsalRecord,
  type Result,
} from './rehearsal-view';
import { earlierPayments, latestOrders } from './replay';
import { indexed, theTerms, type Terms } from './store';

function find(app: App, id: Id<'rehearsal'>): RehearsalRecord {
  const row = app.db.select().from(rehearsals).where(eq(rehearsals.id, id)).get();
  if (!row) throw new Problem('not-found', 'This rehearsal does not exist');
  return row;
}

export function readRehearsal(app: App, id: Id<'rehearsal'>): RehearsalOut {
  return showRehearsal(app, find(app, id));
}

/** Begins to replay a span of days under the open draft. One runs at a time for a person: a new one stops the one before. */
export function startRehearsal(app: App, actor: Actor, span: { from: string; to: string }): RehearsalOut {
  const draft = openDraft(app, actor);
  if (!draft) throw new Problem('conflict', 'There is no draft to rehearse: change a rate first');
  const { zone, base } = theProgramme(app);
  const today = dayOf(app.clock.now(), zone);
  if (!isDay(span.from)) throw refuse('from', 'From is not a day of the calendar', addDays(today, -90));
  if (!isDay(span.to)) throw refuse('to', 'To is not a day of the calendar', today);
  if (span.to < span.from) throw refuse('to', `To lies before from, ${span.from}`, today);
  if (span.from > today)
    throw refuse('from', 'A rehearsal replays the past: from lies in the future', addDays(today, -90));
  const changes = datedChanges(app, draft);
  const id = newId('rehearsal');
  app.db
    .insert(rehearsals)
    .values({
      id,
      draft: draft.id,
      draftVersion: draft.version,
      by: actor.id,
      at: app.clock.now(),
      ...span,
      state: 'running',
    })
    .run();
  for (const other of app.db.select().from(rehearsals).where(eq(rehearsals.draft, draft.id)).all())
    if (other.id !== id) stop(app, other.id);
  const began = app.clock.real();
  const job = app.rehearser.run(
    { terms: asIfAlways(theTerms(app).data, changes), base, ...span },
    (done, total) => {
      const own = running(app).get(id);
      if (own) Object.assign(own, { done, total });
    },
  );
  running(app).set(id, { done: 0, total: 0, cancel: job.cancel });
  job.result
    .then((found) => {
      const own = running(app).get(id);
      if (!own) return;
      const kept: Kept = { changes, result: inWords(app, found) };
      app.db
        .update(rehearsals)
        .set({
          state: 'done',
          done: own.done,
          total: own.total,
          tookMs: app.clock.real() - began,
          result: kept,
        })
        .where(eq(rehearsals.id, id))
        .run();
      running(app).delete(id);
    })
    .catch((fault: unknown) => {
      if (!running(app).delete(id)) return;
      app.log.error({ err: fault, rehearsal: id }, 'a rehearsal failed');
      app.db.update(rehearsals).set({ state: 'failed' }).where(eq(rehearsals.id, id)).run();
    });
  return showRehearsal(app, find(app, id));
}

function stop(app: App, id: Id<'rehearsal'>): void {
  const own = running(app).get(id);
  if (!own) return;
  running(app).delete(id);
  own.cancel();
  app.db
    .update(rehearsals)
    .set({ state: 'cancelled', done: own.done, total: own.total })
    .where(eq(rehearsals.id, id))
    .run();
}

export function cancelRehearsal(app: App, id: Id<'rehearsal'>): RehearsalOut {
  find(app, id);
  stop(app, id);
  return readRehearsal(app, id);
}

/** Names of products by id. */
const productNames = (app: App) =>
  new Map(
    app.db
      .select({ id: products.id, name: products.name })
      .from(products)
      .all()
      .map((p) => [p.id, p.name]),
  );

const referenceOf = (app: App, id: Id<'order'>): string =>
  app.db.select({ reference: orders.reference }).from(orders).where(eq(orders.id, id)).get()?.reference ?? id;

/** The largest difference first, whichever way. */
const largestFirst = <I extends string>(map: Map<I, Difference>) =>
  [...map].sort(
    ([a, x], [b, y]) => Math.abs(y.drafted - y.stored) - Math.abs(x.drafted - x.stored) || (a < b ? -1 : 1),
  );

function inWords(app: App, found: RehearsalResult): Result {
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const sums = ({ stored, drafted }: Pick<Difference, 'stored' | 'drafted'>) => ({
    stored: money(stored),
    drafted: money(drafted),
    difference: money(drafted - stored),
  });
  const people = largestFirst(found.affiliates).filter(([, d]) => d.drafted !== d.stored);
  const less = people
    .filter(([, d]) => d.drafted < d.stored)
    .sort(([, x], [, y]) => x.drafted - x.stored - (y.drafted - y.stored));
  const [peopleListed, lessListed] = [people.slice(0, mostListed), less.slice(0, mostListed)];
  const known = affiliateNames(app, [
    ...[...peopleListed, ...lessListed].map(([id]) => id),
    ...found.most.map((m) => m.affiliate),
  ]);
  const name = (id: string) => known.get(id) ?? id;
  const product = productNames(app);
  return {
    orders: found.orders,
    lines: found.total.lines,
    changed: found.changed,
    ...sums(found.total),
    products: largestFirst(found.products).map(([id, d]) => ({
      id,
      name: product.get(id) ?? id,
      lines: d.lines,
      ...sums(d),
    })),
    affiliates: peopleListed.map(([id, d]) => ({ id, name: name(id), lines: d.lines, ...sums(d) })),
    affiliatesChanged: people.length,
    less: lessListed.map(([id, d]) => ({ id, name: name(id), difference: money(d.drafted - d.stored) })),
    lessCount: less.length,
    most: found.most.map((m) => ({
      order: m.order,
      position: m.position,
      reference: referenceOf(app, m.order),
      affiliate: name(m.affiliate),
      product: product.get(m.product) ?? m.product,
      ...sums(m),
    })),
  };
}

/** What the earlier payments of the same order would have earned under caps by some terms; undefined where there are none. */
function spentUnder(app: App, { book, roll }: Terms, order: typeof orders.$inferSelect): Spent | undefined {
  if (order.number <= 1 || (order.event !== 'sale' && order.event !== 'renewal')) return undefined;
  const { base } = theProgramme(app);
  const run = rehearsal(book, roll, base);
  for (const payment of earlierPayments(app.sqlite, base, order)) run.before({ ...payment, whole: order.id });
  return run.spentOf(order.id);
}

/** A line that a rehearsal changed, with the working that was stored and the one under the draft. */
export function compareLine(app: App, id: Id<'rehearsal'>, orderId: Id<'order'>, position: number) {
  const row = find(app, id);
  if (row.state !== 'done') throw new Problem('conflict', 'This rehearsal has no result');
  const order = app.db.select().from(orders).where(eq(orders.id, orderId)).get();
  if (!order?.affiliate) throw new Problem('not-found', 'This sale does not exist');
  const { base } = theProgramme(app);
  const terms = indexed(asIfAlways(theTerms(app).data, (row.result as Kept).changes));
  const at = order.resolvedAt ?? order.placedAt;
  const known = new Map(
    app.db
      .select()
      .from(products)
      .all()
      .map((p) => [p.id, p]),
  );
  const lines = app.db
    .select()
    .from(orderLines)
    .where(eq(orderLines.order, orderId))
    .orderBy(orderLines.position)
    .all()
    .map((l) => ({
      product: l.product,
      name: known.get(l.product)?.name ?? l.product,
      kind: known.get(l.product)?.kind ?? '',
      step: l.step,
      quantity: l.quantity,
      amount: l.amount,
      discount: l.discount,
      approved: l.approved,
      locked: isLocked(terms.roll, l.product, order.event, at),
    }));
  const working = resolveWithWorking(terms.book, termsAt(terms.roll, order.affiliate, at), {
    event: order.event,
    at,
    payment: order.number,
    currency: order.currency,
    base,
    rateMicros: order.rateMicros,
    lines,
    spent: spentUnder(app, terms, order),
  });
  const drafted = presentLines(working)[position];
  if (!drafted) throw new Problem('not-found', 'This line does not exist');
  return {
    reference: order.reference,
    stored: order.working ? (presentLines(order.working)[position] ?? null) : null,
    drafted,
  };
}

const sampled = 2000;

/** The last lines and the terms that they need, for an estimate in the page while somebody types. */
export function readSample(app: App, actor: Actor) {
  const past: ReturnType<typeof latestOrders> = [];
  let lines = 0;
  for (const order of latestOrders(app.sqlite, theProgramme(app).base, sampled)) {
    if (lines + order.lines.length > sampled) break;
    lines += order.lines.length;
    past.push(order);
  }
  const people = new Set(past.map((o) => o.affiliate));
  const { data } = theTerms(app);
  const draft = openDraft(app, actor);
  return {
    since: past.length ? Math.min(...past.map((o) => o.at)) : null,
    lines,
    orders: past,
    changes: draft ? datedChanges(app, draft) : [],
    terms: {
      ...data,
      rates: data.rates.filter((r) => r.who === null || !isId(r.who, 'affiliate') || people.has(r.who)),
      members: data.members.filter((m) => people.has(m.affiliate)),
    },
  };
}
