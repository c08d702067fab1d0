import { convertToBase, largestAmount, split } from '../money/amount';
import { percentOf } from '../money/percent';
import { winner, type Book, type Question } from './book';
import { capLeft, spend, type Spent } from './caps';
import type { Earned } from './earned';
import { commissionableValue, type OrderLine, type OrderToResolve, type ResolvedLine } from './order';
import {
  bandFor,
  isUsedUp,
  worthIn,
  type AffiliateTerms,
  type Band,
  type Event,
  type Pay,
  type Rate,
} from './rate';
import type { LineReason } from './reason';
import { bestRaises, upliftsFor, type Limits, type Raise } from './uplift';

export interface Decided {
  line: OrderLine;
  value: number;
  base: number;
  rate: Rate | null;
  pay: Pay | null;
  band: Band | null;
  /** what the ladder gives, the same before its cap, and before the limit to what the line is worth */
  amount: number;
  uncapped: number;
  promised: number;
  /** before the cap, of all lines that the rate won */
  wonTogether: number;
  raise: Raise | null;
}

/**
 * A flat amount for so many units, in minor units of base: what was promised in the order's own currency is converted at
 * its rate, for all units at once, so that it is rounded once.
 */
function flatIn(order: OrderToResolve, pay: Exclude<Pay, { type: 'percent' }>, units = 1): number {
  const own = order.currency === order.base ? undefined : pay.also?.[order.currency];
  // more than any line can be worth, whatever the currencies: what a line earns is limited to its value
  if ((own ?? pay.amount) * units > largestAmount * 100) return Number.MAX_SAFE_INTEGER;
  const once =
    own === undefined
      ? pay.amount * units
      : convertToBase(own * units, order.currency, order.base, order.rateMicros);
  // the clicks of a day are one line: each of them earns what is promised for a click
  return order.event === 'click' && pay.type === 'flat-order' ? once * order.lines[0]!.quantity : once;
}

/** The most a line can earn: what it is worth; a lead or a click has no price and earns what was promised for it. */
function limitOf(event: Event, base: number): number {
  return event === 'lead' || event === 'click' ? Number.MAX_SAFE_INTEGER : base;
}

/** A later payment of an order: what is flat per order was earned with the first. */
export function isFurther(order: Pick<OrderToResolve, 'event' | 'payment'>): boolean {
  return order.event === 'sale' && (order.payment ?? 1) > 1;
}

function promisedBy(order: OrderToResolve, pay: Pay, base: number, quantity: number): number {
  switch (pay.type) {
    case 'percent':
      return percentOf(base, pay.ppm);
    case 'flat-unit':
      return flatIn(order, pay, quantity);
    case 'flat-order':
      return 0;
  }
}

function wonTogether(rows: Decided[]): Map<Rate, Decided[]> {
  const byRate = new Map<Rate, Decided[]>();
  for (const row of rows) {
    if (!row.rate || (row.pay?.type !== 'flat-order' && row.rate.cap === null)) continue;
    const list = byRate.get(row.rate);
    if (list) list.push(row);
    else byRate.set(row.rate, [row]);
  }
  return byRate;
}

/**
 * A flat reward per order, and a cap, count once for all lines that the same rate won; the amount is split over
 * those lines by value, largest remainder, and never exceeds what the lines are worth.
 */
function countOnce(order: OrderToResolve, rows: Decided[]): void {
  for (const [rate, won] of wonTogether(rows)) {
    const pay = won[0]!.pay;
    const values = won.map((r) => r.base);
    if (pay?.type === 'flat-order' && !isFurther(order)) {
      const flat = flatIn(order, pay);
      const limited = split(
        Math.min(
          flat,
          limitOf(
            order.event,
            values.reduce((a, b) => a + b, 0),
          ),
        ),
        values,
      );
      split(flat, values).forEach((part, i) => {
        won[i]!.promised = part;
        won[i]!.amount = limited[i]!;
        won[i]!.uncapped = limited[i]!;
      });
    }
    const sum = won.reduce((total, r) => total + r.amount, 0);
    for (const row of won) row.wonTogether = sum;
    const cap = capLeft(rate, order.spent);
    if (cap === null || sum <= cap) continue;
    split(cap, values).forEach((part, i) => {
      won[i]!.amount = part;
    });
  }
}

/** The percentage that an uplift adds to: the ladder's where no cap cut it, 0 where no rate applies. */
function percentageOf({ rate, pay, wonTogether }: Decided, spent: Spent | undefined): number | null {
  const cap = rate === null ? null : capLeft(rate, spent);
  if (cap !== null && wonTogether > cap) return null;
  return pay === null ? 0 : pay.type === 'percent' ? pay.ppm : null;
}

