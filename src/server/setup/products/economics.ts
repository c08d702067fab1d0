import { and, eq, isNull } from 'drizzle-orm';
import type { ProductOut } from '../../../contract/setup/products';
import { addDays, dayOf } from '../../../core/calendar/zone';
import { figuresOf, noCounts } from '../../../core/figures/measures';
import { mulDiv } from '../../../core/money/rounding';
import { shrunkRefundRate } from '../../../core/recruiting/evidence';
import { anybody } from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { funnels, funnelSteps } from '../../ground/tables/products';
import { presentPrice } from '../../registers/catalogue/price';
import { productById, type ProductRecord } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import {
  clicksSince,
  creditedSince,
  discountsSince,
  ordersSince,
  refundsOf,
  stepSums,
} from '../../totals/products';
import { ownersAt } from '../terms/coowners';
import { earnedNow } from '../terms/promised';
import { priceInBase } from '../terms/worst';

/** Share of the list price that discounts took off in the last year, parts per million. */
function usualDiscount(app: App, product: Id<'product'>): number {
  const since = addDays(dayOf(app.clock.now(), theProgramme(app).zone), -365);
  // sales in several currencies: each line's share, weighted by its value in base
  const { weight, discounted } = discountsSince(app, product, since);
  return weight <= 0 ? 0 : mulDiv(discounted, 100, weight);
}

const refundRateOf = (app: App, product: Id<'product'>) =>
  shrunkRefundRate(refundsOf(app, product), ordersSince(app, product, ''));

/** The offers that follow a product, how often each is taken and what it pays everybody. */
function followOns(app: App, product: Id<'product'>): ProductOut['economics']['follow'] {
  const funnel = app.db
    .select()
    .from(funnels)
    .where(and(eq(funnels.opening, product), isNull(funnels.removedAt)))
    .get();
  if (!funnel) return [];
  const openings = ordersSince(app, product, '');
  return app.db
    .select()
    .from(funnelSteps)
    .where(eq(funnelSteps.funnel, funnel.id))
    .orderBy(funnelSteps.position)
    .all()
    .flatMap((step) => {
      const sold = productById(app, step.product);
      if (!sold) return [];
      const { taken } = stepSums(app, step.code);
      const price = priceInBase(app, { price: step.price ?? presentPrice(sold), currency: sold.currency });
      const commission = earnedNow(app, anybody, sold, { price, step: step.code });
      return [
        {
          name: sold.name,
          takenPpm: openings === 0 ? 0 : Math.min(1_000_000, mulDiv(taken, 1_000_000, openings)),
          price,
          commission,
          owners: ownersAt(app, sold.id, app.clock.now()).map((o) => o.ppm),
          refundPpm: refundRateOf(app, sold.id),
        },
      ];
    });
}

/** What a sale of a product costs beside its commission: fees by the settings, discounts and refunds by its record, shares by the terms. */
export function economicsOf(app: App, row: ProductRecord): ProductOut['economics'] {
  const { feePpm, feeFixed, lowEarning, referralPpm, referralOf } = theProgramme(app);
  return {
    feePpm,
    feeFixed,
    lowEarning,
    refundPpm: refundRateOf(app, row.id),
    discountPpm: usualDiscount(app, row.id),
    owners: ownersAt(app, row.id, app.clock.now()).map((o) => o.ppm),
    referral: referralPpm > 0 ? { ppm: referralPpm, of: referralOf } : null,
    follow: followOns(app, row.id),
  };
}

const conversionDays = 90;

/** Conversion rate of the last 90 days, today among them, or null where there were no clicks. */
export function conversionOf(app: App, product: Pick<ProductRecord, 'id' | 'kind'>): number | null {
  const since = addDays(dayOf(app.clock.now(), theProgramme(app).zone), 1 - conversionDays);
  return figuresOf({
    ...noCounts,
    clicks: clicksSince(app, product.id, since),
    orders: creditedSince(app, product, since),
  }).conversion;
}
