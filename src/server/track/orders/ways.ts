import { eq } from 'drizzle-orm';
import { toDecimal } from '../../../core/money/amount';
import { commissionableValue } from '../../../core/terms/order';
import type { App } from '../../ground/context';
import { perApp, rowsBy } from '../../ground/db/prepared';
import { Problem } from '../../ground/http/problem';
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
export function valueOf(order: NormalOrder): number {
  return order.lines.reduce((sum, line) => sum + commissionableValue(line), 0);
}

/** How what came by the other way compares with what counts. */
export function compareWays(counts: Pick<OrderRecord, 'currency' | 'value'>, order: NormalOrder): string {
  const amount = valueOf(order);
  if (counts.currency !== order.currency)
    return `but the currencies differ: ${counts.currency} counts, ${order.currency} came by the other way`;
  if (counts.value !== amount)
    return `but the amounts differ: ${toDecimal(counts.value, counts.currency)} counts, ${toDecimal(amount, order.currency)} came by the other way`;
  return 'with the same amount';
}

/** The signed report of a sale came: what a picture said before is compared and waits no more. Call inside a transaction. */
export function settlePicture(app: App, order: NormalOrder, id: string): void {
  const before = picturedAs(app, order);
  if (!before || before.state === 'confirmed') return;
  app.db
    .update(pictured)
    .set({ state: 'reported', order: id, decidedAt: app.clock.now() })
    .where(eq(pictured.id, before.id))
    .run();
  const same = before.currency === order.currency && before.amount === valueOf(order);
  const said = same
    ? 'with the same amount'
    : `which said ${toDecimal(before.amount, before.currency)} ${before.currency}: the signed values count`;
  app.db
    .update(orders)
    .set({ otherWay: `the fallback picture reported the same order before, ${said}; it counts once` })
    .where(eq(orders.id, id))
    .run();
}

/**
 * The signed report of a sale that a person confirmed, or that a picture made before such sales waited: from now on it is known by the report.
 * Call inside a transaction. @throws Problem `contradicts` where the values differ: a commission was granted on those confirmed
 */
export function signAfterwards(app: App, before: OrderRecord, order: NormalOrder): OrderRecord {
  const said = compareWays(before, order);
  if (said !== 'with the same amount') {
    throw new Problem(
      'contradicts',
      `Order ${order.reference} was confirmed by a person as a picture reported it, ${said}: nothing was changed. Correct its commission, or report a refund of the difference`,
    );
  }
  const signed = {
    way: 'server' as const,
    content: order.content,
    otherWay: `the fallback picture reported the same order before, ${said}; it counts once`,
  };
  app.db.update(orders).set(signed).where(eq(orders.id, before.id)).run();
  return { ...before, ...signed };
}
