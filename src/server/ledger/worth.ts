import { eq } from 'drizzle-orm';
import { convertToBase } from '../../core/money/amount';
import type { Id } from '../../core/text/id';
import { type App } from '../ground/context';
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
