import { and, desc, eq, gt, inArray, lte, sql } from 'drizzle-orm';
import { exposure } from '../../core/ledger/commission';
import { accounts, type EntryEvent } from '../../core/ledger/entry';
import type { Id } from '../../core/text/id';
import { type App } from '../ground/context';
import { afterCursor, cut, inOrder } from '../ground/db/page';
import { products } from '../ground/tables/catalogue';
import { commissions, entries, entryLines } from '../ground/tables/ledger';
import { orderLines, orders } from '../ground/tables/orders';
import { accountTotals } from '../ground/tables/totals';
import { namesOf } from '../registers/access/names';
import { theProgramme } from '../registers/programme/record';
import type { CommissionRecord } from './journal';
import { clearedBefore, negativeBalances, totalExposure } from './totals';

const overdueDays = 90;
const markedDays = 75;

/** Balances of the accounts as amounts: what is owed is positive. */
export function readBalances(app: App) {
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const sums = new Map(
    app.db
      .select()
      .from(accountTotals)
      .all()
      .map((r) => [r.account, r.amount]),
  );
  const debitSide = new Set(['expense', 'write-off']);
  const total = [...sums.values()].reduce((a, b) => a + b, 0);
  return {
    accounts: accounts.map((account) => ({
      account,
      balance: money((debitSide.has(account) ? 1 : -1) * (sums.get(account) ?? 0) + 0),
    })),
    negative: money(negativeBalances(app)),
    exposure: money(totalExposure(app)),
    whole: total === 0,
    aged: { past75: money(clearedBefore(app, markedDays)), past90: money(clearedBefore(app, overdueDays)) },
  };
}

/** Balances of one affiliate. */
export function balancesOf(app: App, affiliate: Id<'affiliate'>) {
  const now = app.clock.now();
  const row = app.db
    .select({
      held: sql<number>`coalesce(sum(${commissions.held}), 0)`,
      cleared: sql<number>`coalesce(sum(${commissions.cleared}), 0)`,
      inRun: sql<number>`coalesce(sum(${commissions.inRun}), 0)`,
      paid: sql<number>`coalesce(sum(${commissions.paid}), 0)`,
      /** of its own sales: shares are not part of its figures */
      granted: sql<number>`coalesce(sum(CASE WHEN ${commissions.kind} = 'commission' THEN ${commissions.granted} ELSE 0 END), 0)`,
      atRisk: sql<number>`coalesce(sum(CASE WHEN ${commissions.refundableUntil} > ${now} THEN ${commissions.paid} + ${commissions.inRun} ELSE 0 END), 0)`,
    })
    .from(commissions)
    .where(eq(commissions.affiliate, affiliate))
    .get()!;
  return { ...row, exposure: exposure(row.atRisk, row.held + row.cleared) };
}

const entryKeys = { by: entries.at, id: entries.id, order: 'desc' } as const;

interface EntryFilter {
  affiliate?: Id<'affiliate'>;
  event?: EntryEvent;
  after?: string;
  limit?: number;
}

/** A page of entries, the newest first; one row more than asked for, if there is one. */
function entriesFound(app: App, { affiliate, event, after }: EntryFilter, limit: number) {
  const ofAffiliate = affiliate
    ? inArray(
        entries.id,
        app.db.select({ id: entryLines.entry }).from(entryLines).where(eq(entryLines.affiliate, affiliate)),
      )
    : undefined;
  return app.db
    .select()
    .from(entries)
    .where(and(ofAffiliate, event ? eq(entries.event, event) : undefined, afterCursor(entryKeys, after)))
    .orderBy(...inOrder(entryKeys))
    .limit(limit + 1)
    .all();
}

function linesOfEntries(app: App, ids: Id<'entry'>[]) {
  if (!ids.length) return [];
  return app.db
    .select()
    .from(entryLines)
    .where(inArray(entryLines.entry, ids))
    .orderBy(entryLines.entry, entryLines.position)
    .all();
}

export function listEntries(app: App, filter: EntryFilter) {
  const { base } = theProgramme(app);
  const limit = filter.limit ?? 50;
  const { rows, next } = cut(entriesFound(app, filter, limit), limit, (r) => [r.at, r.id]);
  const lines = linesOfEntries(
    app,
    rows.map((r) => r.id),
  );
  const name = namesOf(app, [...rows.map((r) => r.by), ...lines.map((l) => l.affiliate)]);
  const money = (amount: number) => ({ amount, currency: base });
  return {
    next,
    rows: rows.map(({ id, at, event, memo, by, order, run }) => ({
      id,
      at,
      event,
      memo,
      by: name(by),
      order,
      run,
      lines: lines
        .filter((l) => l.entry === id)
        .map((l) => ({
          account: l.account,
          affiliate: l.affiliate === null ? null : name(l.affiliate),
          debit: l.amount > 0 ? money(l.amount) : null,
          credit: l.amount < 0 ? money(-l.amount) : null,
        })),
    })),
  };
}

