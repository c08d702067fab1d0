import { type OrderReport } from '../contract/track/signed-calls';
import { renewalMoment } from '../core/pricing/product';
import { type App } from '../server/ground/context';
import { detailsOf } from '../server/registers/catalogue/details';
import { productByCode } from '../server/registers/catalogue/store';
import { takeOrder } from '../server/track/orders/intake';
import { normaliseOrder } from '../server/track/orders/normalise';
import { takeLead, takeRenewal } from '../server/track/orders/payments';
import { takePicture } from '../server/track/orders/pictured';
import { takeRefund } from '../server/track/orders/refund';
import { log } from '../server/track/reports/log';
import { hours, type Plan } from './agenda';
import * as scenario from './scenario';

/** Something that is bought, and what becomes of it. */
export interface Purchase {
  reference: string;
  product: scenario.DemoProduct;
  visit: string | null;
  at: number;
  twice: boolean;
  refund: boolean;
  quantity: number;
  discount: boolean;
  /** the code that it carried, and one that the shop did not take */
  coupon?: string;
  refusedCoupon?: string;
  currency: string;
  part: boolean;
  later: number;
  extras: { code: string; product: string; price: string }[];
  renewals: number;
}

const inCurrency: Record<string, Record<string, string>> = {
  EUR: {},
  USD: { 'WHEEL-1': '219.00', 'THROW-V': '99.00', 'KILN-S': '969.00', 'ROLL-1': '42.00', 'APRON-1': '49.50' },
  GBP: { 'WHEEL-1': '175.00', 'THROW-V': '79.00', 'KILN-S': '779.00', 'ROLL-1': '33.50', 'APRON-1': '40.00' },
  JPY: { 'WHEEL-1': '32000', 'THROW-V': '14500', 'KILN-S': '143000', 'ROLL-1': '6200', 'APRON-1': '7400' },
};

/** A report, as the log keeps what came of it. */
function keep(
  app: App,
  asked: { call: string; way?: 'server' | 'picture'; reference: string; body: object },
  taken: ReturnType<typeof takeOrder>,
): void {
  const { call, way = 'server', reference, body } = asked;
  log(
    app,
    { call, way, key: scenario.demoKey.id, reference, body: JSON.stringify(body) },
    { outcome: taken.answer.outcome, status: taken.status, said: taken.said, order: taken.order },
  );
}

/** What is paid for the product itself, in the smallest unit of the purchase's currency. */
function wholeOf(p: Purchase): { quantity: number; whole: number } {
  const price = inCurrency[p.currency]?.[p.product.code] ?? p.product.price;
  const quantity = p.product.more?.kind ? 1 : p.quantity;
  return { quantity, whole: Number(price.replace('.', '')) * quantity };
}

const inText = (minor: number, currency: string) =>
  currency === 'JPY' ? String(minor) : `${Math.floor(minor / 100)}.${String(minor % 100).padStart(2, '0')}`;

/** What was taken of the offers that followed; they are sold in euro only. */
function extrasOf(p: Purchase) {
  if (p.currency !== 'EUR') return [];
  return p.extras.map((e) => ({
    product: e.product,
    quantity: 1,
    amount: e.price || scenario.demoProducts.find((d) => d.code === e.product)!.price,
    step: e.code,
  }));
}

const subscriptionOf = (p: Purchase) =>
  p.product.more?.kind === 'recurring' ? `SUB-${p.reference.slice(2)}` : null;

function reportOf(p: Purchase): OrderReport {
  const { quantity, whole } = wholeOf(p);
  const subscription = subscriptionOf(p);
  return {
    order: p.reference,
    placedAt: new Date(p.at).toISOString(),
    currency: p.currency,
    lines: [
      {
        product: p.product.code,
        quantity,
        amount: inText(whole, p.currency),
        ...(p.discount ? { discount: inText(Math.floor(whole / 10), p.currency) } : {}),
      },
      ...extrasOf(p),
    ],
    ...(p.visit ? { visit: p.visit } : {}),
    ...(subscription ? { subscription } : {}),
    ...(p.coupon ? { coupon: p.coupon } : {}),
    ...(p.refusedCoupon ? { refusedCoupon: p.refusedCoupon } : {}),
  };
}

/** Buys something: the order, its renewals, a picture that tells it again, and what comes back. */
export function buy(app: App, plan: Plan, p: Purchase): void {
  if (p.product.code === 'CALC-0') return lead(app, p);
  const report = reportOf(p);
  const asked = { reference: p.reference, body: report };
  keep(app, { call: 'order', ...asked }, takeOrder(app, normaliseOrder(app, report), 'server'));
  const subscription = subscriptionOf(p);
  // what was refunded does not renew
  if (subscription && !p.refund)
    for (let n = 2; n <= p.renewals + 1; n += 1) planRenewal(app, plan, { p, subscription, number: n });
  if (p.twice)
    keep(
      app,
      { call: 'picture', way: 'picture', ...asked },
      takePicture(app, normaliseOrder(app, report), scenario.demoKey.id),
    );
  if (p.refund) planRefund(app, plan, p);
}

function planRefund(app: App, plan: Plan, p: Purchase): void {
  const { whole } = wholeOf(p);
  const moment = p.at + Math.min(p.later, p.product.refundDays) * 24 * hours;
  const part = {
    lines: [{ product: p.product.code, amount: inText(Math.floor(whole * 0.3), p.currency) }],
  };
  plan(moment, () => {
    const back = {
      refund: `R-${p.reference.slice(2)}`,
      order: p.reference,
      at: new Date(moment).toISOString(),
      kind: 'refund' as const,
      ...(p.part ? part : { full: true }),
    };
    keep(app, { call: 'refund', reference: back.refund, body: back }, takeRefund(app, back));
  });
}

/** Somebody who left an address for the free product. */
function lead(app: App, p: Purchase): void {
  const report = {
    lead: `L-${p.reference.slice(2)}`,
    product: p.product.code,
    at: new Date(p.at).toISOString(),
    ...(p.visit ? { visit: p.visit } : {}),
  };
  keep(app, { call: 'lead', reference: report.lead, body: report }, takeLead(app, report));
}

function planRenewal(
  app: App,
  plan: Plan,
  { p, subscription, number }: { p: Purchase; subscription: string; number: number },
): void {
  const details = detailsOf(productByCode(app, p.product.code)!);
  const moment = renewalMoment(p.at, details, number, scenario.merchant.zone);
  plan(moment, () => {
    const report = {
      subscription,
      payment: `${p.reference}-${number}`,
      number,
      placedAt: new Date(moment).toISOString(),
      currency: 'EUR',
      lines: [{ product: p.product.code, quantity: 1, amount: p.product.more!.renewalPrice! }],
    };
    keep(app, { call: 'renewal', reference: report.payment, body: report }, takeRenewal(app, report));
  });
}
