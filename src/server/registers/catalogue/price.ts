import { offerNow } from '../../../core/pricing/product';
import { detailsOf } from './details';
import { type ProductRecord } from './store';

type Priced = Pick<ProductRecord, 'kind' | 'price' | 'details' | 'sold'>;

/** What the next buyer is offered: a stepped price has risen with what was sold. Null where there is no price. */
const offerOf = (row: Priced): ReturnType<typeof offerNow> | null =>
  row.price === null || row.kind === 'free' ? null : offerNow(row.price, detailsOf(row), row.sold);

/** The price that the next buyer is asked, minor units of the product's currency; null where there is none. */
export const presentPrice = (row: Priced): number | null => offerOf(row)?.price ?? null;

/** The price that the next buyer is asked, and how many are left at it. */
export function priceNow(row: Priced & Pick<ProductRecord, 'currency'>): {
  presentPrice: { amount: number; currency: string } | null;
  left: number | null;
} {
  const offer = offerOf(row);
  if (!offer) return { presentPrice: null, left: null };
  return { presentPrice: { amount: offer.price, currency: row.currency }, left: offer.left };
}
