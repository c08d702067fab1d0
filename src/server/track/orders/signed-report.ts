import { eq } from 'drizzle-orm';
import { formatMoney } from '../../../core/money/amount';
import type { Id } from '../../../core/text/id';
import { describeDifference, orderReason } from '../../../core/tracking/reason';
import type { App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { orderLines, orders, refunds } from '../../ground/tables/orders';
import { regrant } from '../../ledger/regrant';
import { record } from '../../registers/access/audit';
import { queue } from '../../registers/outbox/queue';
import { theProgramme } from '../../registers/programme/record';
import { regrantShares } from '../crediting/regrant-shares';
import { couponOf } from './coupon';
import { creditOrder, nameOf, statements } from './credit';
import type { NormalOrder } from './normalise';
import { grantEarned, sharedOrder, theShop, workedOut, writeLines, type Incoming } from './resolving';
import { recountSold, unitsIn } from './sold';
import { beginSubscription } from './subscriptions';
import type { Warning } from './warnings';
import { bothWays } from './ways';

type OrderRecord = typeof orders.$inferSelect;

/** An order that was known by a picture, as its signed report has it. */
interface Signed {
  row: OrderRecord;
  /** what the shop is to know of it */
  warnings: Warning[];
}

/** Who is credited: whom the confirmed sale credits, else whom the signed report does. */
function creditOf(app: App, before: OrderRecord, order: NormalOrder) {
  const found = creditOrder(app, order);
  if (before.affiliate === null) return { ...found, at: Math.max(order.placedAt, found.visitAt) };
  const visit = before.visit ? statements(app).visit.get(before.visit) : undefined;
  return {
    credit: before.credit,
    visitAt: visit?.at ?? 0,
    at: before.resolvedAt ?? before.placedAt,
    other: found.credit.affiliate,
  };
}

/** The sale stays with whom a person confirmed it for; a report that would credit somebody else is told so. */
function creditWarning(app: App, before: OrderRecord, other: Id<'affiliate'> | null | undefined): Warning[] {
  if (!other || before.affiliate === null || other === before.affiliate) return [];
  return [
    {
      pointer: '/visit',
      detail: `The sale stays credited to ${nameOf(app, before.affiliate)}, for whom a person confirmed it; by this report it would be ${nameOf(app, other)}`,
    },
  ];
}

function writeOrder(app: App, before: OrderRecord, coming: Incoming): OrderRecord {
  const { order, credit, at, resolution, values } = coming;
  const granted = resolution?.working.total ?? 0;
  const lines = resolution?.working.lines ?? null;
  const anew = {
    ...{ way: 'server' as const, content: order.content, customer: order.customer },
    ...{ currency: order.currency, rateMicros: order.rateMicros, subscription: order.subscription },
    value: values.reduce((sum, v) => sum + v.value, 0),
    base: values.reduce((sum, v) => sum + v.base, 0),
    ...couponOf(app, order, { at, way: 'server' }),
    ...{ affiliate: credit.affiliate, visit: credit.visit, creditedBy: credit.by, credit },
    reason: orderReason(credit.reason, { isTest: false, total: granted, lines }),
    ...{ working: resolution?.working ?? null, granted, resolvedAt: at },
    otherWay: { code: 'picture-before' as const, ...swapped(before, order) },
  };
  app.db.update(orders).set(anew).where(eq(orders.id, before.id)).run();
  return { ...before, ...anew };
}

/** What counts is the signed report; what came the other way is the picture. */
function swapped(before: OrderRecord, order: NormalOrder) {
  const { counts, reported } = bothWays(before, order);
  return { counts: reported, reported: counts };
}

/** Tells the merchant, and the history, what the signed report changed of a sale that a person had confirmed. */
function tell(app: App, before: OrderRecord, after: OrderRecord): void {
  const { base, contact, name } = theProgramme(app);
  const worth = (row: OrderRecord) => formatMoney({ amount: row.value, currency: row.currency });
  const earns = (row: OrderRecord) => formatMoney({ amount: row.granted, currency: base });
  const words = (row: OrderRecord) => ({ order: row.reference, value: worth(row), commission: earns(row) });
  record(app, theShop, 'sale-corrected-by-report', {
    subject: after.id,
    before: words(before),
    after: words(after),
  });
  queue(app, {
    to: contact,
    affiliate: null,
    kind: 'sale-corrected-by-report',
    subject: `Order ${after.reference}: the signed report differs from what was confirmed`,
    subjectOf: after.id,
    body: `Order ${after.reference} was confirmed as a picture reported it: ${worth(before)}, commission ${earns(before)}. Its signed report has come, and it counts: ${worth(after)}, commission ${earns(after)}.\n\n${app.address}/sales/${after.id}\n\n${name}`,
  });
}

const linesOf = (app: App, id: Id<'order'>) =>
  app.db.select().from(orderLines).where(eq(orderLines.order, id)).orderBy(orderLines.position).all();

/** @throws Problem `contradicts` where money was given back of what the picture said: it cannot be told of which lines */
function refuseRefunded(app: App, before: OrderRecord, order: NormalOrder): void {
  const refunded = app.db.select({ id: refunds.id }).from(refunds).where(eq(refunds.order, before.id)).get();
  const { counts, reported } = bothWays(before, order);
  const differs = describeDifference(counts, reported) ?? 'but the lines differ';
  if (refunded)
    throw new Problem(
      'contradicts',
      `Order ${order.reference} was confirmed by a person as a picture reported it, ${differs}, and it was refunded since: nothing was changed. Correct its commission instead`,
    );
}

/** True where the signed report credits the same and has the same lines: nothing has to be worked out anew. */
function saysTheSame(
  before: OrderRecord,
  old: readonly (typeof orderLines.$inferSelect)[],
  { order, credit, values }: Incoming,
): boolean {
  const said = order.lines.map(({ product, quantity, amount, discount, step }, i) => {
    return [product.id, quantity, amount, discount, step, values[i]!.base];
  });
  const known = old.map((l) => [l.product, l.quantity, l.amount, l.discount, l.step, l.base]);
  return credit.affiliate === before.affiliate && JSON.stringify(said) === JSON.stringify(known);
}

/** Only how the sale is known changes. */
function signOnly(app: App, before: OrderRecord, order: NormalOrder): OrderRecord {
  const at = before.resolvedAt ?? before.placedAt;
  const signed = {
    ...{ way: 'server' as const, content: order.content, customer: order.customer },
    ...couponOf(app, order, { at, way: 'server' }),
    subscription: order.subscription,
    otherWay: { code: 'picture-before' as const, ...swapped(before, order) },
  };
  app.db.update(orders).set(signed).where(eq(orders.id, before.id)).run();
  return { ...before, ...signed };
}

/** Lines, value and commission become what the signed report says. Shares first: what a person corrected of the commission has to fit beside them. */
function replaceOrder(app: App, before: OrderRecord, coming: Incoming): OrderRecord {
  app.db.delete(orderLines).where(eq(orderLines.order, before.id)).run();
  const row = writeOrder(app, before, coming);
  writeLines(app, coming);
  const memo = `Order ${row.reference}, signed report`;
  regrantShares(app, theShop, sharedOrder(coming), memo);
  const { affiliate, granted } = row;
  if (!regrant(app, theShop, { order: before.id, kind: 'commission', affiliate, granted, memo }))
    grantEarned(app, coming, 'server');
  const differs = (['value', 'currency', 'granted', 'affiliate'] as const).some((f) => row[f] !== before[f]);
  if (differs) tell(app, before, row);
  return row;
}

/**
 * The signed report of a sale that a person confirmed as a picture reported it: from now on the report counts. Lines, value
 * and commission become what it says, on the terms of the sale; what was granted is corrected by an entry, whether it was
 * paid or not; the merchant is told where anything differs. Call inside a transaction.
 * @throws Problem `contradicts` where the values differ and the sale was refunded since
 */
export function applySignedReport(app: App, before: OrderRecord, reported: NormalOrder): Signed {
  if (reported.test)
    throw new Problem(
      'contradicts',
      `Order ${reported.reference} was confirmed by a person as a real sale, and is reported as a test: nothing was changed`,
    );
  const order = { ...reported, number: before.number };
  const { other, ...circumstances } = { other: null, ...creditOf(app, before, order) };
  const coming = workedOut(app, order, {
    ...{ id: before.id, approvedAt: circumstances.at },
    ...circumstances,
  });
  const old = linesOf(app, before.id);
  const isSame = saysTheSame(before, old, coming);
  if (!isSame) refuseRefunded(app, before, order);
  const row = isSame ? signOnly(app, before, order) : replaceOrder(app, before, coming);
  recountSold(app, order, { id: before.id, before: unitsIn(old) });
  if (order.subscription !== null) beginSubscription(app, order, row);
  return { row, warnings: creditWarning(app, before, other) };
}
