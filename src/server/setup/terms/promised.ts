import { formatEnd } from '../../../core/calendar/format';
import { lastPaymentOf, type ProductKind } from '../../../core/pricing/product';
import { isLocked } from '../../../core/terms/members';
import { promiseOf } from '../../../core/terms/promise';
import { promisedUntil, promiseOfRenewals } from '../../../core/terms/promise-periods';
import { promiseInWords, renewalsInWords, untilInWords } from '../../../core/terms/promise-words';
import type { AffiliateTerms, Event, Sold } from '../../../core/terms/rate';
import { amountsOf } from '../../../core/terms/resolve';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { detailsOf } from '../../registers/catalogue/details';
import type { ProductRecord } from '../../registers/catalogue/store';
import { theProgramme } from '../../registers/programme/record';
import { firstEvent, termsOf } from './service';
import { theTerms } from './store';

/** An affiliate, or the terms that somebody would have. */
type Who = Id<'affiliate'> | AffiliateTerms;
/** What is promised on: a product, or with no id anything at all. */
type Sellable = Pick<ProductRecord, 'id' | 'kind' | 'details'> | null;

const termsFor = (app: App, who: Who, at: number): AffiliateTerms =>
  typeof who === 'string' ? termsOf(app, who, at) : who;

function soldAt(app: App, product: Sellable, event: Event, at: number): Sold {
  if (!product) return { product: '', kind: '' };
  const { id, kind } = product;
  return { product: id, kind, locked: isLocked(theTerms(app).roll, id, event, at) };
}

/** True for what is paid more than once. */
export const hasRenewals = ({ kind }: Pick<ProductRecord, 'kind'>): boolean =>
  kind === 'recurring' || kind === 'instalments';

/**
 * What orders of a product pay somebody now, in words, and until when as far as an end is known: made by asking the
 * resolver, so that it holds whatever stands behind it. Of renewals, all payments that there are.
 */
export function promisedNow(
  app: App,
  who: Who,
  product: Sellable,
  event: Event = firstEvent(product?.kind ?? ''),
): string {
  const { base, zone } = theProgramme(app);
  const last = product ? lastPaymentOf(product.kind as ProductKind, detailsOf(product)) : null;
  const questionAt = (at: number) => ({
    ...{ book: theTerms(app).book, terms: termsFor(app, who, at), event, at, base },
    sold: soldAt(app, product, event, at),
  });
  const wordsAt = (at: number) =>
    event === 'renewal'
      ? renewalsInWords(promiseOfRenewals(questionAt(at), last), base)
      : promiseInWords(promiseOf({ ...questionAt(at), payment: 1 }), { base, event });
  const now = app.clock.now();
  const words = wordsAt(now);
  const end = promisedUntil(questionAt(now), words, wordsAt);
  return end ? untilInWords(words, formatEnd(end.until, zone), end.then) : words;
}

/** What one first sale, or lead, of a product earns somebody now, minor units of base. @param price minor units of base */
export function earnedNow(
  app: App,
  who: Who,
  product: NonNullable<Sellable>,
  { price, step }: { price: number; step?: string },
): number {
  const { base } = theProgramme(app);
  const at = app.clock.now();
  const event = firstEvent(product.kind);
  const sold = { ...soldAt(app, product, event, at), ...(step === undefined ? {} : { step }) };
  return amountsOf(theTerms(app).book, termsFor(app, who, at), {
    ...{ event, at, payment: 1, currency: base, base, rateMicros: 1_000_000 },
    lines: [{ ...sold, name: '', quantity: 1, amount: price, discount: 0, approved: true }],
  })[0]!;
}
