import { and, eq, isNotNull, isNull, or, sql, type SQL } from 'drizzle-orm';
import type { QueryOf, ReplyOf } from '../../../contract/endpoint';
import type { listCoupons as List } from '../../../contract/equip/coupons';
import { shopState } from '../../../core/material/coupon';
import type { App } from '../../ground/context';
import { afterCursor, anywhere, cut, inOrder } from '../../ground/db/page';
import { coupons } from '../../ground/tables/coupons';
import { promotedNow, stateNow } from '../promoted/promoted';
import { evidenceOf, type CouponRecord } from './store';
import { showCoupons } from './view';

const keyset = { by: coupons.createdAt, id: coupons.id, order: 'desc' } as const;

type Filter = Omit<QueryOf<typeof List>, 'after' | 'limit'>;

const where = <T>(asked: T | undefined, condition: (asked: T) => SQL | undefined): SQL | undefined =>
  asked ? condition(asked) : undefined;

function ownedBy(owner: NonNullable<Filter['owner']>): SQL {
  if (owner === 'nobody') return isNull(coupons.owner);
  return owner === 'somebody' ? isNotNull(coupons.owner) : eq(coupons.owner, owner);
}

function asked(filter: Filter): SQL | undefined {
  const pattern = filter.q?.trim() ? anywhere(filter.q.trim()) : null;
  return and(
    filter.state === 'removed' ? isNotNull(coupons.removedAt) : isNull(coupons.removedAt),
    where(filter.owner, ownedBy),
    where(filter.product, (id) =>
      or(
        sql`json_array_length(${coupons.products}) = 0`,
        sql`EXISTS (SELECT 1 FROM json_each(${coupons.products}) WHERE value = ${id})`,
      ),
    ),
    pattern
      ? or(
          sql`${coupons.code} LIKE ${pattern} ESCAPE '\\'`,
          sql`${coupons.words} LIKE ${pattern} ESCAPE '\\'`,
          sql`${coupons.terms} LIKE ${pattern} ESCAPE '\\'`,
        )
      : undefined,
  );
}

/** States are derived of dates and of what was learned of the shop: what is asked for of them is looked at row by row. */
function fits(app: App, { state, shop }: Filter, rows: CouponRecord[]): CouponRecord[] {
  if (!shop && (!state || state === 'removed')) return rows;
  const evidence = evidenceOf(
    app,
    rows.map((r) => r.id),
  );
  const promoted = promotedNow(app);
  return rows.filter(
    (row) =>
      (!shop || shopState(evidence.get(row.id) ?? []) === shop) &&
      (!state || state === 'removed' || stateNow(app, row, promoted) === state),
  );
}

/** A page of coupons, newest first. A merchant has some dozens of them: those that fit are found among all. */
export function listCouponsPage(
  app: App,
  { after, limit = 50, ...filter }: QueryOf<typeof List>,
): ReplyOf<typeof List> {
  const found = app.db
    .select()
    .from(coupons)
    .where(and(asked(filter), afterCursor(keyset, after)))
    .orderBy(...inOrder(keyset))
    .all();
  const fitting = fits(app, filter, found);
  if (!filter.only) {
    const { rows, next } = cut(fitting, limit, (r) => [r.createdAt, r.id]);
    return { ...showCoupons(app, rows), next };
  }
  const shown = showCoupons(app, fitting);
  const warned = shown.rows.filter((c) => c.warning !== null);
  return { ...shown, ...cut(warned, limit, (c) => [c.createdAt, c.id]) };
}
