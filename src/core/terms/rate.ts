import { type Span } from '../calendar/span';
import { formatMoney } from '../money/amount';
import { formatPercent } from '../money/percent';
import type { Id } from '../text/id';
import type { rateModes } from './lists';

/** The rungs of the ladder of precedence, first wins. */
export const rungs = ['personal', 'tag', 'group', 'card', 'product', 'programme'] as const;
export type Rung = (typeof rungs)[number];

/** What a rate pays for: the first payment, a later one, a lead, a click. */
export const events = ['sale', 'renewal', 'lead', 'click'] as const;
export type Event = (typeof events)[number];

/** What a rate covers, from wide to narrow. */
export type What =
  | { type: 'everything' }
  | { type: 'kind'; kind: string }
  | { type: 'product'; product: Id<'product'> }
  | { type: 'step'; step: string };

/**
 * What one line or order pays. Amounts are minor units of the base currency; `also` holds the amount promised to orders
 * in another currency, in minor units of that one. A lead is an order of one line to a `flat-order`; so are the clicks of a day, with their number as its quantity.
 */
export type Pay =
  | { type: 'percent'; ppm: number }
  | { type: 'flat-order'; amount: number; also?: Record<string, number> }
  | { type: 'flat-unit'; amount: number; also?: Record<string, number> };

/** A threshold of order bands: minor units of base, inclusive, and what an order from there on pays. */
export interface Band {
  from: number;
  pay: Pay;
}

/** What a rate pays: the same whatever the order's value, or by order bands. */
export type Reward = Pay | { type: 'bands'; bands: readonly Band[] };

/** Which payments of a subscription a renewal rate covers: 2 is the first renewal; `last` null = all that follow. */
export interface Payments {
  first: number;
  last: number | null;
  /** past the last: nothing at all, or the next rate down the ladder */
  after: 'nothing' | 'next';
}

/** One line of terms: who earns what, for what, when. */
export interface Rate extends Span {
  id: Id<'rate'>;
  /** a rate of the ladder, or an uplift: up to a reward, or on top of what the ladder gives */
  mode: (typeof rateModes)[number];
  rung: Rung;
  /** id of the affiliate, tag, group or card; null on the rungs that are for everyone */
  who: Id<'affiliate' | 'set'> | null;
  what: What;
  event: Event;
  /** of renewals only; null = every payment */
  payments: Payments | null;
  reward: Reward;
  /** the most that the rate pays an order, minor units of base; null = no cap */
  cap: number | null;
  /** what people call it, for the working */
  label: string;
}

/** An affiliate who is nobody in particular, with no rate of its own and in no set. */
export const anybody: Id<'affiliate'> = 'aff_';

/** What decides an affiliate's rates, as of one moment. */
export interface AffiliateTerms {
  affiliate: Id<'affiliate'>;
  card: Id<'set'> | null;
  group: { id: Id<'set'>; paused: boolean } | null;
  /** in the order that the merchant gave them */
  tags: readonly Id<'set'>[];
}

/** The thing a line sells, as far as rates care. */
export interface Sold {
  product: string;
  kind: string;
  step?: string | null;
  /** the product's lock on this event: rungs 1–4 and uplifts are skipped */
  locked?: boolean;
}

const widths = { step: 0, product: 1, kind: 2, everything: 3 } as const;

/** How wide a rate reaches; 0 = narrowest. */
export function width(what: What): number {
  return widths[what.type];
}

/** True on the rungs that are for some affiliates only: a lock skips them. */
export function isSpecial(rung: Rung): boolean {
  return rung !== 'product' && rung !== 'programme';
}

/** True if the thing sold lies in what a rate covers. */
export function covers(what: What, sold: Sold): boolean {
  switch (what.type) {
    case 'everything':
      return true;
    case 'kind':
      return what.kind === sold.kind;
    case 'product':
      return what.product === sold.product;
    case 'step':
      return what.step === sold.step;
  }
}

/** True if two rates cover exactly the same. */
export function sameWhat(a: What, b: What): boolean {
  switch (a.type) {
    case 'everything':
      return b.type === 'everything';
    case 'kind':
      return b.type === 'kind' && a.kind === b.kind;
    case 'product':
      return b.type === 'product' && a.product === b.product;
    case 'step':
      return b.type === 'step' && a.step === b.step;
  }
}

/** The highest threshold at or below the value, or null below the lowest. Bands are in rising order. */
export function bandFor(bands: readonly Band[], value: number): Band | null {
  let found: Band | null = null;
  for (const band of bands) if (band.from <= value) found = band;
  return found;
}

