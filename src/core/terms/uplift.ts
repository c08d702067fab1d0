import { split } from '../money/amount';
import { percentOf } from '../money/percent';
import type { Book, Question } from './book';
import { isFor } from './book';
import type { AffiliateTerms, Pay, Rate, Sold } from './rate';
import { covers, fitOf } from './rate';

/** A line that may be raised. */
export interface Raisable {
  line: Sold & { approved: boolean; quantity: number };
  base: number;
  /** what the ladder gave, minor units of base */
  amount: number;
}

/** What an uplift makes of a line. */
export interface Raise {
  rate: Rate;
  /** the commission with it */
  amount: number;
  /** the uplift's own share of a flat reward */
  flat: number;
}

/** The uplifts that are for this affiliate at the moment of the question, whatever they cover. */
export function upliftsFor(book: Book, terms: AffiliateTerms, asked: Question): Rate[] {
  const { uplifts } = book[asked.event];
  return uplifts.length === 0 ? uplifts : uplifts.filter((u) => isFor(u, terms) && fitOf(u, asked.at, asked.payment, asked.rows) === 'applies');
}

/**
 * The best uplift of each line, or null where none raises it. A flat uplift counts once an order and is split by value over
 * the lines it covers; each line is then compared by itself, and nothing exceeds what the line is worth.
 * @param limitOf the most that a line of such a value can earn
 * @param percentages parts per million of the ladder's reward on each line where it is an uncapped percentage, so that `plus` a
 * percentage is added before rounding; null elsewhere @param flatOf a flat amount in minor units of base, for the order's currency
 */
export function bestRaises(uplifts: readonly Rate[], rows: readonly Raisable[], percentages: readonly (number | null)[], flatOf: (pay: Exclude<Pay, { type: 'percent' }>) => number, limitOf: (base: number) => number): (Raise | null)[] {
  const best: (Raise | null)[] = rows.map(() => null);
  for (const rate of uplifts) {
    const pay = rate.reward;
    if (pay.type === 'bands') continue;
    const reached = rows.map((row, i) => ({ row, i })).filter(({ row }) => row.line.approved && !row.line.locked && covers(rate.what, row.line));
    if (!reached.length) continue;
    const worth = reached.reduce((sum, { row }) => sum + row.base, 0);
    const flats = pay.type === 'flat-order' ? split(Math.min(flatOf(pay), limitOf(worth)), reached.map(({ row }) => row.base)) : null;
    reached.forEach(({ row, i }, n) => {
      const flat = flats ? flats[n]! : pay.type === 'flat-unit' ? flatOf(pay) * row.line.quantity : 0;
      const amount = raised(rate.mode, pay, row, flat, percentages[i]!, limitOf(row.base));
      if (amount > (best[i]?.amount ?? row.amount)) best[i] = { rate, amount, flat };
    });
  }
  return best;
}

function raised(mode: Rate['mode'], pay: Pay, row: Raisable, flat: number, ppm: number | null, limit: number): number {
  if (pay.type !== 'percent') return Math.min(limit, mode === 'plus' ? row.amount + flat : Math.max(row.amount, flat));
  if (mode === 'up-to') return Math.max(row.amount, percentOf(row.base, pay.ppm));
  return Math.min(limit, ppm === null ? row.amount + percentOf(row.base, pay.ppm) : percentOf(row.base, ppm + pay.ppm));
}
