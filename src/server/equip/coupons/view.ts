import { inArray, sql } from 'drizzle-orm';
import type { CouponOut } from '../../../contract/equip/coupons';
import { formatDay } from '../../../core/calendar/format';
import { millisecondsInDay } from '../../../core/calendar/zone';
import { givesWords, shopState } from '../../../core/material/coupon';
import type { ShopState } from '../../../core/material/lists';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { affiliates } from '../../ground/tables/people';
import { couponDays } from '../../ground/tables/totals';
import { namesOf } from '../../registers/access/names';
import { keptProducts } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { isOrder } from '../../totals/facts';
import { audienceNames, audienceWords, namedIn } from '../audience/audience';
import { showPlanned } from '../planned/store';
import { dayNumber, promotedNow, resultDays, stateNow } from '../promoted/promoted';
import { couponById, couponFieldsOf, evidenceOf, type CouponRecord, type EvidenceRecord } from './store';
import { couponFound } from './subject';
import { typedOf } from './typed';

function shopWords(app: App, state: ShopState, evidence: readonly EvidenceRecord[]): string {
  const { zone } = theProgramme(app);
  const last = evidence.find((e) => e.kind === state);
  if (!last) return 'never seen in the shop';
  const day = formatDay(last.lastAt, zone);
  switch (last.kind) {
    case 'seen':
      return `seen working on ${day}`;
    case 'said':
      return `set up, says ${namesOf(app, [last.by])(last.by)} on ${day}`;
    case 'refused':
      return `refused by the shop on ${day}`;
  }
}

interface Sums {
  clicks: number;
  orders: number;
  renewals: number;
  value: number;
  kept: number;
  last: number | null;
}

const none: Sums = { clicks: 0, orders: 0, renewals: 0, value: 0, kept: 0, last: null };

/** What came of coupons in the last 90 days, and the last day on which each was used. */
function sumsOf(app: App, ids: readonly Id<'coupon'>[]): Map<string, Sums> {
  if (!ids.length) return new Map();
  const since = dayNumber(app.clock.now()) - resultDays;
  const { coupon, day, clicks, orders, renewals, value, granted, reversed, corrected } = couponDays;
  const within = (column: typeof clicks | typeof orders | typeof renewals | typeof value) =>
    sql<number>`coalesce(sum(iif(${day} > ${since}, ${column}, 0)), 0)`;
  return new Map(
    app.db
      .select({
        id: coupon,
        clicks: within(clicks),
        orders: within(orders),
        renewals: within(renewals),
        value: within(value),
        kept: sql<number>`coalesce(sum(iif(${day} > ${since}, ${granted} - ${reversed} + ${corrected}, 0)), 0)`,
        last: sql<number | null>`max(iif(${orders} > 0, ${day}, NULL))`,
      })
      .from(couponDays)
      .where(inArray(coupon, [...ids]))
      .groupBy(coupon)
      .all()
      .map(({ id, ...sums }) => [id, sums]),
  );
}

/** The moments of the last orders with coupons. @param days the day numbers of the totals on which they were, days since 1970 in UTC */
function lastOrders(app: App, days: ReadonlySet<number>): ReadonlyMap<string, number> {
  return new Map(
    app.db
      .all<{ coupon: string; at: number }>(
        sql`SELECT o.coupon, max(o.placed_at) AS at FROM json_each(${JSON.stringify([...days])}) d CROSS JOIN orders o
            WHERE o.placed_at >= d.value * ${millisecondsInDay} AND o.placed_at < (d.value + 1) * ${millisecondsInDay}
              AND o.coupon IS NOT NULL AND o.test = 0 AND ${sql.raw(isOrder('o'))}
            GROUP BY o.coupon`,
      )
      .map(({ coupon, at }) => [coupon, at]),
  );
}

/** What a person should look at: a coupon that is on and was never seen, was refused since, or is used after its end. */
export function couponWarning(
  app: App,
  row: CouponRecord,
  { state, shop, lastUsed }: { state: CouponOut['state']; shop: ShopState; lastUsed: number | null },
): string | null {
  if (state === 'ended' && row.until !== null && lastUsed !== null && lastUsed >= row.until)
    return 'It is over and still used: the shop takes it on.';
  if (state !== 'on') return null;
  if (shop === 'never') return 'It is on and was never seen in the shop.';
  return shop === 'refused' ? 'The shop refused it the last time a buyer tried it.' : null;
}

const namesBy = (rows: { id: string; name: string }[]) => new Map(rows.map((r) => [r.id, r.name]));

function ownerNames(app: App, rows: readonly CouponRecord[]): Map<string, string> {
  const ids = [...new Set(rows.flatMap((r) => r.owner ?? []))];
  if (!ids.length) return new Map();
  const some = { id: affiliates.id, name: affiliates.name };
  return namesBy(app.db.select(some).from(affiliates).where(inArray(affiliates.id, ids)).all());
}

/** Draws coupons as they are shown. What all of them need is read once. */
function drawing(app: App, rows: readonly CouponRecord[]): (row: CouponRecord) => CouponOut {
  const { base } = theProgramme(app);
  const ids = rows.map((r) => r.id);
  const [evidence, sums, promoted] = [evidenceOf(app, ids), sumsOf(app, ids), promotedNow(app)];
  const owners = ownerNames(app, rows);
  const products = new Map(keptProducts(app).map((p) => [p.id, p.name]));
  const audiences = audienceNames(
    app,
    rows.map((r) => r.audience),
  );
  const makers = namesOf(app, new Set(rows.map((r) => r.by)));
  const lastUses = lastOrders(app, new Set([...sums.values()].flatMap(({ last }) => last ?? [])));
  const money = (amount: number) => ({ amount, currency: base });
  return (row) => {
    const fields = couponFieldsOf(row);
    const known = evidence.get(row.id) ?? [];
    const { clicks, orders, renewals, value, kept } = sums.get(row.id) ?? none;
    const lastUsed = lastUses.get(row.id) ?? null;
    const [state, shop] = [stateNow(app, row, promoted), shopState(known)];
    return {
      ...typedOf(fields, base),
      ...{ id: row.id, state, shop },
      says: givesWords(fields, base),
      names: row.products.map((id) => products.get(id) ?? 'one that is gone'),
      ownerName: row.owner === null ? null : (owners.get(row.owner) ?? ''),
      forWhom: row.owner === null ? audienceWords(row.audience, audiences) : (owners.get(row.owner) ?? ''),
      named: namedIn(row.audience, audiences),
      shopSays: shopWords(app, shop, known),
      evidence: known.map(({ kind, firstAt, lastAt, times, by }) => ({ kind, firstAt, lastAt, times, by })),
      warning: row.removedAt === null ? couponWarning(app, row, { state, shop, lastUsed }) : null,
      planned: showPlanned(app, row.id, couponFound(app, row)),
      results: {
        ...{ days: resultDays, clicks, orders, renewals },
        value: money(value),
        commission: money(kept),
        lastUsed,
      },
      removed: row.removedAt !== null,
      createdAt: row.createdAt,
      by: makers(row.by),
      version: row.version,
    };
  };
}

/** Coupons as a list shows them; one that cannot be read is left out and counted. */
export const showCoupons = (app: App, rows: readonly CouponRecord[]) =>
  app.faults.rows('coupons', rows, drawing(app, rows));

export function showCoupon(app: App, id: Id<'coupon'>): CouponOut {
  const row = couponById(app, id);
  return drawing(app, [row])(row);
}
