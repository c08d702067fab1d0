import { and, gt, isNotNull, isNull, lte, or, sql, type SQL } from 'drizzle-orm';
import type { CreativeState } from '../../../core/material/lists';
import type { App } from '../../ground/context';
import { creativeProducts, creatives } from '../../ground/tables/creatives';
import { promotedNow } from '../promoted/promoted';

/** Products that can be bought now, as a list in SQL: one value, so that thousands are a question of the same words. */
function sellable(app: App): SQL {
  const now = app.clock.now();
  const ids = [...promotedNow(app)]
    .filter(([, { isOnSale, launchAt }]) => isOnSale && (launchAt === null || launchAt <= now))
    .map(([id]) => id);
  return sql`SELECT value FROM json_each(${JSON.stringify(['programme', ...ids])})`;
}

/** The condition for a state: what `creativeState` says, asked of the table. */
export function isInState(app: App, state: CreativeState): SQL {
  const now = app.clock.now();
  const { active, from, until, id } = creatives;
  const lasts = or(isNull(until), gt(until, now));
  const switched = and(lasts, sql`${active} = 1`);
  const begun = and(switched, or(isNull(from), lte(from, now)));
  // with a sign before it the list is looked into, instead of the index being asked for each of its values
  const sold = sql`EXISTS (SELECT 1 FROM ${creativeProducts} p WHERE p.creative = ${id} AND +p.product IN (${sellable(app)}))`;
  switch (state) {
    case 'ended':
      return and(isNotNull(until), lte(until, now))!;
    case 'off':
      return and(lasts, sql`${active} = 0`)!;
    case 'scheduled':
      return and(switched, isNotNull(from), gt(from, now))!;
    case 'waiting':
      return and(begun, sql`NOT ${sold}`)!;
    case 'on':
      return and(begun, sold)!;
  }
}
