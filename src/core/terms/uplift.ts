import { split } from '../money/amount';
import { percentOf } from '../money/percent';
import { isFor, type Book, type Question } from './book';
import { covers, fitOf, type AffiliateTerms, type Pay, type Rate, type Sold } from './rate';

/** A line that may be raised. */
export interface Raisable {
  line: Sold & { approved: boolean; quantity: number };
  base: number;
  /** what the ladder gave, minor units of base */
  amount: number;
  /** parts per million of the ladder's reward where it is a percentage that no cap cut; null elsewhere */
  ppm: number | null;
}

/** What an uplift makes of a line. All amounts in minor units of base. */
export interface Raise {
  rate: Rate;
  /** the commission with it */
  amount: number;
  /** this line's share of its flat reward, before the limit to what the line is worth; 0 for a percentage */
  flat: number;
  /** what it would add to the line without its cap */
  uncapped: number;
}

/** An uplift's reward on one line: a percentage, or a flat amount that is this line's share. */
export interface Raiser {
  mode: Rate['mode'];
  ppm: number;
  flat: number;
}

/** The uplifts that are for this affiliate at the moment of the question, whatever they cover. */
export function upliftsFor(book: Book, terms: AffiliateTerms, asked: Question): Rate[] {
  const { uplifts } = book[asked.event];
  return uplifts.length === 0
    ? uplifts
    : uplifts.filter((u) => isFor(u, terms) && fitOf(u, asked.at, asked.payment, asked.rows) === 'applies');
}

/**
 * What an uplift adds to a line, never less than nothing: `up to` raises to its reward, `plus` goes on top. A percentage on top of
 * a percentage is added to it and rounded once.
 * @param line value, what the ladder gives, and its percentage if that is all it is @param limit the most the line can earn
 */
export function addedBy(
  { mode, ppm, flat }: Raiser,
  line: { base: number; amount: number; ppm: number | null },
  limit: number,
): number {
  const raised =
    mode === 'up-to'
      ? percentOf(line.base, ppm) + flat
      : flat === 0 && line.ppm !== null
        ? percentOf(line.base, line.ppm + ppm)
        : line.amount + percentOf(line.base, ppm) + flat;
  return Math.max(0, Math.min(limit, raised) - line.amount);
}

/**
 * Splits an amount by value where no part may take more than it has: what one part leaves is split over the others, and nothing is
 * lost as long as the parts have as much. @param most per part, minor units
 */
export function splitWithin(amount: number, values: readonly number[], most: readonly number[]): number[] {
  const parts = most.map(() => 0);
  let open = most.map((_, i) => i);
  let rest = amount;
  while (open.length && rest > 0) {
    const shares = split(
      rest,
      open.map((i) => values[i]!),
    );
    const full = open.filter((i, n) => shares[n]! > most[i]!);
    if (!full.length) {
      open.forEach((i, n) => {
        parts[i] = shares[n]!;
      });
      break;
    }
    for (const i of full) {
      parts[i] = most[i]!;
      rest -= most[i]!;
    }
    open = open.filter((i) => !full.includes(i));
  }
  return parts;
}

/**
 * What the lines that one uplift raised get from it: all it adds, or its cap, split by value. @param cap of an order, minor units of base; null = none
 * @returns the parts, and whether the cap cut them
 */
export function addedWithin(
  cap: number | null,
  values: readonly number[],
  added: readonly number[],
): { parts: readonly number[]; cut: boolean } {
  if (cap === null || added.reduce((a, b) => a + b, 0) <= cap) return { parts: added, cut: false };
  return { parts: splitWithin(cap, values, added), cut: true };
}

interface Offer {
  i: number;
  flat: number;
  added: number;
}

/** What bounds uplifts in an order, minor units of base. */
export interface Limits {
  /** a flat amount for so many units, for the order's currency */
  flatOf: (pay: Exclude<Pay, { type: 'percent' }>, units?: number) => number;
  /** the most that a line of such a value can earn */
  limitOf: (base: number) => number;
  /** what of a rate's cap earlier payments of the order have left; null where it has none */
  capOf: (rate: Rate) => number | null;
}

/** What an uplift would add to each line it raises at all, before its cap. */
function offersOf(rate: Rate, rows: readonly Raisable[], { flatOf, limitOf }: Limits): Offer[] {
  const pay = rate.reward as Pay;
  const reached = rows.flatMap((row, i) =>
    row.line.approved && !row.line.locked && covers(rate.what, row.line) ? [i] : [],
  );
  if (!reached.length) return [];
  const shares =
    pay.type === 'flat-order'
      ? split(
          flatOf(pay),
          reached.map((i) => rows[i]!.base),
        )
      : null;
  return reached.flatMap((i, n): Offer[] => {
    const row = rows[i]!;
    const flat = shares ? shares[n]! : pay.type === 'flat-unit' ? flatOf(pay, row.line.quantity) : 0;
    const added = addedBy(
      { mode: rate.mode, ppm: pay.type === 'percent' ? pay.ppm : 0, flat },
      row,
      limitOf(row.base),
    );
    return added > 0 ? [{ i, flat, added }] : [];
  });
}

const capped = (cap: number | null, rows: readonly Raisable[], offers: readonly Offer[]) =>
  addedWithin(
    cap,
    offers.map((o) => rows[o.i]!.base),
    offers.map((o) => o.added),
  ).parts;

/**
 * The best uplift of each line, or null where none raises it. A flat uplift counts once an order and is split by value over the
 * lines it covers. Lines are compared one by one with each uplift's cap applied; the cap then holds over the lines that it raised.
 * Nothing exceeds what a line is worth.
 */
export function bestRaises(
  uplifts: readonly Rate[],
  rows: readonly Raisable[],
  limits: Limits,
): (Raise | null)[] {
  const best: (Raise | null)[] = rows.map(() => null);
  const offered = new Map<Rate, Offer[]>();
  for (const rate of uplifts) {
    if (rate.reward.type === 'bands') continue;
    const offers = offersOf(rate, rows, limits);
    if (!offers.length) continue;
    offered.set(rate, offers);
    capped(limits.capOf(rate), rows, offers).forEach((part, n) => {
      const { i, flat, added } = offers[n]!;
      const amount = rows[i]!.amount + part;
      if (amount > (best[i]?.amount ?? rows[i]!.amount)) best[i] = { rate, amount, flat, uncapped: added };
    });
  }
  for (const [rate, offers] of offered) {
    if (rate.cap === null) continue;
    const won = offers.filter((o) => best[o.i]?.rate === rate);
    capped(limits.capOf(rate), rows, won).forEach((part, n) => {
      best[won[n]!.i]!.amount = rows[won[n]!.i]!.amount + part;
    });
  }
  return best;
}
