import { eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { QueryOf } from '../../contract/endpoint';
import type { FiguresOut, readOwnFigures } from '../../contract/portal/figures';
import { addDays, dayOf, daysBetween } from '../../core/calendar/zone';
import type { FigureGroup } from '../../core/figures/groups';
import { addSums, noSums, sumsByKey, type Sums } from '../../core/figures/sums';
import { wilson } from '../../core/figures/uncertain';
import { toDecimal } from '../../core/money/amount';
import type { Id } from '../../core/text/id';
import type { App } from '../ground/context';
import { toCsv } from '../ground/http/csv';
import { products } from '../ground/tables/catalogue';
import { coupons } from '../ground/tables/coupons';
import { creatives } from '../ground/tables/creatives';
import { links } from '../ground/tables/people';
import { keptProducts } from '../registers/catalogue/store';
import { theProgramme } from '../registers/programme/record';
import { isClick, isOrder } from '../totals/facts';
import { periodOf, type Period } from './period';

const quarter = 900_000;

export type FiguresAsked = QueryOf<typeof readOwnFigures>;

/** What tells the rows apart, out of a visit. A day is put together of quarters of an hour: every zone’s days begin with one. */
const keyOf: Record<FigureGroup, SQL> = {
  day: sql`CAST(v.at / ${quarter} AS TEXT)`,
  link: sql`v.link`,
  creative: sql`coalesce(v.creative, '')`,
  coupon: sql`coalesce(v.coupon, '')`,
  product: sql`v.product`,
  ...(Object.fromEntries(
    [0, 1, 2, 3, 4].map((i) => [
      `s${i + 1}`,
      sql`coalesce(json_extract(v.sub_ids, ${sql.raw(`'$[${i}]'`)}), '')`,
    ]),
  ) as Record<'s1' | 's2' | 's3' | 's4' | 's5', SQL>),
};

/** Clicks that count, by key. */
function clicksBy(app: App, affiliate: Id<'affiliate'>, key: SQL, { begin, end }: Period) {
  return app.db.all<{ key: string; clicks: number }>(
    sql`SELECT ${key} AS key, count(*) AS clicks FROM visits v WHERE v.affiliate = ${affiliate} AND v.at >= ${begin} AND v.at < ${end}
        AND ${sql.raw(isClick('v'))} GROUP BY 1`,
  );
}

/** Orders by the key of the visit that they were credited to, with what is left of their commission. */
function ordersBy(app: App, affiliate: Id<'affiliate'>, by: FigureGroup, { begin, end }: Period) {
  const key = by === 'day' ? sql`CAST(o.placed_at / ${quarter} AS TEXT)` : sql`coalesce(${keyOf[by]}, '')`;
  return app.db.all<Omit<Sums, 'clicks'> & { key: string }>(
    sql`SELECT ${key} AS key, sum(${sql.raw(isOrder('o'))}) AS orders, sum(o.base) AS value,
          sum(coalesce((SELECT c.held + c.cleared + c.in_run + c.paid FROM commissions c WHERE c.order_id = o.id AND c.kind = 'commission'), 0)) AS commission
        FROM orders o LEFT JOIN visits v ON v.id = o.visit
        WHERE o.affiliate = ${affiliate} AND o.placed_at >= ${begin} AND o.placed_at < ${end} AND o.test = 0 AND o.event <> 'click' GROUP BY 1`,
  );
}

/** Links by what they are of, beside their code: nobody knows codes by heart. */
function linksNamed(app: App, codes: readonly string[]): { id: string; name: string }[] {
  return app.db
    .select({
      id: links.code,
      page: links.page,
      creative: creatives.name,
      coupon: coupons.code,
      product: products.name,
    })
    .from(links)
    .leftJoin(creatives, eq(creatives.id, links.creative))
    .leftJoin(coupons, eq(coupons.id, links.coupon))
    .leftJoin(products, eq(products.id, links.product))
    .where(inArray(links.code, [...codes]))
    .all()
    .map(({ id, page, creative, coupon, product }) => {
      const led = page?.replace(/^https?:\/\//, '') ?? creative ?? coupon ?? product;
      return { id, name: led ? `${led} · ${id}` : id };
    });
}

/** Those that keys name; sub-ids are their own names. */
function namedBy(app: App, by: FigureGroup, keys: readonly string[]): { id: string; name: string }[] {
  switch (by) {
    case 'product':
      return keptProducts(app);
    case 'link':
      return linksNamed(app, keys);
    case 'creative':
      return app.db
        .select({ id: creatives.id, name: creatives.name })
        .from(creatives)
        .where(inArray(creatives.id, keys as Id<'creative'>[]))
        .all();
    case 'coupon':
      return app.db
        .select({ id: coupons.id, name: coupons.code })
        .from(coupons)
        .where(inArray(coupons.id, keys as Id<'coupon'>[]))
        .all();
    default:
      return [];
  }
}

/** What keys are called. */
function namerOf(app: App, by: FigureGroup, keys: readonly string[]): (key: string) => string {
  const names = new Map(namedBy(app, by, keys.filter(Boolean)).map((one) => [one.id, one.name]));
  const without = by === 'creative' || by === 'coupon' ? `without a ${by}` : 'none';
  return (key) => (key === '' ? without : (names.get(key) ?? key));
}

/** Sums by key; days that nothing happened on stand with nothing. */
function sumsBy(app: App, affiliate: Id<'affiliate'>, by: FigureGroup, period: Period): Map<string, Sums> {
  const { zone } = theProgramme(app);
  const keyed = <P>({ key, ...part }: P & { key: string }) =>
    [by === 'day' ? dayOf(Number(key) * quarter, zone) : key, part] as const;
  return sumsByKey(by === 'day' ? daysBetween(period.from, addDays(period.to, 1)) : [], [
    ...clicksBy(app, affiliate, keyOf[by], period).map(keyed),
    ...ordersBy(app, affiliate, by, period).map(keyed),
  ]);
}

/** Own figures over some days. */
export function ownFigures(app: App, affiliate: Id<'affiliate'>, asked: FiguresAsked): FiguresOut {
  const { by = 'day' } = asked;
  const period = periodOf(app, asked);
  const { base } = theProgramme(app);
  const sums = sumsBy(app, affiliate, by, period);
  const nameOf = namerOf(app, by, [...sums.keys()]);
  const shown = ({ clicks, orders, value, commission }: Sums) => ({
    ...{ clicks, orders },
    value: { amount: value, currency: base },
    commission: { amount: commission, currency: base },
  });
  const total = [...sums.values()].reduce(addSums, noSums);
  const rows = [...sums].map(([key, own]) => ({ key, name: nameOf(key), ...shown(own) }));
  if (by !== 'day') rows.sort((a, b) => b.commission.amount - a.commission.amount || b.clicks - a.clicks);
  return {
    from: period.from,
    to: period.to,
    rows,
    total: shown(total),
    conversion: wilson(total.orders, total.clicks),
  };
}

/** The same as CSV. */
export function figuresCsv(app: App, affiliate: Id<'affiliate'>, asked: FiguresAsked): string {
  const { rows } = ownFigures(app, affiliate, asked);
  return toCsv(
    [asked.by ?? 'day', 'clicks', 'orders', 'value', 'commission', 'currency'],
    rows.map((r) => [
      r.name,
      r.clicks,
      r.orders,
      toDecimal(r.value.amount, r.value.currency),
      toDecimal(r.commission.amount, r.commission.currency),
      r.value.currency,
    ]),
  );
}
