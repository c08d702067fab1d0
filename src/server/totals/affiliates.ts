import { and, eq, gte, sql } from 'drizzle-orm';
import type { Counts } from '../../core/figures/measures';
import type { Id } from '../../core/text/id';
import { type App } from '../ground/context';
import { orders } from '../ground/tables/orders';
import { visits } from '../ground/tables/visits';
import { correctedOf, isClick, isOrder } from './facts';

export function clicksOf(app: App, affiliate: Id<'affiliate'>, since: number): number {
  return app.db
    .select({ n: sql<number>`count(*)` })
    .from(visits)
    .where(and(eq(visits.affiliate, affiliate), gte(visits.at, since), sql.raw(isClick('visits'))))
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
        sql.raw(isOrder('orders')),
      ),
    )
    .get()!.n;
}

/** First sales, renewals and what they were worth, and what people corrected of their commission, of an affiliate, all time. */
export function salesOf(
  app: App,
  affiliate: Id<'affiliate'>,
): Pick<Counts, 'orders' | 'renewals' | 'value' | 'firstValue' | 'corrected'> {
  const first = sql.raw(isOrder('orders'));
  return app.db
    .select({
      orders: sql<number>`coalesce(sum(${first}), 0)`,
      renewals: sql<number>`coalesce(sum(${orders.event} = 'renewal'), 0)`,
      value: sql<number>`coalesce(sum(${orders.base}), 0)`,
      firstValue: sql<number>`coalesce(sum(iif(${first}, ${orders.base}, 0)), 0)`,
      corrected: sql<number>`coalesce(sum(${sql.raw(correctedOf('orders'))}), 0)`,
    })
    .from(orders)
    .where(and(eq(orders.affiliate, affiliate), eq(orders.test, false)))
    .get()!;
}
