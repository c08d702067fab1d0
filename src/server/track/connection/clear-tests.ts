import { eq } from 'drizzle-orm';
import { type Actor, type App } from '../../ground/context';
import { orders } from '../../ground/tables/orders';
import { record } from '../../registers/access/audit';
import { removeOrder } from '../orders/remove';
import { forgetOrderInLog } from '../reports/log';

/** Clears every test purchase with its lines; the log of reports keeps what came. Nothing of it was ever in the journal. */
export function clearTests(app: App, actor: Actor): { cleared: number } {
  const tests = app.db
    .select({ id: orders.id, reference: orders.reference })
    .from(orders)
    .where(eq(orders.test, true))
    .all();
  for (const { id } of tests) {
    forgetOrderInLog(app, id);
    removeOrder(app, id);
  }
  if (tests.length)
    record(app, actor, 'tests-cleared', {
      subject: 'programme',
      before: { orders: tests.slice(0, 50).map((t) => t.reference) },
      after: { cleared: tests.length },
    });
  return { cleared: tests.length };
}
