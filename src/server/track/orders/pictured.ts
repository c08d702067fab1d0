import { and, asc, eq, isNull, lt, lte, sql } from 'drizzle-orm';
import { type ReportAnswer } from '../../../contract/track/signed-calls';
import { affiliatesIn, describeCredit } from '../../../core/attribution/reason';
import { millisecondsInDay } from '../../../core/calendar/zone';
import { convertToBase, toDecimal } from '../../../core/money/amount';
import { misfitOf } from '../../../core/pricing/misfit';
import type { Id } from '../../../core/text/id';
import { describeOtherWay, type OtherWay } from '../../../core/tracking/reason';
import { type Actor, type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { afterCursor, cut, inOrder } from '../../ground/db/page';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
import { orders, pictured } from '../../ground/tables/orders';
import { record } from '../../registers/access/audit';
import { namesOf } from '../../registers/access/names';
import { detailsOf } from '../../registers/catalogue/details';
import { priceNow } from '../../registers/catalogue/price';
import { productById, type ProductRecord } from '../../registers/catalogue/store';
import { rateOn } from '../../registers/exchange/rates';
import { theProgramme } from '../../registers/programme/record';
import { creditOrder } from './credit';
import { answerFor, takeOrder, type Taken } from './intake';
import type { NormalOrder } from './normalise';
import { takeRenewal } from './payments';
import { bothWays, picturedAs } from './ways';

type OrderRecord = typeof orders.$inferSelect;
export type PicturedRecord = typeof pictured.$inferSelect;

/** Unconfirmed for so long, a sale stands on Today. */
export const unconfirmedDays = 7;

const statements = perApp((app) => ({
  recorded: rowsBy(app, orders, ['reference', 'payment']),
}));

const unconfirmed =
  'unconfirmed: only a picture reported it, which anybody can; it waits for the signed report or for a person';

/** @param product read anew: a stepped price follows what was sold */
function priceIn(product: ProductRecord, currency: string): number | null {
  return currency === product.currency
    ? (priceNow(product).presentPrice?.amount ?? null)
    : (detailsOf(product).prices[currency] ?? null);
}

function answer(row: PicturedRecord, outcome: ReportAnswer['outcome']): Taken {
  return {
    status: outcome === 'recorded' ? 201 : 200,
    said: `${unconfirmed}${row.misfit ? '; its price or quantity does not fit the product' : ''}`,
    order: null,
    answer: { outcome, order: row.reference, credited: null, reason: unconfirmed, commissions: [] },
  };
}

/** The answer to a test picture: nothing is kept of it. */
const testTaken = (reference: string): Taken => ({
  status: 200,
  said: 'a test picture: it came as it should, and nothing is kept of it',
  order: null,
  answer: {
    outcome: 'already-recorded',
    order: reference,
    credited: null,
    reason: 'a test picture: nothing is kept of it',
    commissions: [],
  },
});

/** A picture of an order that is recorded already: the two are compared, and what differs is kept at the order. */
function comparedWith(app: App, recorded: OrderRecord, order: NormalOrder): Taken {
  const otherWay: OtherWay = { code: 'picture-after', ...bothWays(recorded, order) };
  if (recorded.otherWay === null && recorded.way === 'server')
    app.db.update(orders).set({ otherWay }).where(eq(orders.id, recorded.id)).run();
  return {
    status: 200,
    said: describeOtherWay(otherWay),
    order: recorded.id,
    answer: answerFor(app, recorded, 'already-recorded', 'granted'),
  };
}

function keepPicture(app: App, order: NormalOrder, key: string): void {
  const { product, amount } = order.lines[0]!;
  const { credit } = creditOrder(app, order);
  const { reference, payment, placedAt, day, currency, visit, visitor, content } = order;
  app.db
    .insert(pictured)
    .values({
      id: newId('pictured'),
      ...{ reference, payment, day, currency, visit, visitor, content },
      at: placedAt,
      key,
      product: product.id,
      amount,
      coupon: null,
      affiliate: credit.affiliate,
      reason: credit.reason,
      misfit: misfitOf(amount, priceIn(productById(app, product.id)!, currency), currency),
    })
    .run();
}

/**
 * Takes what a picture says of a sale: kept as unconfirmed, or, where the order is recorded already, compared with it. It grants nothing, takes no
 * stock and delivers nothing. Call inside a transaction. @throws Problem `contradicts` where a picture said something else before
 */
export function takePicture(app: App, order: NormalOrder, key: string): Taken {
  if (order.test) return testTaken(order.reference);
  const recorded = statements(app).recorded.get(order.reference, order.payment);
  if (recorded) return comparedWith(app, recorded, order);
  const before = picturedAs(app, order);
  if (before && before.content !== order.content)
    throw new Problem(
      'contradicts',
      `Order ${order.reference} was reported by a picture with other values before: neither counts until the signed report comes`,
    );
  if (before) return answer(before, 'already-recorded');
  keepPicture(app, order, key);
  return answer(picturedAs(app, order)!, 'recorded');
}

function openById(app: App, id: Id<'pictured'>): PicturedRecord {
  const row = app.db.select().from(pictured).where(eq(pictured.id, id)).get();
  if (!row) throw new Problem('not-found', 'This unconfirmed sale does not exist');
  if (row.state !== 'open')
    throw new Problem(
      'conflict',
      {
        reported: 'The signed report of this sale has come meanwhile: it counts',
        confirmed: 'Somebody confirmed this sale already',
        'set-aside': 'Somebody set this sale aside already',
      }[row.state],
    );
  return row;
}

/** Records the sale that a picture reported. It is always paid after hold. */
function takeAsSaid(app: App, row: PicturedRecord): Taken {
  const product = productById(app, row.product)!;
  const rateMicros = rateOn(app, row.currency, row.day);
  if (rateMicros === null)
    throw new Problem(
      'conflict',
      `No exchange rate between ${row.currency} and ${theProgramme(app).base} is known for ${row.day}; enter one under Settings`,
    );
  return takeOrder(
    app,
    {
      reference: row.reference,
      payment: row.payment,
      placedAt: row.at,
      day: row.day,
      currency: row.currency,
      rateMicros,
      visit: row.visit,
      visitor: row.visitor,
      customer: null,
      email: '',
      test: false,
      lines: [{ product, quantity: 1, amount: row.amount, discount: 0, step: null, quote: null }],
      event: 'sale',
      number: 1,
      subscription: null,
      warnings: [],
      content: row.content,
    },
    'picture',
  );
}

/** Records an unconfirmed sale that a person confirmed: a picture's sale after hold, a signed payment as reported. Call inside a transaction. */
export function confirmPictured(app: App, actor: Actor, id: Id<'pictured'>): { order: Id<'order'> } {
  const row = openById(app, id);
  const taken = row.report ? takeRenewal(app, row.report, true) : takeAsSaid(app, row);
  app.db
    .update(pictured)
    .set({ state: 'confirmed', order: taken.order, decidedAt: app.clock.now(), decidedBy: actor.id })
    .where(eq(pictured.id, id))
    .run();
  record(app, actor, 'sale-confirmed', {
    subject: taken.order!,
    before: null,
    after: {
      order: row.reference,
      amount: toDecimal(row.amount, row.currency),
      currency: row.currency,
    },
  });
  return { order: taken.order! };
}

/** A person says that the sale did not happen. The signed report still counts, if it comes. */
export function setPicturedAside(
  app: App,
  actor: Actor,
  id: Id<'pictured'>,
  note: string,
): { state: string } {
  const row = openById(app, id);
  app.db
    .update(pictured)
    .set({ state: 'set-aside', decidedAt: app.clock.now(), decidedBy: actor.id, note })
    .where(eq(pictured.id, id))
    .run();
  record(app, actor, 'sale-set-aside', {
    subject: row.id,
    before: { order: row.reference },
    after: { reason: note },
  });
  return { state: 'set-aside' };
}

const longAgo = (app: App) => app.clock.now() - unconfirmedDays * millisecondsInDay;

/** Unconfirmed sales, and of them those that have waited for longer than a week. */
export function countUnconfirmed(app: App): { open: number; old: number; since: number | null } {
  const before = longAgo(app);
  const row = app.db
    .select({
      open: sql<number>`count(*)`,
      old: sql<number>`coalesce(sum(${pictured.at} <= ${before}), 0)`,
      since: sql<number | null>`min(${pictured.at})`,
    })
    .from(pictured)
    .where(eq(pictured.state, 'open'))
    .get()!;
  return row;
}

const keyset = { by: pictured.at, id: pictured.id, order: 'desc' } as const;

export function listPictured(
  app: App,
  filter: { state?: PicturedRecord['state']; old?: boolean; after?: string; limit?: number },
) {
  const limit = filter.limit ?? 50;
  const { base } = theProgramme(app);
  const old = filter.old ? lte(pictured.at, longAgo(app)) : undefined;
  const found = app.db
    .select()
    .from(pictured)
    .where(and(eq(pictured.state, filter.state ?? 'open'), old, afterCursor(keyset, filter.after)))
    .orderBy(...inOrder(keyset), asc(pictured.reference))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.at, r.id]);
  const name = namesOf(
    app,
    rows.flatMap((r) => [r.affiliate, r.decidedBy, ...affiliatesIn(r.reason)]),
  );
  return {
    next,
    rows: rows.map((r) => {
      const rate = rateOn(app, r.currency, r.day);
      return {
        id: r.id,
        reference: r.reference,
        payment: r.payment,
        at: r.at,
        product: productById(app, r.product)?.name ?? '',
        affiliate: r.affiliate === null ? null : name(r.affiliate),
        affiliateId: r.affiliate,
        reason: describeCredit(r.reason, name),
        value: { amount: r.amount, currency: r.currency },
        base:
          rate === null ? null : { amount: convertToBase(r.amount, r.currency, base, rate), currency: base },
        misfit: r.misfit,
        signed: r.report !== null,
        state: r.state,
        order: r.order,
        note: r.note,
        decidedBy: r.decidedBy === null ? '' : name(r.decidedBy),
      };
    }),
  };
}

/** What the sales that are unconfirmed for longer than a week come to, minor units of base at the rates of their days; those of a currency without a rate are left out. */
export function unconfirmedSum(app: App): number {
  const { base } = theProgramme(app);
  const rows = app.db
    .select({ currency: pictured.currency, day: pictured.day, n: sql<number>`sum(${pictured.amount})` })
    .from(pictured)
    .where(and(eq(pictured.state, 'open'), lte(pictured.at, longAgo(app))))
    .groupBy(pictured.currency, pictured.day)
    .all();
  return rows.reduce((sum, r) => {
    const rate = rateOn(app, r.currency, r.day);
    return rate === null ? sum : sum + convertToBase(r.n, r.currency, base, rate);
  }, 0);
}

/** Forgets sales that only a picture reported before a moment and that nobody took up. @returns how many */
export function forgetPictured(app: App, before: number): number {
  return app.db
    .delete(pictured)
    .where(and(lt(pictured.at, before), isNull(pictured.order), isNull(pictured.report)))
    .run().changes;
}
