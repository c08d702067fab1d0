import { and, eq, ne, sql } from 'drizzle-orm';
import { convertToBase } from '../../core/money/amount';
import type { Id } from '../../core/text/id';
import { type App } from '../ground/context';
import { commissions } from '../ground/tables/ledger';
import { orderLines, orders } from '../ground/tables/orders';
import { theProgramme } from '../registers/programme/record';

/** What is left of the value of an order after refunds, minor units of base. */
export function worthLeft(app: App, id: Id<'order'>): number {
  const { currency, rateMicros } = app.db.select().from(orders).where(eq(orders.id, id)).get()!;
  const { base } = theProgramme(app);
  return app.db
    .select({ left: orderLines.valueLeft })
    .from(orderLines)
    .where(eq(orderLines.order, id))
    .all()
    .reduce((sum, { left }) => sum + convertToBase(left, currency, base, rateMicros), 0);
}

/** What the other commission and shares of the same order stand at, minor units of base: all come out of the same value. */
export const standingOfOthers = (
  app: App,
  { order, id }: { order: Id<'order'>; id: Id<'commission'> },
): number =>
  app.db
    .select({
      n: sql<number>`coalesce(sum(${commissions.held} + ${commissions.cleared} + ${commissions.inRun} + ${commissions.paid}), 0)`,
    })
    .from(commissions)
    .where(and(eq(commissions.order, order), ne(commissions.id, id)))
    .get()!.n;
