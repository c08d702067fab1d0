import { offerNow } from '../../../core/pricing/product';
import { detailsOf } from './details';
import { type ProductRecord } from './store';

/** The price that the next buyer is asked, and how many are left at it. */
export function priceNow(row: ProductRecord): {
  presentPrice: { amount: number; currency: string } | null;
  left: number | null;
} {
  if (row.price === null || row.kind === 'free') return { presentPrice: null, left: null };
  const { price, left } = offerNow(row.price, detailsOf(row), row.sold);
  return { presentPrice: { amount: price, currency: row.currency }, left };
}
