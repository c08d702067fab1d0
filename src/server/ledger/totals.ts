import { and, gt, gte, inArray, lt, lte, sql } from 'drizzle-orm';
import { dayOf, millisecondsInDay } from '../../core/calendar/zone';
import { exposure } from '../../core/ledger/commission';
import { type App } from '../ground/context';
import { commissions } from '../ground/tables/ledger';
import { clearingQuarters, payeeTotals } from '../ground/tables/totals';
import { theProgramme } from '../registers/programme/record';

/** Milliseconds of a quarter of an hour, by which clearing is totalled. */
const quarter = 900_000;

/** What is owed to all payees together, minor units of base. */
export function owedToAll(app: App): { held: number; cleared: number; inRun: number } {
  const sum = (column: (typeof payeeTotals)['held' | 'cleared' | 'inRun']) =>
    sql<number>`coalesce(sum(${column}), 0)`;
  return app.db
    .select({ held: sum(payeeTotals.held), cleared: sum(payeeTotals.cleared), inRun: sum(payeeTotals.inRun) })
    .from(payeeTotals)
    .get()!;
}

/** Sum of the payees' cleared balances that are below zero. */
export function negativeBalances(app: App): number {
  return app.db
    .select({ n: sql<number>`coalesce(sum(${payeeTotals.cleared}), 0)` })
    .from(payeeTotals)
    .where(lt(payeeTotals.cleared, 0))
    .get()!.n;
}

/** Cleared and unpaid for longer than so many days since the clearing date: whole quarters of an hour from their totals, the last one from its rows. */
export function clearedBefore(app: App, days: number): number {
  const until = app.clock.now() - days * millisecondsInDay;
  const last = Math.floor(until / quarter);
  const whole = app.db
    .select({ n: sql<number>`coalesce(sum(${clearingQuarters.cleared}), 0)` })
    .from(clearingQuarters)
    .where(lt(clearingQuarters.quarter, last))
    .get()!.n;
  const rest = app.db
    .select({ n: sql<number>`coalesce(sum(${commissions.cleared}), 0)` })
    .from(commissions)
    .where(
      and(
        sql`${commissions.cleared} > 0`,
        gte(commissions.clearsAt, last * quarter),
        lte(commissions.clearsAt, until),
      ),
    )
    .get()!.n;
  return whole + rest;
}

/** Held commissions whose clearing date has come. */
export function heldDue(app: App): { n: number; sum: number } {
  const now = app.clock.now();
  const last = Math.floor(now / quarter);
  const whole = app.db
    .select({
      n: sql<number>`coalesce(sum(${clearingQuarters.heldCount}), 0)`,
      sum: sql<number>`coalesce(sum(${clearingQuarters.held}), 0)`,
    })
    .from(clearingQuarters)
    .where(lt(clearingQuarters.quarter, last))
    .get()!;
  const rest = app.db
    .select({ n: sql<number>`count(*)`, sum: sql<number>`coalesce(sum(${commissions.held}), 0)` })
    .from(commissions)
    .where(
      and(
        sql`${commissions.held} > 0`,
        gte(commissions.clearsAt, last * quarter),
        lte(commissions.clearsAt, now),
      ),
    )
    .get()!;
  return { n: whole.n + rest.n, sum: whole.sum + rest.sum };
}

/** The first days on which held commissions clear, up to a moment, with how many and how much; `at` is a moment of the day. */
export function heldByDay(
  app: App,
  until: number,
  most: number,
): { day: string; n: number; sum: number; at: number }[] {
  const { zone } = theProgramme(app);
  const days = new Map<string, { day: string; n: number; sum: number; at: number }>();
  const rows = app.sqlite
    .prepare<[number], { quarter: number; n: number; sum: number }>(
      'SELECT quarter, held_count AS n, held AS sum FROM clearing_quarters WHERE held_count > 0 AND quarter <= ? ORDER BY quarter',
    )
    .iterate(Math.floor(until / quarter));
  for (const row of rows) {
    const at = row.quarter * quarter;
    const day = dayOf(at, zone);
    const found = days.get(day);
    if (found) {
      found.n += row.n;
      found.sum += row.sum;
    } else if (days.size === most) break;
    else days.set(day, { day, n: row.n, sum: row.sum, at });
  }
  return [...days.values()];
}

/** So many payees are looked up at once. */
const atOnce = 500;

/** Exposure of all payees: paid on sales that can still be refunded, less what each one's balance would cover. */
export function totalExposure(app: App): number {
  const atRisk = app.db
    .select({
      affiliate: commissions.affiliate,
      paid: sql<number>`sum(${commissions.paid} + ${commissions.inRun})`,
    })
    .from(commissions)
    .where(
      and(
        gt(commissions.refundableUntil, app.clock.now()),
        sql`${commissions.paid} + ${commissions.inRun} > 0`,
      ),
    )
    .groupBy(commissions.affiliate)
    .all();
  let sum = 0;
  for (let i = 0; i < atRisk.length; i += atOnce) {
    const some = atRisk.slice(i, i + atOnce);
    const balances = new Map(
      app.db
        .select({
          affiliate: payeeTotals.affiliate,
          n: sql<number>`${payeeTotals.held} + ${payeeTotals.cleared}`,
        })
        .from(payeeTotals)
        .where(
          inArray(
            payeeTotals.affiliate,
            some.map((r) => r.affiliate),
          ),
        )
        .all()
        .map((r) => [r.affiliate, r.n]),
    );
    for (const r of some) sum += exposure(r.paid, balances.get(r.affiliate) ?? 0);
  }
  return sum;
}
