import { and, eq, gte, isNotNull, lt, sql } from 'drizzle-orm';
import type { QueryOf } from '../../contract/endpoint';
import type { EarningSums, listEarnings as List, sumEarnings as Sum } from '../../contract/portal/portal';
import { dayOf } from '../../core/calendar/zone';
import { totalled } from '../../core/ledger/by-state';
import { toDecimal } from '../../core/money/amount';
import type { Id } from '../../core/text/id';
import { type App } from '../ground/context';
import { afterCursor, cut, inOrder } from '../ground/db/page';
import { Problem } from '../ground/http/problem';
import { commissions } from '../ground/tables/ledger';
import { orders } from '../ground/tables/orders';
import { commissionRows } from '../ledger/service';
import { affiliateById } from '../registers/people/record';
import { theProgramme } from '../registers/programme/record';
import { shareWorking } from '../track/crediting/shareview';
import { workingOf } from '../track/orders/orders';
import { spanOf } from './period';

function earningRows(app: App, rows: (typeof commissions.$inferSelect)[]) {
  const declined = new Map(rows.map((r) => [r.id, r.declined]));
  return commissionRows(app, rows).map((r) => ({
    id: r.id,
    kind: r.kind,
    order: r.order,
    soldAt: r.soldAt,
    products: r.product,
    value: r.value,
    granted: r.granted,
    left: r.left,
    state: r.state,
    clearsAt: r.clearsAt,
    declined: declined.get(r.id) ?? null,
  }));
}

const keyset = { by: commissions.soldAt, id: commissions.id, order: 'desc' } as const;

export type EarningsAsked = Omit<QueryOf<typeof List>, 'after' | 'limit'>;

/** An affiliate's own, of what was sold in a time, in a state. */
function ownIn(app: App, affiliate: Id<'affiliate'>, { state, ...typed }: EarningsAsked) {
  const { begin, end } = spanOf(app, typed);
  return and(
    eq(commissions.affiliate, affiliate),
    state ? eq(commissions.state, state) : undefined,
    begin === null ? undefined : gte(commissions.soldAt, begin),
    end === null ? undefined : lt(commissions.soldAt, end),
  );
}

export function listEarnings(
  app: App,
  affiliate: Id<'affiliate'>,
  { after, limit = 50, ...asked }: QueryOf<typeof List>,
) {
  const found = app.db
    .select()
    .from(commissions)
    .where(and(ownIn(app, affiliate, asked), afterCursor(keyset, after)))
    .orderBy(...inOrder(keyset))
    .limit(limit + 1)
    .all();
  const { rows, next } = cut(found, limit, (r) => [r.soldAt, r.id]);
  return { rows: earningRows(app, rows), next };
}

/** What an affiliate earned by what was sold in a time, by state. */
export function sumEarnings(app: App, affiliate: Id<'affiliate'>, asked: QueryOf<typeof Sum>): EarningSums {
  const { base } = theProgramme(app);
  const { state, granted, held, cleared, inRun, paid } = commissions;
  const rows = app.db
    .select({
      state,
      count: sql<number>`count(*)`,
      granted: sql<number>`sum(${granted})`,
      left: sql<number>`sum(${held} + ${cleared} + ${inRun} + ${paid})`,
    })
    .from(commissions)
    .where(ownIn(app, affiliate, asked))
    .groupBy(state)
    .all();
  const shown = (sums: { count: number; granted: number; left: number }) => ({
    count: sums.count,
    granted: { amount: sums.granted, currency: base },
    left: { amount: sums.left, currency: base },
  });
  const { states, total } = totalled(rows);
  return { states: states.map((row) => ({ state: row.state, ...shown(row) })), total: shown(total) };
}

export const earningsColumns = [
  'sold',
  'product',
  'kind',
  'value',
  'granted',
  'left',
  'currency',
  'state',
  'clears',
];

const inAPiece = 500;

/** The lines of earnings as CSV after a cursor. Days in the programme's zone. */
export function earningsPiece(app: App, affiliate: Id<'affiliate'>, asked: QueryOf<typeof List>) {
  const { zone } = theProgramme(app);
  const { rows, next } = listEarnings(app, affiliate, { ...asked, limit: inAPiece });
  const lines = rows.map((r) => [
    dayOf(r.soldAt, zone),
    r.products,
    r.kind,
    toDecimal(r.value.amount, r.value.currency),
    toDecimal(r.granted.amount, r.granted.currency),
    toDecimal(r.left.amount, r.left.currency),
    r.left.currency,
    r.state,
    dayOf(r.clearsAt, zone),
  ]);
  return { lines, next };
}

/** The working of an own commission or share. Another's does not exist here. */
export function readEarning(app: App, affiliate: Id<'affiliate'>, id: Id<'commission'>) {
  const row = app.db
    .select()
    .from(commissions)
    .where(and(eq(commissions.id, id), eq(commissions.affiliate, affiliate)))
    .get();
  const order = row && app.db.select().from(orders).where(eq(orders.id, row.order)).get();
  if (row && order && row.kind !== 'commission')
    return { row: earningRows(app, [row])[0]!, working: shareWorking(app, order, row) };
  const found =
    row &&
    app.db
      .select()
      .from(orders)
      .where(and(eq(orders.id, row.order), eq(orders.affiliate, affiliate), isNotNull(orders.working)))
      .get();
  if (!row || !found) throw new Problem('not-found', 'This commission does not exist');
  const working = workingOf(app, found, false);
  // other affiliates' visits of the same buyer are none of this one's business
  const considered = working.credit.considered.map((c) =>
    c.who === affiliateById(app, affiliate).name ? c : { ...c, who: 'another affiliate' },
  );
  const changes = working.changes.map((c) =>
    c.what.startsWith('Given up') ? { ...c, what: 'Negative balance given up' } : c,
  );
  return {
    row: earningRows(app, [row])[0]!,
    working: { ...working, changes, credit: { ...working.credit, considered } },
  };
}
