import { dayOf } from '../../../core/calendar/zone';
import { contradictionsIn, type CouponFact, type WordContradiction } from '../../../core/material/contradict';
import { plainMarkup } from '../../../core/material/shown';
import type { Money } from '../../../core/money/amount';
import type { Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { priceNow } from '../../registers/catalogue/price';
import { productById } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { couponsThere, type CouponRecord } from '../coupons/store';
import { promotedNow, stateNow } from '../promoted/promoted';
import type { CreativeRecord } from './store';

/** The last day on which something holds that ends at a moment, exclusive. */
const lastDayOf = (until: number | null, zone: string): string | null =>
  until === null ? null : dayOf(until - 1, zone);

const isOn = (row: CouponRecord, products: readonly Id<'product'>[]) =>
  row.products.length === 0 || products.length === 0 || row.products.some((id) => products.includes(id));

/** What of a creative can contradict. */
type Worded = Pick<CreativeRecord, 'products' | 'texts' | 'until'>;

/** Everything of a creative that readers read. */
const wordsOf = ({ texts: { alt, words, around, code, subjects, body } }: Worded): string =>
  [alt, words, around, plainMarkup(code), ...subjects, body].filter(Boolean).join('\n');

/** Finds what the words of creatives say otherwise than it is: what they are compared with is read once for all. */
export function contradictionsOf(app: App): (row: Worded) => WordContradiction[] {
  const { zone } = theProgramme(app);
  const promoted = promotedNow(app);
  const coupons = couponsThere(app).map((row) => ({
    row,
    fact: {
      code: row.code,
      ppm: row.gives === 'percent' ? row.value : null,
      lastDay: lastDayOf(row.until, zone),
      isOn: stateNow(app, row, promoted) === 'on',
    },
  }));
  const prices = new Map<string, Money | null>();
  const priceOf = (id: Id<'product'>): Money | null => {
    if (!prices.has(id)) {
      const product = productById(app, id);
      prices.set(id, product ? priceNow(product).presentPrice : null);
    }
    return prices.get(id) ?? null;
  };
  const today = dayOf(app.clock.now(), zone);
  return (row) => {
    const text = wordsOf(row);
    if (text === '') return [];
    const [only] = row.products.length === 1 ? row.products : [];
    return contradictionsIn(text, {
      coupons: coupons.map((c): CouponFact => ({ ...c.fact, fits: isOn(c.row, row.products) })),
      price: only ? priceOf(only) : null,
      lastDay: lastDayOf(row.until, zone),
      today,
    });
  };
}
