import { creditFor, type Credit, type Visit } from '../../../core/attribution/credit';
import { inForce } from '../../../core/calendar/span';
import { type Timing } from '../../../core/ledger/timing';
import { isId, type Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { insertion, perApp, rowsBy } from '../../ground/db/prepared';
import { commissions } from '../../ground/tables/ledger';
import { orderLines, orders } from '../../ground/tables/orders';
import { affiliates, approvals } from '../../ground/tables/people';
import { visits } from '../../ground/tables/visits';
import { wasBlocked } from '../../registers/people/blocked';
import { theProgramme } from '../../registers/programme/record';
import { type NormalOrder } from './normalise';

export const statements = perApp((app) => ({
  affiliate: rowsBy(app, affiliates, ['id'], { only: ['name', 'handle', 'state', 'blockedAt'] }),
  visit: rowsBy(app, visits, ['id']),
  visitor: rowsBy(app, visits, ['visitor']),
  approvals: rowsBy(app, approvals, ['affiliate']),
  known: rowsBy(app, orders, ['reference', 'payment']),
  commissionOf: rowsBy(app, commissions, ['order'], { and: "kind = 'commission'" }),
  payments: app.sqlite
    .prepare<[string], number>(
      "SELECT count(*) FROM orders WHERE reference = ? AND event = 'sale' AND test = 0",
    )
    .pluck(),
  unitsOf: app.sqlite.prepare<[string, string], { product: Id<'product'>; units: number }>(
    `SELECT l.product, sum(l.quantity) AS units FROM orders o JOIN order_lines l ON l.order_id = o.id
     WHERE o.reference = ? AND o.id <> ? AND o.event = 'sale' AND o.test = 0 GROUP BY o.id, l.product`,
  ),
  order: insertion(app, orders),
  line: insertion(app, orderLines),
}));

/** @param placedAt of the order: who was blocked after it earns by it */
function asVisit(app: App, row: typeof visits.$inferSelect, placedAt: number): Visit {
  const who = statements(app).affiliate.get(row.affiliate);
  return {
    id: row.id,
    affiliate: row.affiliate,
    product: row.product,
    at: row.at,
    barred: row.barred ?? (who && wasBlocked(who, placedAt) ? 'affiliate-blocked' : null),
  };
}

export function nameOf(app: App, affiliate: Id<'affiliate'>): string {
  return statements(app).affiliate.get(affiliate)?.name ?? affiliate;
}

/** Who is credited for an order, by what it names and what is stored. */
export function creditOrder(app: App, order: NormalOrder): { credit: Credit; visitAt: number } {
  const { visit, visitor } = order;
  const named = visit && isId(visit, 'visit') ? statements(app).visit.get(visit) : undefined;
  const stored = visitor && isId(visitor, 'visitor') ? statements(app).visitor.all(visitor) : [];
  const credit = creditFor({
    placedAt: order.placedAt,
    windowDays: theProgramme(app).windowDays,
    named: named ? asVisit(app, named, order.placedAt) : null,
    namedUnknown: visit !== null && !named,
    stored: stored.map((row) => asVisit(app, row, order.placedAt)),
  });
  return { credit, visitAt: [named, ...stored].find((v) => v?.id === credit.visit)?.at ?? 0 };
}

/** What an affiliate was approved for at a moment, and on which timing. */
export function approvalsAt(app: App, affiliate: Id<'affiliate'>, at: number): Map<string | null, Timing> {
  const rows = statements(app).approvals.all(affiliate);
  return new Map(rows.filter((r) => inForce(r, at)).map((r) => [r.product, r.timing]));
}