/** The entries of a commission or share, oldest first; `signed`: by how much each raised what its payee gets. */
export function lifeOf(app: App, id: Id<'commission'>) {
  const { base } = theProgramme(app);
  const rows = app.db
    .select({
      id: entries.id,
      at: entries.at,
      event: entries.event,
      memo: entries.memo,
      by: entries.by,
      amount: sql<number>`sum(CASE WHEN ${entryLines.amount} > 0 THEN ${entryLines.amount} ELSE 0 END)`,
      signed: sql<number>`sum(CASE WHEN ${entryLines.account} IN ('expense', 'write-off') THEN ${entryLines.amount} ELSE 0 END)`,
    })
    .from(entryLines)
    .innerJoin(entries, eq(entries.id, entryLines.entry))
    .where(eq(entryLines.commission, id))
    .groupBy(entries.id)
    .orderBy(entries.at, entries.id)
    .all();
  const name = namesOf(
    app,
    rows.map((r) => r.by),
  );
  return rows.map((r) => ({ ...r, by: name(r.by), amount: { amount: r.amount, currency: base } }));
}

/** Rows of commissions for lists, with names. */
export function commissionRows(app: App, rows: CommissionRecord[]) {
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  if (!rows.length) return [];
  const sold = app.db
    .select({
      order: orders.id,
      reference: orders.reference,
      base: orders.base,
      product: sql<string>`group_concat(${products.name}, ', ')`,
    })
    .from(orders)
    .innerJoin(orderLines, eq(orderLines.order, orders.id))
    .innerJoin(products, eq(products.id, orderLines.product))
    .where(
      inArray(
        orders.id,
        rows.map((r) => r.order),
      ),
    )
    .groupBy(orders.id)
    .all();
  const byOrder = new Map(sold.map((o) => [o.order, o]));
  const name = namesOf(
    app,
    rows.map((r) => r.affiliate),
  );
  return rows.map((r) => ({
    id: r.id,
    kind: r.kind,
    order: r.order,
    reference: byOrder.get(r.order)?.reference ?? '',
    product: byOrder.get(r.order)?.product ?? '',
    affiliate: r.affiliate,
    affiliateName: name(r.affiliate),
    soldAt: r.soldAt,
    value: money(byOrder.get(r.order)?.base ?? 0),
    granted: money(r.granted),
    left: money(r.held + r.cleared + r.inRun + r.paid),
    state: r.state,
    stateSince: r.stateSince,
    clearsAt: r.clearsAt,
    timing: r.timing,
  }));
}

const commissionStates = ['held', 'cleared', 'in-run', 'paid', 'declined', 'reversed'] as const;
const commissionKeys = { by: commissions.soldAt, id: commissions.id, order: 'desc' } as const;

export function listCommissions(
  app: App,
  filter: {
    state?: CommissionRecord['state'];
    affiliate?: Id<'affiliate'>;
    due?: boolean;
    after?: string;
    limit?: number;
  },
) {
  const limit = filter.limit ?? 50;
  const inState = (state: CommissionRecord['state'] | undefined) =>
    app.db
      .select()
      .from(commissions)
      .where(
        and(
          state ? eq(commissions.state, state) : undefined,
          filter.affiliate ? eq(commissions.affiliate, filter.affiliate) : undefined,
          filter.due ? and(gt(commissions.held, 0), lte(commissions.clearsAt, app.clock.now())) : undefined,
          afterCursor(commissionKeys, filter.after),
        ),
      )
      .orderBy(...inOrder(commissionKeys))
      .limit(limit + 1)
      .all();
  // the index is by state: all of them together are the first of each
  const found =
    filter.state || filter.affiliate || filter.due
      ? inState(filter.state)
      : commissionStates
          .flatMap(inState)
          .sort((a, b) => b.soldAt - a.soldAt || (a.id < b.id ? 1 : -1))
          .slice(0, limit + 1);
  const { rows, next } = cut(found, limit, (r) => [r.soldAt, r.id]);
  return { rows: commissionRows(app, rows), next };
}

/** The newest commissions of an affiliate. */
export function lastCommissionsOf(app: App, affiliate: Id<'affiliate'>, most: number) {
  return commissionRows(
    app,
    app.db
      .select()
      .from(commissions)
      .where(eq(commissions.affiliate, affiliate))
      .orderBy(desc(commissions.soldAt), desc(commissions.id))
      .limit(most)
      .all(),
  );
}
