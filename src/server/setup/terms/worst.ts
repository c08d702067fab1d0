import { isOver } from '../../../core/calendar/span';
import { dayOf } from '../../../core/calendar/zone';
import { convertToBase } from '../../../core/money/amount';
import { formatPercent, wholePpm } from '../../../core/money/percent';
import { describeRate, type Event, type Rate } from '../../../core/terms/rate';
import { worstCase, type Referral, type WorstCase } from '../../../core/terms/shares';
import { type App } from '../../ground/context';
import { referrals } from '../../ground/tables/terms';
import { detailsOf } from '../../registers/catalogue/details';
import { presentPrice } from '../../registers/catalogue/price';
import type { ProductRecord } from '../../registers/catalogue/store';
import { rateOn } from '../../registers/exchange/rates';
import { theProgramme } from '../../registers/programme/record';

export type ReferralTerms = Pick<Referral, 'ppm' | 'of'>;

/** A price in minor units of base at today's rate; 0 where it is not known. */
export function priceInBase(
  app: App,
  { price, currency }: Pick<ProductRecord, 'price' | 'currency'>,
): number {
  const { base, zone } = theProgramme(app);
  const rate = rateOn(app, currency, dayOf(app.clock.now(), zone));
  return price === null || rate === null ? 0 : convertToBase(price, currency, base, rate);
}

/** Every referral share that is promised: the programme's to newcomers, and those that affiliates have. */
export function referralsPromised(app: App): ReferralTerms[] {
  const { referralPpm, referralOf } = theProgramme(app);
  const now = app.clock.now();
  const open = app.db
    .selectDistinct({ ppm: referrals.ppm, of: referrals.of, until: referrals.until })
    .from(referrals)
    .all()
    .filter((r) => !isOver(r, now));
  return [
    ...(referralPpm > 0 ? [{ ppm: referralPpm, of: referralOf }] : []),
    ...open.map(({ ppm, of: basis }) => ({ ppm, of: basis })),
  ];
}

/** The promise with which a product would cost most: null where none can exceed its value. */
export function worstOn(
  app: App,
  product: ProductRecord,
  {
    rates,
    event,
    promised,
  }: { rates: readonly Rate[]; event: Event; promised: readonly (ReferralTerms | null)[] },
): { worst: WorstCase; referral: ReferralTerms | null } | null {
  const details = detailsOf(product);
  const price = priceInBase(app, {
    price: event === 'renewal' && product.kind === 'recurring' ? details.renewalPrice : presentPrice(product),
    currency: product.currency,
  });
  const now = app.clock.now();
  const own = rates.filter((r) => r.event === event);
  let found: { worst: WorstCase; referral: ReferralTerms | null } | null = null;
  for (const referral of promised.length ? promised : [null]) {
    const worst = worstCase(own, { sold: { product: product.id, kind: product.kind }, price, referral, now });
    if (worst.total > wholePpm && worst.total > (found?.worst.total ?? 0)) found = { worst, referral };
  }
  return found;
}

/** The worst case in words: "On Throwing course the uplift up to 70 % and the referral share of 40 % of the sale could come to 110 % of the value together". */
export function worstInWords(
  app: App,
  product: ProductRecord,
  { worst, referral }: NonNullable<ReturnType<typeof worstOn>>,
): string {
  const { base } = theProgramme(app);
  const parts = [
    `${worst.rate?.label ? `“${worst.rate.label}”` : 'the highest rate'} ${worst.rate ? describeRate(worst.rate, base) : ''}`.trim(),
    ...(worst.uplift ? [`the uplift “${worst.uplift.label}” ${describeRate(worst.uplift, base)}`] : []),
    ...(referral ? [`the referral share of ${formatPercent(referral.ppm)} of the ${referral.of}`] : []),
  ];
  return `On ${product.name} ${parts.join(' and ')} could come to ${formatPercent(worst.total)} of the value together`;
}
