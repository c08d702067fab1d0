import { eq } from 'drizzle-orm';
import { type QueryOf } from '../../../contract/endpoint';
import { type askRateBook as Ask } from '../../../contract/setup/rate-book';
import { dayOf } from '../../../core/calendar/zone';
import { parseAmount } from '../../../core/money/amount';
import { isCurrency } from '../../../core/money/currency';
import { isOpenToAffiliates, paymentPrice, type ProductKind } from '../../../core/pricing/product';
import { termsOfColumn, type Column } from '../../../core/terms/cell';
import { applyDraft } from '../../../core/terms/draft';
import { isLocked, termsAt } from '../../../core/terms/members';
import { presentExchange, presentLines } from '../../../core/terms/present';
import { type Event } from '../../../core/terms/rate';
import { resolveWithWorking } from '../../../core/terms/resolve-working';
import { type Actor, type App } from '../../ground/context';
import { Problem, refuse } from '../../ground/http/problem';
import { funnelSteps } from '../../ground/tables/products';
import { detailsOf } from '../../registers/catalogue/details';
import { presentPrice } from '../../registers/catalogue/price';
import { productById, type ProductRecord } from '../../registers/catalogue/store';
import { rateOn } from '../../registers/exchange/rates';
import { affiliateNames } from '../../registers/people/names';
import { theProgramme } from '../../registers/programme/record';
import { readWall } from '../../registers/programme/wall';
import { datedChanges, openDraft } from './draft-store';
import { aboutColumn, shown } from './ratebook';
import { readColumn } from './reading';
import { firstEvent } from './service';
import { indexed, setsInUse, theTerms, type Terms } from './store';

/** What is paid where nobody types a value: the price of that payment in that currency; a lead or a click has none. Minor units of the currency. */
function usualAmount(
  product: ProductRecord | null | undefined,
  event: Event,
  payment: number,
  currency: string,
): number {
  if (event === 'lead' || event === 'click') return 0;
  if (!product) return 10_000;
  const details = detailsOf(product);
  if (product.currency !== currency) return details.prices[currency] ?? 10_000;
  const price = presentPrice(product);
  if (event !== 'renewal') return price ?? 10_000;
  return paymentPrice(product.kind as ProductKind, price ?? 0, details, payment) ?? price ?? 10_000;
}

type AskQuery = QueryOf<typeof Ask>;

/** The terms that are asked about: those in force, or the draft's as if it began at the moment. */
function termsAsked(app: App, actor: Actor, query: AskQuery, at: number): Terms {
  const draft = query.draft && actor.kind === 'staff' ? openDraft(app, actor) : null;
  return draft ? indexed(applyDraft(theTerms(app).data, shown(datedChanges(app, draft), at))) : theTerms(app);
}

/** What is sold: a product, or a step that offers one; null for anything. @throws Problem `not-found` */
function soldIn(app: App, { step: code, product: id }: AskQuery) {
  const step = code ? app.db.select().from(funnelSteps).where(eq(funnelSteps.code, code)).get() : undefined;
  const wanted = step?.product ?? id;
  const product = wanted ? productById(app, wanted) : null;
  if (id && !product) throw new Problem('not-found', 'This product does not exist');
  return { step, product: product ?? null };
}

const currencyAsked = ({ currency }: AskQuery, otherwise: string): string =>
  currency?.trim() ? currency.toUpperCase() : otherwise;

/** The currency and the order's value as asked, minor units of it. @throws Problem `invalid` */
function valueAsked(
  app: App,
  query: AskQuery,
  { step, product }: ReturnType<typeof soldIn>,
): { currency: string; amount: number; event: Event; payment: number } {
  const { base } = theProgramme(app);
  const event = query.event ?? firstEvent(product?.kind ?? '');
  const payment = query.payment ?? (event === 'renewal' ? 2 : 1);
  const currency = currencyAsked(query, product?.currency ?? base);
  if (!isCurrency(currency)) throw refuse('currency', `Currency ${currency} is not known`, base);
  const amount =
    amountAsked(query, currency) ?? step?.price ?? usualAmount(product, event, payment, currency);
  return { currency, event, payment, amount };
}

/** The value as typed, minor units; null where none is. @throws Problem `invalid` */
function amountAsked({ value }: AskQuery, currency: string): number | null {
  if (!value?.trim()) return null;
  const typed = parseAmount(value, currency);
  if (!typed.ok) throw refuse('value', `Order value: ${typed.reason}`, typed.example);
  return typed.value;
}

/** @throws Problem `invalid` where no rate is known for the day */
function exchangeOn(app: App, currency: string, at: number): number {
  const { base, zone } = theProgramme(app);
  const day = dayOf(at, zone);
  const rateMicros = rateOn(app, currency, day);
  if (rateMicros === null)
    throw refuse('currency', `No exchange rate between ${currency} and ${base} is known for ${day}`, base);
  return rateMicros;
}

function nameOfColumn(app: App, column: Column): string {
  if (column.of === 'everyone') return 'Everyone';
  return column.of === 'affiliate'
    ? affiliateNames(app, [column.id]).get(column.id)!
    : setsInUse(app).find((s) => s.id === column.id)!.name;
}

/** What anybody earns on anything at any moment, with its working. */
export function ask(app: App, actor: Actor, query: AskQuery) {
  const { base } = theProgramme(app);
  const at = query.at ? readWall(app, query.at, 'at', 'Moment') : app.clock.now();
  const known = readColumn(app, query.column, query.who);
  const terms = termsAsked(app, actor, query, at);
  const column: Column =
    known.of === 'affiliate' ? { ...known, terms: termsAt(terms.roll, known.id, at) } : known;
  const what = soldIn(app, query);
  const { product } = what;
  const { currency, amount, event, payment } = valueAsked(app, query, what);
  const name = product?.name ?? 'Anything';
  const sold = {
    product: product?.id ?? '',
    kind: product?.kind ?? '',
    ...(query.step ? { step: query.step } : {}),
  };
  const line = {
    ...sold,
    name,
    quantity: 1,
    amount,
    discount: 0,
    approved: !product || isOpenToAffiliates(detailsOf(product), at),
    locked: isLocked(terms.roll, sold.product, event, at),
  };
  const working = resolveWithWorking(terms.book, termsOfColumn(column, terms.roll, at), {
    ...{ event, at, payment, currency, base },
    rateMicros: exchangeOn(app, currency, at),
    lines: [line],
  });
  return {
    who: nameOfColumn(app, column),
    about: aboutColumn(app, column, terms, at),
    product: name,
    at,
    value: { amount, currency },
    total: { amount: working.total, currency: base },
    lines: presentLines(working),
    exchange: presentExchange(working),
  };
}
