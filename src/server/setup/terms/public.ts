import { formatMoney } from '../../../core/money/amount';
import { isOpenToAffiliates } from '../../../core/pricing/product';
import { anybody } from '../../../core/terms/rate';
import { type App } from '../../ground/context';
import { detailsOf } from '../../registers/catalogue/details';
import { priceNow } from '../../registers/catalogue/price';
import { type ProductRecord } from '../../registers/catalogue/store';
import { hasRenewals, promisedNow } from './promised';

/** Price of a product, and what it pays, as outsiders read them; `reward` is empty where affiliates may not promote it. */
export function publicTerms(
  app: App,
  row: ProductRecord,
): { price: string; reward: string; renewals: string } {
  const now = priceNow(row).presentPrice;
  const price = now === null ? (row.kind === 'free' ? 'free' : '') : formatMoney(now);
  if (!isOpenToAffiliates(detailsOf(row), app.clock.now())) return { price, reward: '', renewals: '' };
  return {
    price,
    reward: promisedNow(app, anybody, row),
    renewals: hasRenewals(row) ? promisedNow(app, anybody, row, 'renewal') : '',
  };
}
