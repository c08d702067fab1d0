import { formatMoney } from '../../../core/money/amount';
import { anybody } from '../../../core/terms/rate';
import { type App } from '../../ground/context';
import { priceNow } from '../../registers/catalogue/price';
import { type ProductRecord } from '../../registers/catalogue/store';
import { inForceNow } from './service';

/** Price and reward of a product as outsiders read them. */
export function publicTerms(app: App, row: ProductRecord): { price: string; reward: string } {
  const now = priceNow(row).presentPrice;
  return {
    price: now === null ? (row.kind === 'free' ? 'free' : '') : formatMoney(now),
    reward: inForceNow(app, anybody, row).text,
  };
}
