import type { ReplyOf } from '../../../contract/endpoint';
import type { previewChange } from '../../../contract/setup/products';
import { formatMoney, parseAmount } from '../../../core/money/amount';
import { isOpenToAffiliates } from '../../../core/pricing/product';
import type { ProductState } from '../../../core/pricing/readiness';
import { anybody } from '../../../core/terms/rate';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { detailsOf } from '../../registers/catalogue/details';
import { presentPrice } from '../../registers/catalogue/price';
import { type ProductRecord } from '../../registers/catalogue/store';
import { countPromoters } from '../../registers/people/promoters';
import { theProgramme } from '../../registers/programme/record';
import { earnedNow } from '../terms/promised';
import { priceInBase } from '../terms/worst';
import { announce } from './news';
import { current } from './view';

/** What one first sale earns an affiliate without terms of its own, minor units of base. @param price minor units of the product's currency */
const earnedAt = (app: App, product: ProductRecord, price: number | null): number =>
  earnedNow(app, anybody, product, { price: priceInBase(app, { price, currency: product.currency }) });

/** True for a change that takes a product off sale. */
const isOffSale = (from: ProductState, to: ProductState | undefined): boolean =>
  from === 'live' && (to === 'paused' || to === 'retired');

/** How many promote a product and are told what becomes of it: nobody where it is closed to affiliates. */
const countTold = (app: App, row: ProductRecord): number =>
  isOpenToAffiliates(detailsOf(row), app.clock.now()) ? countPromoters(app, row.id) : 0;

/** What a lower price, or taking a product off sale, means for those who promote it, before it is done: it owes no notice, and they are told. */
export function previewOf(
  app: App,
  id: Id<'product'>,
  { price, state }: { price?: string; state?: ProductState },
): ReplyOf<typeof previewChange> {
  const row = current(app, id);
  const { base } = theProgramme(app);
  const money = (amount: number) => ({ amount, currency: base });
  const typed = price === undefined ? null : parseAmount(price, row.currency);
  const off = isOffSale(row.state, state);
  const [was, is] = [presentPrice(row), typed?.ok ? presentPrice({ ...row, price: typed.value }) : null];
  const lower = row.state === 'live' && was !== null && is !== null && is < was;
  const before = earnedAt(app, row, was);
  return {
    told: off || lower ? countTold(app, row) : 0,
    before: money(before),
    after: money(off ? 0 : lower ? earnedAt(app, row, is) : before),
  };
}

/** Tells those who promote a product that its price was lowered. @param before as it was */
export function tellOfPrice(app: App, before: ProductRecord, after: ProductRecord): void {
  const [was, is] = [presentPrice(before), presentPrice(after)];
  if (before.state !== 'live' || was === null || is === null) return;
  if (before.currency !== after.currency || is >= was) return;
  const { base } = theProgramme(app);
  const inBase = (amount: number) => formatMoney({ amount, currency: base });
  const price = (amount: number) => formatMoney({ amount, currency: after.currency });
  announce(app, after, {
    subject: `${after.name} has a new price`,
    news: `${after.name} now costs ${price(is)} instead of ${price(was)}. At the rates for everyone a sale earns ${inBase(earnedAt(app, after, is))} instead of ${inBase(earnedAt(app, after, was))}; your own rate is in your portal.`,
  });
}

/** Tells those who promote a product that it is off sale, or on sale again. */
export function tellOfMove(app: App, product: ProductRecord, to: ProductState): void {
  const { name } = product;
  if (product.state === 'paused' && to === 'live')
    announce(app, product, {
      subject: `${name} is on sale again`,
      news: `${name} is on sale again, and your links lead to it.`,
    });
  if (!isOffSale(product.state, to)) return;
  announce(app, product, {
    subject: `${name} is off sale`,
    news:
      to === 'paused'
        ? `${name} is off sale for now. Your links still work. We will write to you when it is on sale again.`
        : `${name} is no longer sold. New visits earn nothing on it; please replace your links.`,
  });
}
