import { convertToBase, type Money } from '../money/amount';
import type { Id } from '../text/id';
import { sampleOrders } from './cut-orders';
import type { IndexedTerms, Sellable } from './cut-questions';
import { earns } from './cuts';
import { termsAt } from './members';
import { referralShare, type Referral } from './shares';

/** What a sale is worth and what it pays the affiliate who made it, minor units of base. */
interface Sale {
  base: number;
  commission: Money['amount'];
}

/** What an affiliate's sales are worth and earn, at each order at which that may bend. */
export function salesOf(
  terms: IndexedTerms,
  affiliate: Id<'affiliate'>,
  { sellables, now, base }: { sellables: readonly Sellable[]; now: number; base: string },
): Sale[] {
  const who = termsAt(terms.roll, affiliate, now);
  return sellables.flatMap((sellable) =>
    (['sale', 'renewal'] as const).flatMap((event) => {
      const price = event === 'sale' ? sellable.price : sellable.renewal;
      if (price === null) return [];
      const payment = event === 'sale' ? 1 : 2;
      return sampleOrders(
        terms.data.rates,
        { sold: sellable, event, price },
        { base, exchange: new Map() },
      ).map((order) => ({
        base: convertToBase(order.amount, order.currency, base, order.rateMicros),
        commission: earns(terms, who, { sellable, event, payment }, { at: now, base, order }),
      }));
    }),
  );
}

type Share = Pick<Referral, 'ppm' | 'of' | 'until'>;

/** True where a referral would earn less than before on any of some sales, or for a shorter time. @param sales looked at only where a share of the sale becomes one of the commission, or the other way round */
export function isReferralCut(before: Share, after: Share | null, sales: () => readonly Sale[]): boolean {
  if (after === null) return true;
  const ends = (until: number | null) => until ?? Number.POSITIVE_INFINITY;
  if (ends(after.until) < ends(before.until)) return true;
  if (after.of === before.of) return after.ppm < before.ppm;
  return sales().some(
    ({ base, commission }) =>
      referralShare(base, commission, after) < referralShare(base, commission, before),
  );
}
