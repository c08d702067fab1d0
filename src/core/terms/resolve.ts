import { convertToBase, split } from '../money/amount';
import { percentOf } from '../money/percent';
import { mulDiv } from '../money/rounding';
import type { Book, RungWorking } from './book';
import { considered, winner } from './book';
import type { AffiliateTerms, Event, Rate, Reward, Sold } from './rate';

/** A line of an order as reported; amounts are minor units of the order's currency. */
export interface OrderLine extends Sold {
  /** name for people */
  name: string;
  quantity: number;
  /** quantity × price, before discount, tax and shipping */
  amount: number;
  /** this line's share of the order's discounts */
  discount: number;
  /** false if the affiliate is not approved for the product: the line earns nothing */
  approved: boolean;
}

export interface OrderToResolve {
  event: Event;
  /** UTC milliseconds; every rate is taken as of this moment */
  at: number;
  currency: string;
  base: string;
  /** order currency bought by one unit of base, × 1,000,000; ignored where both are the same */
  rateMicros: number;
  lines: readonly OrderLine[];
}

/** What a line came to. `value` in order currency, `base` and `amount` in minor units of base. */
export interface ResolvedLine {
  product: string;
  name: string;
  quantity: number;
  gross: number;
  discount: number;
  value: number;
  base: number;
  rateId: string | null;
  reward: Reward | null;
  amount: number;
  /** why the amount is zero, where it is */
  reason: string | null;
}

export interface LineWorking extends ResolvedLine {
  locked: boolean;
  rungs: RungWorking[];
}

export interface Working {
  event: Event;
  at: number;
  currency: string;
  base: string;
  rateMicros: number;
  lines: LineWorking[];
  total: number;
}

/** The part of the price that commission is paid on: price paid × quantity − its discounts. */
export function commissionableValue(line: { amount: number; discount: number }): number {
  return Math.max(0, line.amount - line.discount);
}

function ownAmount(reward: Reward, base: number, quantity: number): number {
  switch (reward.type) {
    case 'percent': return percentOf(base, reward.ppm);
    case 'flat-unit': return Math.min(base, reward.amount * quantity);
    case 'flat-order': return 0;
  }
}

/**
 * Flat-per-order rewards count once for all lines that the same rate won; the amount is split over
 * those lines by value, largest remainder, and never exceeds what the lines are worth.
 */
function shareFlats(lines: { base: number; amount: number; rate: Rate | null }[]): void {
  const byRate = new Map<Rate, typeof lines>();
  for (const line of lines) {
    if (line.rate?.reward.type !== 'flat-order') continue;
    byRate.set(line.rate, [...(byRate.get(line.rate) ?? []), line]);
  }
  for (const [rate, won] of byRate) {
    if (rate.reward.type !== 'flat-order') continue;
    const worth = won.reduce((sum, l) => sum + l.base, 0);
    const parts = split(Math.min(rate.reward.amount, worth), won.map((l) => l.base));
    won.forEach((line, i) => { line.amount = parts[i]!; });
  }
}

/**
 * Resolves an order to amounts for one affiliate, as of the order's moment.
 * @returns a line each, in the order given, amounts in minor units of base, rounded once a line
 */
export function resolveOrder(book: Book, terms: AffiliateTerms, order: OrderToResolve): ResolvedLine[] {
  return decide(book, terms, order).map(asResolved);
}

interface Decided { line: OrderLine; value: number; base: number; rate: Rate | null; amount: number }

function decide(book: Book, terms: AffiliateTerms, order: OrderToResolve): Decided[] {
  const rows = order.lines.map((line) => {
    const value = commissionableValue(line);
    const base = convertToBase(value, order.currency, order.base, order.rateMicros);
    const rate = line.approved ? winner(book, terms, line, order.event, order.at) : null;
    return { line, value, base, rate, amount: rate ? ownAmount(rate.reward, base, line.quantity) : 0 };
  });
  shareFlats(rows);
  return rows;
}

function asResolved({ line, value, base, rate, amount }: Decided): ResolvedLine {
  return {
    product: line.product, name: line.name, quantity: line.quantity, gross: line.amount, discount: line.discount,
    value, base, rateId: rate?.id ?? null, reward: rate?.reward ?? null, amount,
    reason: !line.approved ? 'not approved for this product' : rate ? null : 'no rate applies on any rung',
  };
}

/** The same with its working: every rung, every rate considered, and why. */
export function resolveWithWorking(book: Book, terms: AffiliateTerms, order: OrderToResolve): Working {
  const rows = decide(book, terms, order);
  const resolved = rows.map(asResolved);
  const lines = resolved.map((result, i): LineWorking => {
    const { line, rate: decided } = rows[i]!;
    return Object.assign(result, { locked: line.locked ?? false, rungs: considered(book, terms, line, order.event, order.at, decided) });
  });
  return {
    event: order.event, at: order.at, currency: order.currency, base: order.base, rateMicros: order.rateMicros,
    lines, total: resolved.reduce((sum, l) => sum + l.amount, 0),
  };
}

/**
 * The commission on what is left of a line after refunds, under the reward stored with it:
 * percent × value left; a flat amount × value left ÷ value. No new rate, no new band.
 * @param line as resolved at the sale: `base` and `amount` in minor units of base
 * @param baseLeft commissionable value left, minor units of base
 */
export function amountOnRest(line: { reward: Reward | null; base: number; amount: number }, baseLeft: number): number {
  if (!line.reward || line.base === 0 || baseLeft <= 0) return 0;
  if (baseLeft >= line.base) return line.amount;
  return line.reward.type === 'percent' ? percentOf(baseLeft, line.reward.ppm) : mulDiv(line.amount, baseLeft, line.base);
}
