import { and, eq, gt, isNull, sql } from 'drizzle-orm';
import { type Confirmation, type Offer } from '../../../contract/track/pages';
import { type QuoteAnswer, type QuoteReport } from '../../../contract/track/signed-calls';
import { toDecimal } from '../../../core/money/amount';
import { ownFirst } from '../../../core/money/countries';
import { confirmationOffers } from '../../../core/pricing/confirmation';
import { instalmentsOf, offerNow } from '../../../core/pricing/product';
import type { App } from '../../ground/context';
import { newId } from '../../ground/db/ids';
import { Problem, refuse } from '../../ground/http/problem';
import { funnels, funnelSteps } from '../../ground/tables/products';
import { quotes } from '../../ground/tables/quotes';
import { detailsOf } from '../../registers/catalogue/details';
import { pictureAddress } from '../../registers/catalogue/files';
import { launchedAt } from '../../registers/catalogue/launch';
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
function heldNow(app: App, product: string): number {
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
  const known = productByCode(app, report.product);
  // read anew: what is kept in memory may be a sale old
  const product = known ? productById(app, known.id) : undefined;
  if (!product)
    throw refuse('product', `Product ${report.product} is not known here`, 'a code from the Products page');
  const off = onSale(app, product);
  if (off) throw new Problem('conflict', off);
  const { price, inStock, left } = state(app, product);
  if (inStock !== null && inStock < report.quantity)
    throw new Problem(
      'conflict',
      inStock === 0
        ? `${product.name} is sold out`
        : `Only ${inStock} of ${product.name} ${inStock === 1 ? 'is' : 'are'} left`,
    );
  const currency = report.currency ?? product.currency;
  const asked = currency === product.currency ? price : (detailsOf(product).prices[currency] ?? null);
  if (asked === null)
    throw refuse('currency', `${product.name} has no price in ${currency}`, product.currency);
  const id = newId('quote');
  const until = app.clock.now() + quoteHolds;
  app.db
    .insert(quotes)
    .values({
      id,
      product: product.id,
      quantity: report.quantity,
      price: asked,
      currency,
      at: app.clock.now(),
      until,
      message,
    })
    .run();
  const answer = {
    quote: id,
    product: product.code,
    price: { value: toDecimal(asked, currency), currency },
    left: left === null ? null : Math.max(0, left - report.quantity),
    until: new Date(until).toISOString(),
  };
  return { answer, repeated: false };
}

/** A product as a shop's page shows it. @param country of the buyer, whose currency comes first */
export function readOffer(app: App, code: string, country: string | null = null): Offer {
  const known = productByCode(app, code);
  const product = known ? productById(app, known.id) : undefined;
  if (!product || product.state === 'draft')
    throw new Problem('not-found', `Product ${code.slice(0, 40)} is not known here`);
  const d = detailsOf(product);
  const { price, left } = state(app, product);
  const { currency } = product;
  const funnel = app.db
    .select()
    .from(funnels)
    .where(and(eq(funnels.opening, product.id), isNull(funnels.removedAt)))
    .get();
  const steps = funnel
    ? app.db
        .select()
        .from(funnelSteps)
        .where(eq(funnelSteps.funnel, funnel.id))
        .orderBy(funnelSteps.position)
        .all()
    : [];
  const { brand, ...support } = buyerContacts(app, d);
  const decimal = (amount: number) => toDecimal(amount, currency);
  return {
    code: product.code,
    name: product.name,
    description: product.description,
    kind: product.kind,
    onSale: onSale(app, product) === null,
    price: price === null || product.kind === 'free' ? null : { value: decimal(price), currency },
    asked:
      price === null || product.kind === 'free'
        ? []
        : ownFirst(
            {
              [currency]: decimal(price),
              ...Object.fromEntries(Object.entries(d.prices).map(([c, amount]) => [c, toDecimal(amount, c)])),
            },
            currency,
            country,
          ).map(([c, value]) => ({ value, currency: c })),
    prices: Object.fromEntries(Object.entries(d.prices).map(([c, amount]) => [c, toDecimal(amount, c)])),
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
    recurring:
      product.kind === 'recurring'
        ? {
            trialDays: d.trialDays,
            renewalPrice: decimal(d.renewalPrice ?? product.price ?? 0),
            interval: d.interval,
            intervalDays: d.intervalDays,
            renewals: d.renewals,
            name: d.renewalName || product.name,
            description: d.renewalAbout || product.description,
          }
        : null,
    instalments:
      product.kind === 'instalments' ? instalmentsOf(product.price ?? 0, d.instalments).map(decimal) : null,
    steps: steps.flatMap((s) => {
      const offered = productById(app, s.product);
      return offered
        ? [
            {
              code: s.code,
              product: offered.code,
              name: offered.name,
              price: toDecimal(s.price ?? offered.price ?? 0, offered.currency),
              currency: offered.currency,
              onYes: s.onYes,
              onNo: s.onNo,
            },
          ]
        : [];
    }),
    first: funnel?.first ?? null,
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

/** The order came that a price was said for: the unit that was kept for it is sold. */
export function closeQuote(app: App, quote: string, product: string, order: string): void {
  app.db
    .update(quotes)
    .set({ order })
    .where(and(eq(quotes.id, quote), eq(quotes.product, product)))
    .run();
}
