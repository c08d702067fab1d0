import { eq } from 'drizzle-orm';
import { type RenewalReport } from '../../../contract/track/signed-calls';
import type { Credit } from '../../../core/attribution/credit';
import { misfitsOfPayment, type Misfit } from '../../../core/pricing/misfit';
import type { ProductKind } from '../../../core/pricing/product';
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
import type { Warning } from './warnings';
import { picturedAs, valueOf } from './ways';

type OrderRecord = typeof orders.$inferSelect;
type PicturedRecord = typeof pictured.$inferSelect;

/** What was paid first of a product, minor units of its currency. */
function paidFirst(app: App, order: Id<'order'>, product: Id<'product'>): number {
  const lines = app.db.select().from(orderLines).where(eq(orderLines.order, order)).all();
  return lines.filter((l) => l.product === product).reduce((sum, l) => sum + l.value, 0);
}

/** What of a further payment does not fit what was agreed with the first. */
function misfitsOf(app: App, { subscription, first, order }: Renewal): Misfit[] {
  const { product: id, startedAt } = subscription;
  const product = productById(app, id);
  if (!product || first.test) return [];
  const { kind, price, currency } = product;
  const lines = order.lines.filter((l) => l.product.id === id);
  const inOwn = (amount: number, paidIn: string) => (paidIn === currency ? amount : null);
  return misfitsOfPayment(
    {
      ...{ kind: kind as ProductKind, details: detailsOf(product), price, currency, startedAt },
      firstPaid: inOwn(paidFirst(app, first.id, id), first.currency),
    },
    {
      ...{ number: order.number, placedAt: order.placedAt },
      quantity: lines.reduce((sum, l) => sum + l.quantity, 0),
      amount: inOwn(valueOf({ lines }), order.currency),
    },
    theProgramme(app).zone,
  );
}

/** The answer about a payment that is not recorded. @param isNew false where it was reported before */
function answered(
  { reference }: NormalOrder,
  { reason, warnings, isNew }: { reason: string; warnings: Warning[]; isNew: boolean },
): Taken {
  const outcome = isNew ? 'recorded' : 'already-recorded';
  return {
    ...{ status: isNew ? 201 : 200, said: reason, order: null },
    answer: { outcome, order: reference, credited: null, reason, commissions: [], warnings },
  };
}

/** @throws Problem `contradicts` where the payment was reported with other values before */
function refuseOtherValues(before: PicturedRecord, order: NormalOrder): void {
  if (before.content !== order.content)
    throw new Problem(
      'contradicts',
      `Payment ${order.payment} was reported with other values before, and waits for a person: nothing was changed, both versions are in the log`,
    );
}

function keep(app: App, { report, order, credit }: Renewal, misfits: readonly Misfit[]): void {
  const { reference, payment, placedAt, day, currency, content } = order;
  const { affiliate, reason } = credit;
  app.db
    .insert(pictured)
    .values({
      id: newId('pictured'),
      ...{ reference, payment, at: placedAt, day, currency, content, report, affiliate, reason },
      ...{ key: '', visit: null, visitor: null, coupon: null },
      misfit: misfits.map(({ why }) => why).join('; '),
      product: order.lines[0]!.product.id,
      amount: valueOf(order),
    })
    .run();
}

/** A further payment as it was reported, with the first payment of its subscription. */
interface Renewal {
  report: RenewalReport;
  subscription: SubscriptionRecord;
  first: OrderRecord;
  order: NormalOrder;
  credit: Credit;
}

/**
 * Holds a further payment that does not fit what was agreed until a person confirms it or sets it aside; one that was set
 * aside stays so. It grants nothing. Call inside a transaction.
 * @returns the answer, or null where nothing holds it
 */
export function heldBack(app: App, renewal: Renewal): Taken | null {
  const { order } = renewal;
  const misfits = misfitsOf(app, renewal);
  const warnings = misfits.map(({ field, why }): Warning => ({ pointer: `/${field}`, detail: why }));
  const reason = `it waits for a person: ${misfits.map(({ why }) => why).join('; ')}`;
  const before = picturedAs(app, order);
  // a picture proves nothing about a payment that the shop signs
  if (before?.report) {
    refuseOtherValues(before, order);
    if (before.state === 'set-aside')
      return answered(order, { reason: `a person set it aside: ${before.note}`, warnings, isNew: false });
    return misfits.length ? answered(order, { reason, warnings, isNew: false }) : null;
  }
  if (!misfits.length) return null;
  if (before) app.db.delete(pictured).where(eq(pictured.id, before.id)).run();
  keep(app, renewal, misfits);
  return answered(order, { reason, warnings, isNew: true });
}