/** An order on its way through the ladder: what is asked of it, and what is decided of each line. */
interface Asking {
  order: OrderToResolve;
  asked: Question;
  rows: Decided[];
}

function raiseLines(book: Book, terms: AffiliateTerms, { order, asked, rows }: Asking): void {
  const uplifts = upliftsFor(book, terms, asked);
  if (uplifts.length === 0) return;
  const flatOf = (pay: Exclude<Pay, { type: 'percent' }>, units?: number) =>
    pay.type === 'flat-order' && isFurther(order) ? 0 : flatIn(order, pay, units);
  const raisable = rows.map((row) => ({
    line: row.line,
    base: row.base,
    amount: row.amount,
    ppm: percentageOf(row, order.spent),
  }));
  const limits: Limits = {
    flatOf,
    limitOf: (base) => limitOf(order.event, base),
    capOf: (rate) => capLeft(rate, order.spent),
  };
  bestRaises(uplifts, raisable, limits).forEach((raise, i) => {
    rows[i]!.raise = raise;
  });
}

function rowOf(order: OrderToResolve, line: OrderLine): Decided {
  const value = commissionableValue(line);
  return {
    line,
    value,
    base: convertToBase(value, order.currency, order.base, order.rateMicros),
    rate: null,
    pay: null,
    band: null,
    amount: 0,
    uncapped: 0,
    promised: 0,
    wonTogether: 0,
    raise: null,
  };
}

/** Finds the rate that a line is paid by, and what it promises. @returns whether it counts once for all lines it won */
function decideRow(book: Book, terms: AffiliateTerms, asking: Asking, row: Decided): boolean {
  const { order, asked } = asking;
  const { line, base } = row;
  const rate = line.approved ? winner(book, terms, line, asked) : null;
  if (!rate) return false;
  row.rate = rate;
  if (isUsedUp(rate, asked.payment)) return false;
  row.band = rate.reward.type === 'bands' ? bandFor(rate.reward.bands, worthIn(rate, asking.rows)) : null;
  row.pay = rate.reward.type === 'bands' ? row.band!.pay : rate.reward;
  row.promised = promisedBy(order, row.pay, base, line.quantity);
  row.amount = Math.min(limitOf(order.event, base), row.promised);
  row.uncapped = row.amount;
  return rate.cap !== null || row.pay.type === 'flat-order';
}

export function decide(book: Book, terms: AffiliateTerms, order: OrderToResolve): Asking {
  const rows: Decided[] = [];
  for (const line of order.lines) rows.push(rowOf(order, line));
  const asked: Question = { event: order.event, at: order.at, payment: order.payment ?? 1, rows };
  const asking: Asking = { order, asked, rows };
  let together = false;
  for (const row of rows) if (decideRow(book, terms, asking, row)) together = true;
  if (together) countOnce(order, rows);
  if (book[order.event].uplifts.length > 0) raiseLines(book, terms, asking);
  return asking;
}

const notApproved = { code: 'not-approved' } as const;
const noRate = { code: 'no-rate' } as const;
const usedUp = { code: 'used-up' } as const;
const earnedBefore = { code: 'earned-before' } as const;
const capEarned = { code: 'cap-earned' } as const;

function reasonOf({ line, rate, pay, amount }: Decided, order: OrderToResolve): LineReason | null {
  if (!line.approved) return notApproved;
  if (!rate) return noRate;
  if (pay === null) return usedUp;
  if (amount > 0) return null;
  if (pay.type === 'flat-order' && isFurther(order)) return earnedBefore;
  return rate.cap !== null && rate.cap > 0 && capLeft(rate, order.spent) === 0 ? capEarned : null;
}

/** What an uplift adds, as it is remembered for refunds. */
function raisedParts(
  raise: Raise | null,
  spent: Spent | undefined,
): Pick<Extract<Earned, { type: 'composed' }>, 'plusPpm' | 'plusFlat' | 'upTo' | 'raiseCap'> {
  if (!raise) return { plusPpm: 0, plusFlat: 0 };
  const by = raise.rate.reward as Pay;
  const percent = by.type === 'percent' ? by.ppm : 0;
  const { mode, id } = raise.rate;
  const cap = capLeft(raise.rate, spent);
  return {
    ...(mode === 'up-to'
      ? { plusPpm: 0, plusFlat: 0, upTo: { ppm: percent, flat: raise.flat } }
      : { plusPpm: percent, plusFlat: raise.flat }),
    ...(cap === null ? {} : { raiseCap: { rate: id, amount: cap } }),
  };
}

