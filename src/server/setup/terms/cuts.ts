import { and, eq, isNull } from 'drizzle-orm';
import { formatDay } from '../../../core/calendar/format';
import { dayOf, millisecondsInDay } from '../../../core/calendar/zone';
import { formatMoney } from '../../../core/money/amount';
import { isOpenToAffiliates, paymentPrice, type ProductKind } from '../../../core/pricing/product';
import type { Exchange } from '../../../core/terms/cut-orders';
import type { Sellable } from '../../../core/terms/cut-questions';
import { cutsBetween, loweredBy, type Cut } from '../../../core/terms/cuts';
import type { TermsData } from '../../../core/terms/draft';
import { isReferralCut, salesOf } from '../../../core/terms/share-cuts';
import type { Referral } from '../../../core/terms/shares';
import { counted } from '../../../core/text/counted';
import type { Id } from '../../../core/text/id';
import { type App } from '../../ground/context';
import { perApp } from '../../ground/db/prepared';
import { invalid } from '../../ground/http/problem';
import { funnels, funnelSteps } from '../../ground/tables/products';
import { detailsOf } from '../../registers/catalogue/details';
import { presentPrice } from '../../registers/catalogue/price';
import { productById, productsInUse } from '../../registers/catalogue/store';
import { listExchange, rateOn } from '../../registers/exchange/rates';
import { isPromoting } from '../../registers/people/promoting';
import { noticeNow } from '../../registers/programme/notice';
import { theProgramme } from '../../registers/programme/record';
import { indexedFrom, theTerms } from './store';
import { eventWords, termsWords } from './words';
import { priceInBase } from './worst';

/** What a product is asked at where nobody has said its price yet: 100.00 of base. */
const unknownPrice = 10_000;

/** Everything that is sold, at its price: products and the steps of funnels. */
function sellables(app: App): Sellable[] {
  const inBase = (price: number | null, currency: string) =>
    price === null ? null : priceInBase(app, { price, currency }) || unknownPrice;
  // what nobody may promote earns nobody anything, whatever its rate
  const open = productsInUse(app).filter((p) => isOpenToAffiliates(detailsOf(p), app.clock.now()));
  const products = open.map((p): Sellable => {
    const details = detailsOf(p);
    const price = presentPrice(p);
    const payment = (n: number) => paymentPrice(p.kind as ProductKind, price ?? 0, details, n);
    const first = p.kind === 'free' ? null : price === null ? unknownPrice : inBase(payment(1), p.currency);
    return {
      product: p.id,
      kind: p.kind,
      step: null,
      price: first,
      renewal:
        p.kind === 'recurring' || p.kind === 'instalments'
          ? (inBase(payment(2) ?? price, p.currency) ?? unknownPrice)
          : null,
    };
  });
  const steps = app.db
    .select({ s: funnelSteps })
    .from(funnelSteps)
    .innerJoin(funnels, and(eq(funnels.id, funnelSteps.funnel), isNull(funnels.removedAt)))
    .all();
  return [
    ...products,
    ...steps.flatMap(({ s }): Sellable[] => {
      const p = productById(app, s.product);
      return p && p.kind !== 'free' && isOpenToAffiliates(detailsOf(p), app.clock.now())
        ? [
            {
              product: p.id,
              kind: p.kind,
              step: s.code,
              price: inBase(s.price ?? presentPrice(p), p.currency) ?? unknownPrice,
              renewal: null,
            },
          ]
        : [];
    }),
  ];
}

const statements = perApp((app) => ({
  everybody: app.sqlite
    .prepare<[], Id<'affiliate'>>(`SELECT id FROM affiliates WHERE ${isPromoting('affiliates')} ORDER BY id`)
    .pluck(),
  one: app.sqlite
    .prepare<[string], number>(`SELECT 1 FROM affiliates WHERE id = ? AND ${isPromoting('affiliates')}`)
    .pluck(),
}));

/** True where there is an affiliate to whom something is promised. */
export const isAnybodyPromised = (app: App): boolean => statements(app).everybody.get() !== undefined;

/** Those of some to whom something is promised. */
export function promisedOf(app: App, people: readonly Id<'affiliate'>[]): Id<'affiliate'>[] {
  return people.filter((id) => statements(app).one.get(id) !== undefined);
}

/** The earliest moment at which a cut that is announced now may begin. */
export function earliestCut(app: App): number {
  return app.clock.now() + noticeNow(app) * 7 * millisecondsInDay;
}

