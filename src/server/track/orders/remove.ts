import { eq } from 'drizzle-orm';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { orderLines, orders, refunds, subscriptions } from '../../ground/tables/orders';

/** Takes an order away with everything that came of it. Only of test purchases: nothing of those was ever in the journal. */
export function removeOrder(app: App, id: Id<'order'>): void {
  app.db.delete(orderLines).where(eq(orderLines.order, id)).run();
  app.db.delete(refunds).where(eq(refunds.order, id)).run();
  app.db.delete(subscriptions).where(eq(subscriptions.order, id)).run();
  app.db.delete(orders).where(eq(orders.id, id)).run();
}