/** A cap as refunds look at it: what earlier payments left of it. */
function keptCap(rate: Rate, spent: Spent | undefined): { rate: string; amount: number } | null {
  const amount = capLeft(rate, spent);
  return amount === null ? null : { rate: rate.id, amount };
}

/** The reward that refunds will be worked out from: plain where it says all, else with its parts. */
function earned({ rate, pay, uncapped, raise, line }: Decided, spent: Spent | undefined): Earned | null {
  const cap = rate === null ? null : keptCap(rate, spent);
  if (!raise && cap === null) return pay;
  if (!line.approved || (!pay && !raise)) return null;
  return {
    type: 'composed',
    ppm: pay?.type === 'percent' ? pay.ppm : 0,
    flat: pay && pay.type !== 'percent' ? uncapped : 0,
    cap,
    ...raisedParts(raise, spent),
  };
}

/** A line as it is remembered: its value, the rate that decided, and what it came to. */
export function asResolved(row: Decided, order: OrderToResolve): ResolvedLine {
  const { line, value, base, rate, amount, raise } = row;
  return {
    product: line.product,
    name: line.name,
    quantity: line.quantity,
    gross: line.amount,
    discount: line.discount,
    value,
    base,
    rateId: rate?.id ?? null,
    reward: earned(row, order.spent),
    amount: raise ? raise.amount : amount,
    reason: raise ? null : reasonOf(row, order),
  };
}

/**
 * Resolves an order to amounts for one affiliate, as of the order's moment.
 * @returns a line each, in the order given, amounts in minor units of base, rounded once a line
 */
export function resolveOrder(book: Book, terms: AffiliateTerms, order: OrderToResolve): ResolvedLine[] {
  return decide(book, terms, order).rows.map((row) => asResolved(row, order));
}

/** What is asked about an order whose lines are looked at together only where a rate with bands asks for it. */
class LazyQuestion implements Question {
  readonly event: Event;
  readonly at: number;
  readonly payment: number;
  readonly order: OrderToResolve;

  constructor(order: OrderToResolve) {
    this.event = order.event;
    this.at = order.at;
    this.payment = order.payment ?? 1;
    this.order = order;
  }

  get rows(): Decided[] {
    return this.order.lines.map((line) => rowOf(this.order, line));
  }
}

/** The amounts where every line is won by a percentage without a cap, so that no line depends on another; null where one is not. */
function plainAmounts(book: Book, terms: AffiliateTerms, order: OrderToResolve): number[] | null {
  if (book[order.event].uplifts.length > 0) return null;
  const asked = new LazyQuestion(order);
  const amounts = new Array<number>(order.lines.length);
  for (let i = 0; i < amounts.length; i += 1) {
    const line = order.lines[i]!;
    const rate = line.approved ? winner(book, terms, line, asked) : null;
    if (rate !== null && (rate.reward.type !== 'percent' || rate.cap !== null || rate.payments !== null))
      return null;
    // a percentage is at most the whole: no limit needs to be looked at
    amounts[i] =
      rate?.reward.type === 'percent'
        ? percentOf(
            convertToBase(commissionableValue(line), order.currency, order.base, order.rateMicros),
            rate.reward.ppm,
          )
        : 0;
  }
  return amounts;
}

/** What the order comes to for the affiliate, and nothing else: for replaying many. @returns an amount a line, minor units of base */
export function amountsOf(book: Book, terms: AffiliateTerms, order: OrderToResolve): number[] {
  return (
    plainAmounts(book, terms, order) ??
    decide(book, terms, order).rows.map((row) => (row.raise ? row.raise.amount : row.amount))
  );
}

/** What an order comes to, and what it earned under each cap, for the payments of the order that follow. @returns amounts by line, minor units of base */
export function amountsAndCaps(
  book: Book,
  terms: AffiliateTerms,
  order: OrderToResolve,
): { amounts: number[]; spent: Map<string, number> } {
  const spent = new Map(order.spent);
  const amounts = decide(book, terms, order).rows.map(({ rate, amount, raise }) => {
    if (rate !== null && rate.cap !== null) spend(spent, rate.id, amount);
    if (raise !== null && raise.rate.cap !== null) spend(spent, raise.rate.id, raise.amount - amount);
    return raise ? raise.amount : amount;
  });
  return { amounts, spent };
}