/** The exchange rates of today, by currency. */
function exchangeNow(app: App): Exchange {
  const { zone } = theProgramme(app);
  const today = dayOf(app.clock.now(), zone);
  return new Map(
    listExchange(app).rows.flatMap(({ currency }): [string, number][] => {
      const rate = rateOn(app, currency, today);
      return rate === null ? [] : [[currency, rate]];
    }),
  );
}

/** Where a change of terms would earn anybody less, from now on. @param people those it can reach; left out = everybody */
export function cutsOf(
  app: App,
  after: TermsData,
  people: readonly Id<'affiliate'>[] = statements(app).everybody.all(),
): Cut[] {
  return cutsBetween(theTerms(app), indexedFrom(theTerms(app), after), {
    people,
    sellables: sellables(app),
    now: app.clock.now(),
    base: theProgramme(app).base,
    exchange: exchangeNow(app),
  });
}

/** True where a change of a referral would leave the one who brought an affiliate in less, or would end sooner. */
export function isLowerReferral(
  app: App,
  affiliate: Id<'affiliate'>,
  before: Pick<Referral, 'ppm' | 'of' | 'until'>,
  after: Pick<Referral, 'ppm' | 'of' | 'until'> | null,
): boolean {
  const { base } = theProgramme(app);
  return isReferralCut(before, after, () =>
    salesOf(theTerms(app), affiliate, { sellables: sellables(app), now: app.clock.now(), base }),
  );
}

/** Who of some would earn less on anything. */
export function whoIsCut(
  app: App,
  after: TermsData,
  people: readonly Id<'affiliate'>[],
): Set<Id<'affiliate'>> {
  if (!people.length) return new Set();
  return loweredBy(theTerms(app), indexedFrom(theTerms(app), after), {
    people: promisedOf(app, people),
    sellables: sellables(app),
    now: app.clock.now(),
    base: theProgramme(app).base,
    exchange: exchangeNow(app),
  });
}

/** Which order it is, where it is not one unit at its price: " of 2", " of €59.99", " in GBP". */
function orderInWords({ sellable, event, order }: Cut, base: string): string {
  if (event === 'lead' || event === 'click') return '';
  const { quantity, amount, currency } = order;
  const units = quantity > 1 ? ` of ${quantity}` : '';
  if (currency !== base) return `${units} in ${currency}`;
  const price = event === 'renewal' ? sellable.renewal : sellable.price;
  return amount === quantity * (price ?? 0) ? units : ` of ${formatMoney({ amount, currency })}`;
}

/** A cut in words: "Wheel kit, first sale: €23.88 → €19.90 for Loam Letters and 3 others". */
export function cutInWords(app: App, cut: Cut): string {
  const { base } = theProgramme(app);
  const words = termsWords(app, [cut.affiliate]);
  const say = (amount: number) => formatMoney({ amount, currency: base });
  const what =
    cut.sellable.step === null
      ? words.product(cut.sellable.product)
      : words.what({ type: 'step', step: cut.sellable.step });
  const event = cut.event === 'renewal' ? `payment ${cut.payment}` : eventWords[cut.event];
  const order = orderInWords(cut, base);
  const others =
    cut.people > 1
      ? ` and ${(cut.people - 1).toLocaleString('en-GB')} ${cut.people === 2 ? 'other' : 'others'}`
      : '';
  return `${what}, ${event}${order}: ${say(cut.before)} → ${say(cut.after)} for ${words.who(cut.affiliate)}${others}`;
}

/** "2 weeks", "1 week". */
export function noticeInWords(app: App): string {
  return counted(noticeNow(app), 'week');
}

/**
 * Refuses an act that takes effect at once where it would earn somebody less before the promised notice is over.
 * @param field where the fault is said @param instead what to do @throws Problem `invalid`
 */
export function refuseCut(app: App, after: TermsData, field: string, instead: string): void {
  const earliest = earliestCut(app);
  const cuts = cutsOf(app, after).filter((c) => c.at < earliest);
  const [first] = cuts;
  if (!first) return;
  const people = cuts.filter((c) => c.at === first.at).reduce((sum, c) => sum + c.people, 0);
  throw invalid([
    {
      pointer: `/${field}`,
      detail: `${people === 1 ? 'Somebody' : `${people.toLocaleString('en-GB')} affiliates`} would earn less (${cutInWords(app, first)}), and the programme promises ${noticeInWords(app)} of notice: ${instead}`,
      example: `from ${formatDay(earliest, theProgramme(app).zone)}`,
    },
  ]);
}
