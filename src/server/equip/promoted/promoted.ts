import { millisecondsInDay } from '../../../core/calendar/zone';
import type { CreativeState } from '../../../core/material/lists';
import { creativeState, type Dated, type Promoted } from '../../../core/material/state';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { detailsOf } from '../../registers/catalogue/details';
import { keptProducts, type KeptProduct } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';

/** Days that results of creatives and coupons are of. */
export const resultDays = 90;

/** The day of no zone that totals of them are kept by. */
export const dayNumber = (at: number): number => Math.floor(at / millisecondsInDay);

export const promotedOf = (product: KeptProduct): Promoted => ({
  isOnSale: product.state === 'live',
  launchAt: detailsOf(product).launchAt,
});

/** What decides whether something that promotes products waits for one of them, by product. */
export function promotedNow(app: App): Map<Id<'product'>, Promoted> {
  return new Map(keptProducts(app).map((product) => [product.id, promotedOf(product)]));
}

/** The products on sale. */
export const onSale = (app: App): KeptProduct[] => keptProducts(app).filter((p) => p.state === 'live');

type Dates = Omit<Dated, 'products'> & { products: readonly Id<'product'>[] };

/** The state of a creative or a coupon now. @param promoted as `promotedNow` gives it: read once for many */
export function stateNow(
  app: App,
  { products, ...dates }: Dates,
  promoted: ReadonlyMap<Id<'product'>, Promoted>,
): CreativeState {
  const own = products.map((id) => promoted.get(id) ?? { isOnSale: false, launchAt: null });
  return creativeState({ ...dates, products: own }, app.clock.now());
}

/** The first page of the shop: where a link leads that is of no product and names no page. Empty where no host is listed. */
export function shopHome(app: App): string {
  const [host] = theProgramme(app).landingHosts;
  return host ? `https://${host}/` : '';
}
