import { eq } from 'drizzle-orm';
import { commissionableValue } from '../../../core/terms/order';
import type { Id } from '../../../core/text/id';
import { type OtherWay } from '../../../core/tracking/reason';
import type { App } from '../../ground/context';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { orders, pictured } from '../../ground/tables/orders';
import type { NormalOrder } from './normalise';

type OrderRecord = typeof orders.$inferSelect;
type PicturedRecord = typeof pictured.$inferSelect;

const statements = perApp((app) => ({
  pictured: rowsBy(app, pictured, ['reference', 'payment']),
}));

/** What a picture said of a payment before, whatever became of it. */
export function picturedAs(
  app: App,
  order: Pick<NormalOrder, 'reference' | 'payment'>,
): PicturedRecord | undefined {
  return statements(app).pictured.get(order.reference, order.payment);
}

/** The commissionable value of an order as it was reported, minor units of its currency. */
export function valueOf(order: Pick<NormalOrder, 'lines'>): number {
  return order.lines.reduce((sum, line) => sum + commissionableValue(line), 0);
}

/** What an order and another report of it say, to be compared. Values in minor units of their own currencies. */
export function bothWays(
  counts: Pick<OrderRecord, 'currency' | 'value'>,
  order: NormalOrder,
): Pick<OtherWay, 'counts' | 'reported'> {
  return {
    counts: { amount: counts.value, currency: counts.currency },
    reported: { amount: valueOf(order), currency: order.currency },
  };
}

/** The signed report of a sale came: what a picture said before is compared and waits no more. Call inside a transaction. */
export function settlePicture(app: App, order: NormalOrder, id: Id<'order'>): void {
  const before = picturedAs(app, order);
  if (!before || before.state === 'confirmed') return;
  app.db
    .update(pictured)
    .set({ state: 'reported', order: id, decidedAt: app.clock.now() })
    .where(eq(pictured.id, before.id))
    .run();
  // a payment that waited was signed as well: no picture had a part in it
  if (before.report) return;
  const otherWay: OtherWay = {
    code: 'picture-before',
    counts: { amount: valueOf(order), currency: order.currency },
    reported: { amount: before.amount, currency: before.currency },
  };
  app.db.update(orders).set({ otherWay }).where(eq(orders.id, id)).run();
}