/** The plain reward that an order of one value gets from a reward: of the band it reaches, null below the lowest. @param value minor units of base */
export function payAt(reward: Reward, value: number): Pay | null {
  return reward.type === 'bands' ? (bandFor(reward.bands, value)?.pay ?? null) : reward;
}

/** A line of an order with its commissionable value in minor units of base. */
export interface Valued {
  line: Sold & { approved: boolean };
  base: number;
}

/** What an order is worth in a rate's scope: what its bands look at. A line the affiliate is not approved for counts nothing. */
export function worthIn(rate: Pick<Rate, 'what'>, rows: readonly Valued[]): number {
  let sum = 0;
  for (const { line, base } of rows) if (line.approved && covers(rate.what, line)) sum += base;
  return sum;
}

/** How a rate stands to a question: only `applies` and `nothing-left` end the ladder. */
export type Fit =
  | 'applies'
  | 'nothing-left'
  | 'begins-later'
  | 'had-ended'
  | 'earlier-payment'
  | 'later-payment'
  | 'below-bands';

/**
 * Whether a rate applies at a moment, to a payment, to an order worth so much in the rate's scope.
 * @param payment number of the payment, 1 = the first @param rows of the order; looked at only for rates with bands
 */
export function fitOf(rate: Rate, at: number, payment: number, rows: readonly Valued[]): Fit {
  if (at < rate.from) return 'begins-later';
  if (rate.until !== null && at >= rate.until) return 'had-ended';
  const range = rate.payments;
  if (range !== null) {
    if (payment < range.first) return 'earlier-payment';
    if (range.last !== null && payment > range.last)
      return range.after === 'nothing' ? 'nothing-left' : 'later-payment';
  }
  return rate.reward.type === 'bands' && !bandFor(rate.reward.bands, worthIn(rate, rows))
    ? 'below-bands'
    : 'applies';
}

const perWord: Record<Event, string> = {
  sale: 'an order',
  renewal: 'a payment',
  lead: 'a lead',
  click: 'a click',
};

/** A plain reward for people: "12.5 %", "€6.00 an order", "€0.40 a lead". */
export function describePay(pay: Pay, currency: string, event: Event = 'sale'): string {
  if (pay.type === 'percent') return formatPercent(pay.ppm);
  const also = Object.entries(pay.also ?? {})
    .map(([other, amount]) => `, ${formatMoney({ amount, currency: other })} in ${other}`)
    .join('');
  return `${formatMoney({ amount: pay.amount, currency })} ${pay.type === 'flat-unit' ? 'a unit' : perWord[event]}${also}`;
}

/** A reward for people, bands with their inclusive thresholds: "from €60.00 10 %, from €150.00 35 %". */
export function describeReward(reward: Reward, currency: string, event: Event = 'sale'): string {
  if (reward.type !== 'bands') return describePay(reward, currency, event);
  return reward.bands
    .map((b) => `from ${formatMoney({ amount: b.from, currency })} ${describePay(b.pay, currency, event)}`)
    .join(', ');
}

/** A rate for people: its reward, payments and cap. "10 %, payments 2–6, then nothing, at most €20.00 an order". */
export function describeRate(
  rate: Pick<Rate, 'reward' | 'event' | 'payments' | 'cap' | 'mode'>,
  currency: string,
): string {
  const { payments, cap } = rate;
  const mode = rate.mode === 'up-to' ? 'up to ' : rate.mode === 'plus' ? 'plus ' : '';
  const range = payments === null ? '' : `, ${describePayments(payments)}`;
  const limit =
    cap === null ? '' : `, at most ${formatMoney({ amount: cap, currency })} ${perWord[rate.event]}`;
  return `${mode}${describeReward(rate.reward, currency, rate.event)}${range}${limit}`;
}

/** "payments 2–6, then nothing"; "payment 2"; "payments from 7". */
export function describePayments({ first, last, after }: Payments): string {
  if (last === null) return `payments from ${first}`;
  return `${first === last ? `payment ${first}` : `payments ${first}–${last}`}${after === 'nothing' ? ', then nothing' : ''}`;
}

/** True where a payment comes after the last that a rate pays for: nothing is left of it, whatever it says of later ones. */
export function isUsedUp({ payments }: Rate, payment: number): boolean {
  return payments !== null && payments.last !== null && payment > payments.last;
}
