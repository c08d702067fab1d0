import { renewalMoment } from '../../core/pricing/product';
import type { Gravenel } from './gravenel';
import type { Offer, Purchase, Records, Subscription } from './records';

const subscriptionOf = ({ db }: Records, reference: string) =>
  db.prepare('SELECT reference FROM subscriptions WHERE purchase = ?').pluck().get(reference) as
    string | undefined;

/** Reports a purchase; twice where a switch says so. */
export async function report(records: Records, gravenel: Gravenel, row: Purchase): Promise<void> {
  const { on, mark, note } = records;
  const step = mark('step', row.reference);
  const quote = mark('quote', row.reference);
  const subscription = subscriptionOf(records, row.reference);
  const [coupon, off] = [mark('coupon', row.reference), mark('off', row.reference)];
  const refusedCoupon = mark('refused-coupon', row.reference);
  const line = {
    product: row.product,
    quantity: row.quantity,
    amount: row.amount,
    ...(step ? { step } : {}),
    ...(quote ? { quote } : {}),
    ...(off ? { discount: off } : {}),
  };
  const body = {
    order: row.reference,
    placedAt: row.placed_at,
    ...(on('omit') ? {} : { currency: row.currency }),
    lines: [line],
    ...(row.visit ? { visit: row.visit } : {}),
    ...(coupon ? { coupon } : {}),
    ...(refusedCoupon ? { refusedCoupon } : {}),
    customer: { email: row.buyer },
    ...(subscription ? { subscription } : {}),
    ...(mark('test', row.reference) === 'on' ? { test: true } : {}),
  };
  const told = [await gravenel.tell('order', body)];
  if (on('twice')) told.push(await gravenel.tell('order', body));
  note(row.reference, told);
}

/** Charges every renewal that has fallen due by the shop's date, and reports each; never twice at once. */
export function chargerOf(records: Records, gravenel: Gravenel): () => Promise<void> {
  let charging = false;
  return async () => {
    if (charging) return;
    charging = true;
    try {
      const now = Date.parse(await gravenel.today());
      const open = records.db.prepare('SELECT * FROM subscriptions WHERE ended = 0').all();
      for (const s of open as Subscription[]) await chargeOne(records, gravenel, s, now);
    } finally {
      charging = false;
    }
  };
}

const everyMonth = { trialDays: 0, interval: 'month', intervalDays: 30 } as const;

/** What a payment costs, null after the last one. @param number 2 for the first renewal */
function paymentOf(offer: Offer, number: number): string | null {
  const plan = offer.recurring;
  if (plan) return plan.renewals === null || number <= plan.renewals + 1 ? plan.renewalPrice : null;
  return offer.instalments?.[number - 1] ?? null;
}

async function chargeOne(records: Records, gravenel: Gravenel, s: Subscription, now: number): Promise<void> {
  const { db } = records;
  const offer = await gravenel.offerOf(s.product);
  const row = records.purchase(s.purchase);
  if (!offer || !row) return;
  for (let number = s.number + 1; ; number += 1) {
    const amount = paymentOf(offer, number);
    if (amount === null) {
      db.prepare('UPDATE subscriptions SET ended = 1 WHERE reference = ?').run(s.reference);
      return;
    }
    const due = renewalMoment(s.started_at, offer.recurring ?? everyMonth, number, 'UTC');
    if (due > now) return;
    const told = await gravenel.tell('renewal', {
      subscription: s.reference,
      payment: `${s.purchase}-${number}`,
      number,
      placedAt: new Date(due).toISOString(),
      currency: row.currency,
      lines: [{ product: s.product, quantity: 1, amount }],
    });
    records.note(s.purchase, [told]);
    // what did not arrive is tried again the next time
    if (told.status === 0 || told.status >= 500) return;
    db.prepare('UPDATE subscriptions SET number = ? WHERE reference = ?').run(number, s.reference);
  }
}
