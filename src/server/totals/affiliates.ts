import { and, eq, gte, sql } from 'drizzle-orm';
import type { Id } from '../../core/text/id';
import { type App } from '../ground/context';
import { orders } from '../ground/tables/orders';
import { visits } from '../ground/tables/visits';

export function clicksOf(app: App, affiliate: Id<'affiliate'>, since: number): number {
  return app.db
    .select({ n: sql<number>`count(*)` })
    .from(visits)
    .where(
      and(eq(visits.affiliate, affiliate), gte(visits.at, since), sql`${visits.barred} IS NOT 'automated'`),
    )
    .get()!.n;
}

export function ordersOf(app: App, affiliate: Id<'affiliate'>, since = 0): number {
  return app.db
    .select({ n: sql<number>`count(*)` })
    .from(orders)
    .where(
      and(
        eq(orders.affiliate, affiliate),
        gte(orders.placedAt, since),
        eq(orders.test, false),
        eq(orders.event, 'sale'),
      ),
    )
    .get()!.n;
}
