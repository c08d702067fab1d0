import { and, eq, gte, lte, ne } from 'drizzle-orm';
import { formatDay } from '../../../core/calendar/format';
import { millisecondsInDay } from '../../../core/calendar/zone';
import { formatMoney } from '../../../core/money/amount';
import { paymentPrice, renewalMoment, type ProductKind } from '../../../core/pricing/product';
import { type App } from '../../ground/context';
import { Problem } from '../../ground/http/problem';
import { products } from '../../ground/tables/catalogue';
import { subscriptions, type orders } from '../../ground/tables/orders';
import { detailsOf } from '../../registers/catalogue/details';
import { keptProducts, productById, type KeptProduct } from '../../registers/catalogue/store';
import { queue } from '../../registers/outbox/queue';
import { buyerContacts, contactsInWords } from '../../registers/programme/buyers';
import { theProgramme } from '../../registers/programme/record';
import type { NormalOrder } from './normalise';

export type SubscriptionRecord = typeof subscriptions.$inferSelect;

/** When the payment after one falls due, or null where there is none. */
function nextMoment(app: App, product: KeptProduct, startedAt: number, number: number): number | null {
  const details = detailsOf(product);
  const price = paymentPrice(product.kind as ProductKind, product.price ?? 0, details, number);
  return price === null ? null : renewalMoment(startedAt, details, number, theProgramme(app).zone);
}

/** Remembers a subscription with its first payment. @throws Problem `contradicts` if another order began it */
export function beginSubscription(app: App, order: NormalOrder, row: typeof orders.$inferSelect): void {
  const reference = order.subscription!;
  const sold =
    order.lines.find((l) => l.product.kind === 'recurring' || l.product.kind === 'instalments') ??
    order.lines[0]!;
  if (
    app.db
      .select({ reference: subscriptions.reference })
      .from(subscriptions)
      .where(eq(subscriptions.reference, reference))
      .get()
  ) {
    throw new Problem(
      'contradicts',
      `Subscription ${reference} began with another order: report its further payments as renewals`,
    );
  }
  app.db
    .insert(subscriptions)
    .values({
      reference,
      order: row.id,
      product: sold.product.id,
      affiliate: row.affiliate,
      visit: row.visit,
      email: order.email,
      startedAt: order.placedAt,
      nextAt: order.test ? null : nextMoment(app, sold.product, order.placedAt, 2),
    })
    .run();
}

export function subscriptionOf(app: App, reference: string): SubscriptionRecord | undefined {
  return app.db.select().from(subscriptions).where(eq(subscriptions.reference, reference)).get();
}

/** Notes a renewal: the next one is reckoned from it. */
export function noteRenewal(app: App, subscription: SubscriptionRecord, number: number): void {
  const product = app.db.select().from(products).where(eq(products.id, subscription.product)).get()!;
  const latest = Math.max(subscription.number, number);
  app.db
    .update(subscriptions)
    .set({ number: latest, nextAt: nextMoment(app, product, subscription.startedAt, latest + 1) })
    .where(eq(subscriptions.reference, subscription.reference))
    .run();
}

/** Days before a renewal at which the first of all products gives notice; 0 = none does. */
function earliestNotice(app: App): number {
  return Math.max(0, ...keptProducts(app).map((p) => detailsOf(p).noticeDays));
}

/** Tells buyers of renewals that are near, once each. @returns how many were told */
export function sendRenewalNotices(app: App): number {
  const { zone } = theProgramme(app);
  const now = app.clock.now();
  const earliest = earliestNotice(app);
  if (earliest === 0) return 0;
  // those alone of which one may be told of: a large programme has tens of thousands
  const near = app.db
    .select()
    .from(subscriptions)
    .where(
      and(
        gte(subscriptions.nextAt, now - millisecondsInDay),
        lte(subscriptions.nextAt, now + earliest * millisecondsInDay),
        lte(subscriptions.noticed, subscriptions.number),
        ne(subscriptions.email, ''),
      ),
    )
    .all();
  let sent = 0;
  for (const s of near) {
    if (s.nextAt === null) continue;
    const product = productById(app, s.product)!;
    const details = detailsOf(product);
    if (
      details.noticeDays === 0 ||
      now < s.nextAt - details.noticeDays * millisecondsInDay ||
      now > s.nextAt + millisecondsInDay
    )
      continue;
    const price = paymentPrice(product.kind as ProductKind, product.price ?? 0, details, s.number + 1);
    if (price === null) continue;
    const { brand, ...ways } = buyerContacts(app, details);
    queue(app, {
      to: s.email,
      affiliate: null,
      kind: 'renewal-notice',
      subject: `${details.renewalName || product.name} renews on ${formatDay(s.nextAt, zone)}`,
      subjectOf: s.reference,
      body: `On ${formatDay(s.nextAt, zone)} ${details.renewalName || product.name} renews for ${formatMoney({ amount: price, currency: product.currency })}.${details.renewalAbout ? `\n\n${details.renewalAbout}` : ''}\n\nIf you do not want that, tell us before then: ${contactsInWords(ways)}.\n\n${brand}`,
    });
    app.db
      .update(subscriptions)
      .set({ noticed: s.number + 1 })
      .where(eq(subscriptions.reference, s.reference))
      .run();
    sent += 1;
  }
  return sent;
}
