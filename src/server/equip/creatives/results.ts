import { and, desc, eq, sql, type Column } from 'drizzle-orm';
import type { ResultsOut } from '../../../contract/equip/results';
import { millisecondsInDay } from '../../../core/calendar/zone';
import { figuresOf } from '../../../core/figures/measures';
import { wilson } from '../../../core/figures/uncertain';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { affiliates } from '../../ground/tables/people';
import { creativeDays } from '../../ground/tables/totals';
import { theProgramme } from '../../registers/programme/record';
import { isClick } from '../../totals/facts';
import { dayNumber, resultDays } from '../promoted/promoted';
import { creativeById } from './store';

const { creative, day, affiliate, clicks, orders, value, granted, reversed } = creativeDays;
const { renewals, firstValue, corrected } = creativeDays;
const total = (column: Column) => sql<number>`coalesce(sum(${column}), 0)`;

/** The moment of the last click on a creative: its day is known, and of that day the visits are looked at. */
function lastClick(app: App, id: Id<'creative'>): number | null {
  return (
    app.db.get<{ at: number | null }>(
      sql`SELECT max(v.at) AS at FROM creative_days d JOIN visits v
          ON v.affiliate = d.affiliate AND v.creative = d.creative
          AND v.at >= d.day * ${millisecondsInDay} AND v.at < (d.day + 1) * ${millisecondsInDay}
          AND ${sql.raw(isClick('v'))}
          WHERE d.creative = ${id} AND d.day =
            (SELECT max(m.day) FROM creative_days m WHERE m.creative = ${id} AND m.clicks > 0)`,
    )?.at ?? null
  );
}

/** What came of a creative in the last 90 days, from its total: clicks, orders, commission, and for whom. */
export function resultsOf(app: App, { id }: { id: Id<'creative'> }): ResultsOut {
  creativeById(app, id);
  const since = dayNumber(app.clock.now()) - resultDays;
  const within = and(eq(creative, id), sql`${day} > ${since}`);
  const sums = app.db
    .select({
      clicks: total(clicks),
      orders: total(orders),
      value: total(value),
      granted: total(granted),
      reversed: total(reversed),
      renewals: total(renewals),
      firstValue: total(firstValue),
      corrected: total(corrected),
      affiliates: sql<number>`count(DISTINCT ${affiliate})`,
    })
    .from(creativeDays)
    .where(within)
    .get()!;
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const kept = sums.granted - sums.reversed + sums.corrected;
  const { epc } = figuresOf({ ...sums, granted: kept, corrected: 0 });
  return {
    days: resultDays,
    clicks: sums.clicks,
    orders: sums.orders,
    renewals: sums.renewals,
    conversion: wilson(sums.orders, sums.clicks),
    commission: money(kept),
    epc: epc === null ? null : money(epc),
    affiliates: sums.affiliates,
    lastUsed: lastClick(app, id),
    best: app.db
      .select({ id: affiliate, name: affiliates.name, clicks: total(clicks), orders: total(orders) })
      .from(creativeDays)
      .innerJoin(affiliates, eq(affiliates.id, affiliate))
      .where(within)
      .groupBy(affiliate)
      .orderBy(desc(total(orders)), desc(total(clicks)))
      .limit(3)
      .all(),
  };
}
