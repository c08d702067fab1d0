import { eq } from 'drizzle-orm';
import { type RenewalReport } from '../../../contract/track/signed-calls';
import type { CreditReason } from '../../../core/attribution/reason';
import { misfitOfPayment } from '../../../core/pricing/misfit';
import type { ProductKind } from '../../../core/pricing/product';
import { commissionableValue } from '../../../core/terms/order';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem } from '../../ground/http/problem';
import { orderLines, pictured, type orders } from '../../ground/tables/orders';
import { detailsOf } from '../../registers/catalogue/details';
import { productById } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import type { Taken } from './intake';
import type { NormalOrder } from './normalise';
import type { SubscriptionRecord } from './subscriptions';
import { picturedAs } from './ways';

type OrderRecord = typeof orders.$inferSelect;

/** What was paid first of a product, minor units of its currency. */
function paidFirst(app: App, order: Id<'order'>, product: Id<'product'>): number {
  const lines = app.db.select().from(orderLines).where(eq(orderLines.order, order)).all();
  return lines.filter((l) => l.product === product).reduce((sum, l) => sum + l.value, 0);
}

/** What of a further payment does not fit what was agreed with the first, in words; empty where it fits. */
export function misfitOfRenewal(
  app: App,
  { product: id, startedAt, order: firstOrder }: SubscriptionRecord,
  { first, order }: { first: OrderRecord; order: NormalOrder },
): string {
  const product = productById(app, id);
  if (!product || first.test) return '';
  const { kind, price, currency } = product;
  const lines = order.lines.filter((l) => l.product.id === id);
  const isOwn = order.currency === currency;
  return misfitOfPayment(
    {
      ...{ kind: kind as ProductKind, details: detailsOf(product), price, currency, startedAt },
      firstPaid: first.currency === currency ? paidFirst(app, firstOrder, id) : null,
    },
    {
      ...{ number: order.number, placedAt: order.placedAt },
      quantity: lines.reduce((sum, l) => sum + l.quantity, 0),
      amount: isOwn ? lines.reduce((sum, l) => sum + commissionableValue(l), 0) : null,
    },
    theProgramme(app).zone,
  );
}

/** The answer about a payment that waits. */
function answered(order: NormalOrder, misfit: string, outcome: 'recorded' | 'already-recorded'): Taken {
  const reason = `it waits for a person: ${misfit}`;
  return {
    status: outcome === 'recorded' ? 201 : 200,
    said: reason,
    order: null,
    answer: {
      ...{ outcome, order: order.reference, credited: null, reason, commissions: [] },
      warnings: [{ pointer: '/number', detail: misfit }],
    },
  };
}

/** @throws Problem `contradicts` where the payment was reported with other values before */
function waitingBefore(app: App, order: NormalOrder): Taken | null {
  const before = picturedAs(app, order);
  if (!before) return null;
  if (before.content !== order.content)
    throw new Problem(
      'contradicts',
      `Payment ${order.payment} was reported with other values before, and waits for a person: nothing was changed, both versions are in the log`,
    );
  if (before.state === 'open') return answered(order, before.misfit, 'already-recorded');
  return answered(order, `a person set it aside: ${before.note}`, 'already-recorded');
}

/** Keeps a further payment that does not fit what was agreed until a person confirms it, or sets it aside. It grants nothing. Call inside a transaction. */
export function letWait(
  app: App,
  order: NormalOrder,
  {
    report,
    misfit,
    affiliate,
    reason,
  }: { report: RenewalReport; misfit: string; affiliate: Id<'affiliate'> | null; reason: CreditReason },
): Taken {
  const before = waitingBefore(app, order);
  if (before) return before;
  const { reference, payment, placedAt, day, currency, content } = order;
  app.db
    .insert(pictured)
    .values({
      id: newId('pictured'),
      ...{ reference, payment, at: placedAt, day, currency, content, report, misfit, affiliate, reason },
      ...{ key: '', visit: null, visitor: null, coupon: null },
      product: order.lines[0]!.product.id,
      amount: order.lines.reduce((sum, line) => sum + commissionableValue(line), 0),
    })
    .run();
  return answered(order, misfit, 'recorded');
}
