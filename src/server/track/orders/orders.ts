import { and, eq, gte, inArray, isNotNull, isNull, lt, or, sql } from 'drizzle-orm';
import type { WorkingOut } from '../../../contract/setup/terms';
import { presentCredit } from '../../../core/attribution/present';
import { affiliatesIn } from '../../../core/attribution/reason';
import { formatMoment } from '../../../core/calendar/format';
import { addDays, isDay, startOfDay } from '../../../core/calendar/zone';
import { toDecimal } from '../../../core/money/amount';
import { presentExchange, presentLines, workingInWords } from '../../../core/terms/present';
import type { Id } from '../../../core/text/id';
import { affiliatesNamed, describeOrder, describeOtherWay } from '../../../core/tracking/reason';
import { type App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { perApp } from '../../ground/db/prepared';
import { RowTexts } from '../../ground/db/texts';
import { Problem, refuse } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { commissions } from '../../ground/tables/ledger';
import { orderLines, orders, refunds } from '../../ground/tables/orders';
import { affiliates } from '../../ground/tables/people';
import { reports } from '../../ground/tables/reports';
import { lifeOf } from '../../ledger/service';
import { namesOf } from '../../registers/access/names';
import { theProgramme } from '../../registers/programme/record';
import { shareSums } from '../crediting/shares';
import { sharesView } from '../crediting/shareview';
import { cameBy } from './came';
import { downloadsOf } from './downloads';

type OrderRecord = typeof orders.$inferSelect;

export interface OrderFilter {
  q?: string;
  affiliate?: Id<'affiliate'>;
  credited?: 'yes' | 'no';
  from?: string;
  to?: string;
  after?: string;
  limit?: number;
}

function dayStart(app: App, day: string, field: string, offset: number): number {
  if (!isDay(day)) throw refuse(field, `${day} is not a day of the calendar`, '2027-03-12');
  return startOfDay(addDays(day, offset), theProgramme(app).zone);
}

/** So many sales that fit are sorted; where more do, the newest of them are found soon by reading from the newest on. */
const fewEnough = 5_000;

const references = perApp(
  ({ sqlite }) => new RowTexts(sqlite, { table: 'orders', text: 'reference || char(31) || payment' }),
);

/** Reads on in the references that are kept for searching. @returns whether there is more */
export function prepareReferences(app: App): boolean {
  return references(app).prepare();
}

/** Row numbers of sales whose reference or payment has a part in it, newest first. */
export function salesNamed(app: App, part: string, most: number): number[] {
  return references(app).find(part, most);
}

/** Sales whose reference or payment, or whose affiliate's name, has a part in it. */
function matching(app: App, part: string) {
  const pattern = anywhere(part);
  const named = sql`SELECT ${affiliates.id} FROM ${affiliates} WHERE ${affiliates.name} LIKE ${pattern} ESCAPE '\\'`;
  const some = salesNamed(app, part, fewEnough + 1);
  if (some.length <= fewEnough)
    some.push(
      ...app.db
        .all<{ row: number }>(
          sql`SELECT o.rowid AS row FROM ${orders} o INDEXED BY orders_affiliate WHERE o.affiliate IN (${named}) LIMIT ${fewEnough + 1}`,
        )
        .map((r) => r.row),
    );
  if (some.length <= fewEnough)
    return sql`${orders}.rowid IN (SELECT value FROM json_each(${JSON.stringify(some)}))`;
  return or(
    ...[orders.reference, orders.payment].map((c) => sql`${c} LIKE ${pattern} ESCAPE '\\'`),
    sql`${orders.affiliate} IN (${named})`,
  );
}

function where(app: App, filter: OrderFilter) {
  if (filter.from && filter.to && filter.from > filter.to)
    throw refuse('to', `The range is reversed: ${filter.to} is before ${filter.from}`, filter.from);
  return and(
    filter.affiliate ? eq(orders.affiliate, filter.affiliate) : undefined,
    filter.credited === 'yes'
      ? isNotNull(orders.affiliate)
      : filter.credited === 'no'
        ? isNull(orders.affiliate)
        : undefined,
    filter.from ? gte(orders.placedAt, dayStart(app, filter.from, 'from', 0)) : undefined,
    filter.to ? lt(orders.placedAt, dayStart(app, filter.to, 'to', 1)) : undefined,
    filter.q ? matching(app, filter.q) : undefined,
  );
}

const keyset = { by: orders.placedAt, id: orders.id, order: 'desc' } as const;

function rowsOf(app: App, found: OrderRecord[]) {
  if (!found.length) return [];
  const { base } = theProgramme(app);
  const ids = found.map((o) => o.id);
  const names = new Map(
    app.db
      .select({
        order: orderLines.order,
        names: sql<string>`group_concat(${products.name}, ', ')`,
        left: sql<number>`sum(${orderLines.valueLeft})`,
      })
      .from(orderLines)
      .innerJoin(products, eq(products.id, orderLines.product))
      .where(inArray(orderLines.order, ids))
      .groupBy(orderLines.order)
      .all()
      .map((r) => [r.order, r]),
  );
  const earned = new Map(
    app.db
      .select()
      .from(commissions)
      .where(and(inArray(commissions.order, ids), eq(commissions.kind, 'commission')))
      .all()
      .map((c) => [c.order, c]),
  );
  const name = namesOf(
    app,
    found.flatMap((o) => [o.affiliate, ...affiliatesNamed(o.reason)]),
  );
  const shares = shareSums(app, ids);
  return found.map((o) => {
    const c = earned.get(o.id);
    const sold = names.get(o.id) ?? { names: '', left: o.value };
    const { referral = 0, 'co-owner': owners = 0 } = shares.get(o.id) ?? {};
    return {
      id: o.id,
      reference: o.reference,
      payment: o.payment,
      placedAt: o.placedAt,
      products: sold.names ?? '',
      affiliate: o.affiliate === null ? null : name(o.affiliate),
      affiliateId: o.affiliate,
      value: { amount: o.value, currency: o.currency },
      base: { amount: o.base, currency: base },
      commission: c ? { amount: c.held + c.cleared + c.inRun + c.paid, currency: base } : null,
      state: c?.state ?? null,
      shares: { amount: referral + owners, currency: base },
      refunded: (sold.left ?? o.value) < o.value,
      test: o.test,
      reason: describeOrder(o.reason, name),
      event: o.event,
      number: o.number,
    };
  });
}

export function listOrders(app: App, filter: OrderFilter) {
  const limit = filter.limit ?? 50;
  const found = app.db
    .select()
    .from(orders)
    .where(and(where(app, filter), afterCursor(keyset, filter.after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.placedAt, r.id]);
  return { rows: rowsOf(app, rows), next };
}

/** The stored workings of orders, each in one text. */
function workingsOf(app: App, ids: Id<'order'>[]): Map<string, string> {
  if (!ids.length) return new Map();
  const rows = app.db
    .select({ id: orders.id, working: orders.working })
    .from(orders)
    .where(inArray(orders.id, ids))
    .all();
  return new Map(rows.map((r) => [r.id, r.working ? workingInWords(r.working) : '']));
}

/** What the columns of an export of sales are. */
export const salesColumns = [
  'order',
  'payment',
  'placed_at',
  'products',
  'value',
  'currency',
  'value_base',
  'affiliate',
  'commission',
  'state',
  'reason',
  'kind',
  'payment_number',
  'referral_share',
  'co_owner_shares',
  'working',
];

/** Sales of one piece of an export. */
const inAPiece = 500;

/** A piece of an export of sales, newest first: its lines, and after which sale the next begins. */
export function salesPiece(
  app: App,
  filter: OrderFilter,
): { lines: (string | number | null)[][]; next: string | null } {
  const { zone } = theProgramme(app);
  const { rows, next } = listOrders(app, { ...filter, limit: inAPiece });
  const working = workingsOf(
    app,
    rows.map((r) => r.id),
  );
  const shares = shareSums(
    app,
    rows.map((r) => r.id),
  );
  const share = (id: string, kind: 'referral' | 'co-owner', currency: string) => {
    const amount = shares.get(id)?.[kind] ?? 0;
    return amount ? toDecimal(amount, currency) : '';
  };
  const lines = rows.map((r) => [
    r.reference,
    r.payment,
    formatMoment(r.placedAt, zone),
    r.products,
    toDecimal(r.value.amount, r.value.currency),
    r.value.currency,
    toDecimal(r.base.amount, r.base.currency),
    r.affiliate,
    r.commission ? toDecimal(r.commission.amount, r.commission.currency) : '',
    r.state ?? '',
    r.reason,
    r.event,
    r.number,
    share(r.id, 'referral', r.base.currency),
    share(r.id, 'co-owner', r.base.currency),
    working.get(r.id) ?? '',
  ]);
  return { lines, next };
}

/** The stored working of an order in words, with every change since. @param names false for affiliates: what the merchant calls its rates stays its own */
export function workingOf(app: App, order: OrderRecord, names = true): WorkingOut {
  const { base } = theProgramme(app);
  const { considered, reason } = order.credit;
  const name = namesOf(app, [
    order.affiliate,
    ...considered.map((c) => c.affiliate),
    ...affiliatesIn(reason),
  ]);
  const row = commissionOf(app, order.id);
  const money = (amount: number) => ({ amount, currency: base });
  const back = app.db
    .select()
    .from(refunds)
    .where(eq(refunds.order, order.id))
    .orderBy(refunds.at, refunds.id)
    .all();
  const changes = back.map((r) => ({
    at: r.at,
    what: `${r.kind === 'chargeback' ? 'Chargeback' : 'Refund'} ${r.reference}`,
    amount: money(-r.reversed),
  }));
  // what a person changed stays in the working, whatever a refund took back of it since
  const byPeople = new Set(['correction', 'given-up', 'declined']);
  for (const e of row ? lifeOf(app, row.id).filter((l) => byPeople.has(l.event)) : [])
    changes.push({ at: e.at, what: e.memo, amount: money(e.signed) });
  changes.sort((a, b) => a.at - b.at);
  return {
    credit: presentCredit(order.credit, name),
    exchange: order.working ? presentExchange(order.working) : null,
    lines: order.working ? presentLines(order.working, names) : [],
    total: order.working ? money(order.working.total) : null,
    changes,
    left: money(row ? row.held + row.cleared + row.inRun + row.paid : 0),
  };
}

function commissionOf(app: App, order: Id<'order'>) {
  return app.db
    .select()
    .from(commissions)
    .where(and(eq(commissions.order, order), eq(commissions.kind, 'commission')))
    .get();
}

export function orderById(app: App, id: Id<'order'>): OrderRecord {
  const row = app.db.select().from(orders).where(eq(orders.id, id)).get();
  if (!row) throw new Problem('not-found', 'This sale does not exist');
  return row;
}

/** A sale with everything that came of it but the links to what was bought, which only the serving process can sign. */
export function readOrder(app: App, id: Id<'order'>) {
  const order = orderById(app, id);
  const { base } = theProgramme(app);
  const commission = commissionOf(app, id);
  const money = (amount: number) => ({ amount, currency: order.currency });
  const lines = app.db
    .select({ l: orderLines, code: products.code, name: products.name })
    .from(orderLines)
    .innerJoin(products, eq(products.id, orderLines.product))
    .where(eq(orderLines.order, id))
    .orderBy(orderLines.position)
    .all();
  const back = app.db
    .select()
    .from(refunds)
    .where(eq(refunds.order, id))
    .orderBy(refunds.at, refunds.id)
    .all();
  const told = app.db
    .select()
    .from(reports)
    .where(or(eq(reports.order, id), and(eq(reports.reference, order.reference), isNull(reports.order))))
    .orderBy(reports.at, reports.id)
    .all();
  return {
    row: rowsOf(app, [order])[0]!,
    way: order.way,
    otherWay: order.otherWay === null ? null : describeOtherWay(order.otherWay),
    receivedAt: order.receivedAt,
    came: cameBy(app, order),
    working: workingOf(app, order),
    commission: commission?.id ?? null,
    timing: commission?.timing ?? null,
    clearsAt: commission?.clearsAt ?? null,
    declined: commission?.declined ?? null,
    lines: lines.map(({ l, code, name }) => ({
      code,
      name,
      quantity: l.quantity,
      amount: money(l.amount),
      discount: money(l.discount),
      value: money(l.value),
      left: money(l.valueLeft),
    })),
    refunds: back.map((r) => ({
      reference: r.reference,
      at: r.at,
      kind: r.kind,
      value: money(r.value),
      reversed: { amount: r.reversed, currency: base },
    })),
    shares: sharesView(app, order),
    life: (commission ? lifeOf(app, commission.id) : []).map(({ signed: _signed, ...row }) => row),
    reports: told.map(reportRow),
  };
}

/** The links with which the buyer of a sale gets its files, good from now on. */
export function downloadsNow(app: App, order: { id: Id<'order'>; event: string }) {
  return order.event === 'renewal' ? [] : downloadsOf(app, order.id, app.clock.now());
}

/** A row of the report log. */
export function reportRow(r: typeof reports.$inferSelect) {
  return {
    id: r.id,
    at: r.at,
    call: r.call,
    way: r.way,
    reference: r.reference,
    outcome: r.outcome as 'recorded',
    status: r.status,
    said: r.said,
    order: r.order,
    count: r.count,
  };
}
