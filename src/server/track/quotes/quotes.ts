import { and, eq, gt, isNull, sql } from 'drizzle-orm';
import { type Confirmation, type Offer } from '../../../contract/track/pages';
import { type QuoteAnswer, type QuoteReport } from '../../../contract/track/signed-calls';
import { toDecimal } from '../../../core/money/amount';
import { ownFirst } from '../../../core/money/countries';
import { confirmationOffers } from '../../../core/pricing/confirmation';
import { instalmentsOf, offerNow } from '../../../core/pricing/product';
import { isId, type Id } from '../../../core/text/id';
import type { App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { funnels, funnelSteps } from '../../ground/tables/products';
import { quotes } from '../../ground/tables/quotes';
import { detailsOf } from '../../registers/catalogue/details';
import { pictureAddress } from '../../registers/catalogue/files';
import { launchedAt } from '../../registers/catalogue/launch';
import { presentPrice } from '../../registers/catalogue/price';
import {
  productByCode,
  productById,
  productsInUse,
  type ProductRecord,
} from '../../registers/catalogue/store';
import { buyerContacts } from '../../registers/programme/buyers';

/** A price that was said to a buyer holds for so long, and so does the unit that is kept for it. */
const quoteHolds = 15 * 60_000;

/** Units that buyers hold at checkout now. */
function heldNow(app: App, product: Id<'product'>): number {
  return app.db
    .select({ n: sql<number>`coalesce(sum(${quotes.quantity}), 0)` })
    .from(quotes)
    .where(and(eq(quotes.product, product), isNull(quotes.order), gt(quotes.until, app.clock.now())))
    .get()!.n;
}

function state(app: App, product: ProductRecord) {
  const offer = offerNow(product.price ?? 0, detailsOf(product), product.sold + heldNow(app, product.id));
  return product.price === null ? { ...offer, price: null } : offer;
}

function onSale(app: App, product: ProductRecord): string | null {
  if (product.state !== 'live') return `${product.name} is not on sale: it is ${product.state}`;
  return launchedAt(product, app.clock.now()) ? null : `${product.name} is not launched yet`;
}

type QuoteOut = (typeof QuoteAnswer)['static'];

/** What was said for a message before; null for a new one. */
function saidBefore(app: App, message: string): QuoteOut | null {
  const row = app.db.select().from(quotes).where(eq(quotes.message, message)).get();
  const product = row && productById(app, row.product);
  if (!row || !product) return null;
  return {
    quote: row.id,
    product: product.code,
    price: { value: toDecimal(row.price, row.currency), currency: row.currency },
    left: state(app, product).left,
    until: new Date(row.until).toISOString(),
  };
}

/** The product that a price is asked for, as it is now. @throws Problem where it is not known, or not on sale */
function productQuoted(app: App, code: string): ProductRecord {
  const known = productByCode(app, code);
  // read anew: what is kept in memory may be a sale old
  const product = known ? productById(app, known.id) : undefined;
  if (!product) throw refuse('product', `Product ${code} is not known here`, 'a code from the Products page');
  const off = onSale(app, product);
  if (off) throw new Problem('conflict', off);
  return product;
}

/** @throws Problem `conflict` where fewer are left than are asked for */
function refuseSoldOut({ name }: ProductRecord, inStock: number | null, quantity: number): void {
  if (inStock === null || inStock >= quantity) return;
  throw new Problem(
    'conflict',
    inStock === 0 ? `${name} is sold out` : `Only ${inStock} of ${name} ${inStock === 1 ? 'is' : 'are'} left`,
  );
}

/**
 * Says a price to a buyer and keeps the units for fifteen minutes. Runs in one transaction, so that two buyers never both get the last one.
 * @param message names the signed message: one that comes again gets the same quote, and takes no further unit
 * @throws Problem `conflict` when it is sold out or not on sale
 */
export function quote(
  app: App,
  report: QuoteReport,
  message: string,
): { answer: QuoteOut; repeated: boolean } {
  const before = saidBefore(app, message);
  if (before) return { answer: before, repeated: true };
  const product = productQuoted(app, report.product);
  const { price: own, inStock, left } = state(app, product);
  const { quantity, currency = product.currency } = report;
  refuseSoldOut(product, inStock, quantity);
  const price = currency === product.currency ? own : (detailsOf(product).prices[currency] ?? null);
  if (price === null)
    throw refuse('currency', `${product.name} has no price in ${currency}`, product.currency);
  const id = newId('quote');
  const at = app.clock.now();
  const until = at + quoteHolds;
  app.db
    .insert(quotes)
    .values({ id, product: product.id, quantity, price, currency, at, until, message })
    .run();
  const answer = {
    quote: id,
    product: product.code,
    price: { value: toDecimal(price, currency), currency },
    left: left === null ? null : Math.max(0, left - quantity),
    until: new Date(until).toISOString(),
  };
  return { answer, repeated: false };
}

type Details = ReturnType<typeof detailsOf>;

/** The funnel that a product opens, with what its steps offer. */
function funnelOf(app: App, product: Id<'product'>): Pick<Offer, 'steps' | 'first'> {
  const funnel = app.db
    .select()
    .from(funnels)
    .where(and(eq(funnels.opening, product), isNull(funnels.removedAt)))
    .get();
  if (!funnel) return { steps: [], first: null };
  const steps = app.db
    .select()
    .from(funnelSteps)
    .where(eq(funnelSteps.funnel, funnel.id))
    .orderBy(funnelSteps.position)
    .all();
  return {
    first: funnel.first,
    steps: steps.flatMap(({ code, product: id, price, onYes, onNo }) => {
      const offered = productById(app, id);
      if (!offered) return [];
      const { name, currency } = offered;
      const asked = toDecimal(price ?? presentPrice(offered) ?? 0, currency);
      return [{ code, product: offered.code, name, price: asked, currency, onYes, onNo }];
    }),
  };
}

/** Prices in other currencies as decimals. */
const otherPrices = (d: Details): Record<string, string> =>
  Object.fromEntries(Object.entries(d.prices).map(([c, amount]) => [c, toDecimal(amount, c)]));

/** What is asked now: the price in the product's own currency, and all prices with the buyer's first; nothing where it is free. */
function pricesAsked(
  { kind, currency }: ProductRecord,
  d: Details,
  price: number | null,
  country: string | null,
): Pick<Offer, 'price' | 'asked'> {
  if (price === null || kind === 'free') return { price: null, asked: [] };
  const value = toDecimal(price, currency);
  const all = ownFirst({ [currency]: value, ...otherPrices(d) }, currency, country);
  return { price: { value, currency }, asked: all.map(([c, v]) => ({ value: v, currency: c })) };
}

/** What comes after the first payment. */
function laterPayments(product: ProductRecord, d: Details): Pick<Offer, 'recurring' | 'instalments'> {
  const { kind, name, description, currency } = product;
  const price = presentPrice(product) ?? 0;
  const decimal = (amount: number) => toDecimal(amount, currency);
  const recurring = {
    trialDays: d.trialDays,
    renewalPrice: decimal(d.renewalPrice ?? price),
    interval: d.interval,
    intervalDays: d.intervalDays,
    renewals: d.renewals,
    name: d.renewalName || name,
    description: d.renewalAbout || description,
  };
  return {
    recurring: kind === 'recurring' ? recurring : null,
    instalments: kind === 'instalments' ? instalmentsOf(price, d.instalments).map(decimal) : null,
  };
}

/** A product as a shop's page shows it. @param country of the buyer, whose currency comes first */
export function readOffer(app: App, code: string, country: string | null = null): Offer {
  const known = productByCode(app, code);
  const product = known ? productById(app, known.id) : undefined;
  if (!product || product.state === 'draft')
    throw new Problem('not-found', `Product ${code.slice(0, 40)} is not known here`);
  const d = detailsOf(product);
  const { price, left } = state(app, product);
  const { brand, ...support } = buyerContacts(app, d);
  return {
    code: product.code,
    name: product.name,
    description: product.description,
    kind: product.kind,
    onSale: onSale(app, product) === null,
    ...pricesAsked(product, d, price, country),
    prices: otherPrices(d),
    left,
    launchAt: d.launchAt,
    now: app.clock.now(),
    page: product.salesPage,
    refundDays: product.refundDays,
    receiptNote: d.receiptNote,
    delivery: d.delivery,
    accessPage: d.accessPage,
    accessParameters: d.accessParameters,
    picture: app.address + pictureAddress(app, product),
    brand,
    support,
    ...laterPayments(product, d),
    ...funnelOf(app, product.id),
  };
}

/** What a shop's confirmation page may offer, after what was bought. */
export function readConfirmation(app: App, bought: string): (typeof Confirmation)['static'] {
  const all = productsInUse(app).map((product) => {
    const { confirmOffer, confirmNotAfter } = detailsOf(product);
    const now = confirmOffer ? state(app, product) : null;
    return {
      product,
      now,
      code: product.code,
      sold: product.sold,
      confirmOffer,
      confirmNotAfter,
      onSale: confirmOffer && onSale(app, product) === null && now!.inStock !== 0,
    };
  });
  return {
    offers: confirmationOffers(all, bought.split(',')).map(({ product, now }) => ({
      code: product.code,
      name: product.name,
      description: product.description,
      price:
        now === null || now.price === null || product.kind === 'free'
          ? null
          : { value: toDecimal(now.price, product.currency), currency: product.currency },
      page: product.salesPage,
      picture: app.address + pictureAddress(app, product),
    })),
  };
}

/** The order came that a price was said for: the unit that was kept for it is sold. A quote serves one order. */
export function closeQuote(app: App, quote: string, product: Id<'product'>, order: Id<'order'>): void {
  if (!isId(quote, 'quote')) return;
  app.db
    .update(quotes)
    .set({ order })
    .where(and(eq(quotes.id, quote), eq(quotes.product, product), isNull(quotes.order)))
    .run();
}
