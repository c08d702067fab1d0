import { offerNow } from '../../../core/pricing/product';
import { detailsOf } from './details';
import { type ProductRecord } from './store';

type Priced = Pick<ProductRecord, 'kind' | 'price' | 'details' | 'sold'>;

/** The price that the next buyer is asked, minor units of the product's currency: a stepped price has risen with what was sold. Null where there is none. */
export const presentPrice = (row: Priced): number | null =>
  row.price === null || row.kind === 'free' ? null : offerNow(row.price, detailsOf(row), row.sold).price;

/** The price that the next buyer is asked, and how many are left at it. */
export function priceNow(row: Priced & Pick<ProductRecord, 'currency'>): {
  presentPrice: { amount: number; currency: string } | null;
  left: number | null;
} {
  const amount = presentPrice(row);
  if (amount === null) return { presentPrice: null, left: null };
  const { left } = offerNow(row.price!, detailsOf(row), row.sold);
  return { presentPrice: { amount, currency: row.currency }, left };
}
