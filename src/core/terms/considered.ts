import { formatMoney } from '../money/amount';
import type { Book, Question, Shelf } from './book';
import { isFor } from './book';
import type { AffiliateTerms, Fit, Rate, Rung, Sold } from './rate';
import { covers, describePayments, fitOf, isSpecial, rungs, width, worthIn } from './rate';

/** One rate beside a line, and why it does or does not decide it. */
export interface Considered {
  rate: Rate;
  outcome: 'wins' | 'loses' | 'does-not-apply';
  why: string;
}

/** One rung of a working. */
export interface RungWorking {
  rung: Rung;
  considered: Considered[];
  /** said where the rung as a whole has nothing or is skipped */
  remark: string | null;
}

const nothingOn: Record<Rung, string> = {
  personal: 'no personal rate', tag: 'no rate by tag', group: 'in no group with a rate', card: 'no rate on the card',
  product: 'none for this product', programme: 'no rate for everything',
};

// one object a rung for the many workings in which it has nothing
const nothingHere = Object.fromEntries(rungs.map((rung) => [rung, Object.freeze({ rung, considered: Object.freeze([]) as readonly Considered[] as Considered[], remark: nothingOn[rung] })])) as Record<Rung, RungWorking>;

function whyNot(fit: Exclude<Fit, 'applies' | 'nothing-left'>, rate: Rate, asked: Question, base: string): string {
  switch (fit) {
    case 'begins-later': return 'begins later';
    case 'had-ended': return 'had ended';
    case 'earlier-payment': case 'later-payment': return `${describePayments(rate.payments!)}; this is payment ${asked.payment}`;
    case 'below-bands': return `the order’s ${formatMoney({ amount: worthIn(rate, asked.rows), currency: base })} is below its lowest band`;
  }
}

function judge(rate: Rate, terms: AffiliateTerms, sold: Sold, asked: Question, decided: Rate | null, base: string): Considered {
  if (rate === decided) return { rate, outcome: 'wins', why: 'decides' };
  const fit = fitOf(rate, asked.at, asked.payment, asked.rows);
  if (fit !== 'applies' && fit !== 'nothing-left') return { rate, outcome: 'does-not-apply', why: whyNot(fit, rate, asked, base) };
  if (sold.locked && isSpecial(rate.rung)) return { rate, outcome: 'does-not-apply', why: 'the product is locked' };
  if (rate.rung === 'group' && terms.group?.paused) return { rate, outcome: 'does-not-apply', why: 'the group is paused' };
  if (decided && decided.rung !== rate.rung) return { rate, outcome: 'loses', why: 'lower rung' };
  if (decided && width(decided.what) < width(rate.what)) return { rate, outcome: 'loses', why: 'wider' };
  return { rate, outcome: 'loses', why: decided && decided.who !== rate.who ? 'a tag before it decides' : 'an earlier start' };
}

// what ended long ago or begins in a while would fill every working: only what was near is said
const near = 60 * 86_400_000;

function isNear(rate: Rate, at: number): boolean {
  return rate.from <= at + near && (rate.until === null || rate.until > at - near) && (rate.until === null || rate.until > rate.from);
}

type Judge = (rate: Rate) => Considered;

function judgeList(rates: readonly Rate[] | undefined, rung: Rung, at: number, judged: Judge, list: Considered[]): void {
  if (rates) for (let i = 0; i < rates.length; i += 1) if (rates[i]!.rung === rung && isNear(rates[i]!, at)) list.push(judged(rates[i]!));
}

function judgeShelf(shelf: Shelf | undefined, sold: Sold, rung: Rung, at: number, judged: Judge, list: Considered[]): void {
  if (!shelf) return;
  if (sold.step) judgeList(shelf.step.get(sold.step), rung, at, judged, list);
  if (rung !== 'programme') judgeList(shelf.product.get(sold.product), rung, at, judged, list);
  if (rung === 'product') return;
  judgeList(shelf.kind.get(sold.kind), rung, at, judged, list);
  judgeList(shelf.everything, rung, at, judged, list);
}

/**
 * Every rate that touches this affiliate and event, rung by rung, narrow before wide, with why it won, lost or does not apply.
 * @param decided what `winner` returned for the same arguments @param base currency that amounts are said in
 */
export function considered(book: Book, terms: AffiliateTerms, sold: Sold, asked: Question, decided: Rate | null, base: string): RungWorking[] {
  const shelves = book[asked.event];
  const judged: Judge = (rate) => judge(rate, terms, sold, asked, decided, base);
  const one = (rung: Rung, shelf: Shelf | undefined): RungWorking => {
    if (!shelf) return nothingHere[rung];
    const list: Considered[] = [];
    judgeShelf(shelf, sold, rung, asked.at, judged, list);
    return list.length ? { rung, considered: list, remark: null } : nothingHere[rung];
  };
  const byTag: Considered[] = [];
  for (const tag of terms.tags) judgeShelf(shelves.tag.get(tag), sold, 'tag', asked.at, judged, byTag);
  return [
    one('personal', shelves.personal.get(terms.affiliate)), byTag.length ? { rung: 'tag', considered: byTag, remark: null } : nothingHere.tag,
    one('group', terms.group ? shelves.group.get(terms.group.id) : undefined), one('card', terms.card === null ? undefined : shelves.card.get(terms.card)),
    one('product', shelves.everyone), one('programme', shelves.everyone),
  ];
}

const noUplifts: Considered[] = Object.freeze([]) as readonly Considered[] as Considered[];

/** Every uplift that covers the line and is for this affiliate, with why it raised it or not. @param chosen the one that counts, or null */
export function consideredUplifts(book: Book, terms: AffiliateTerms, sold: Sold, asked: Question, chosen: Rate | null, base: string): Considered[] {
  const { uplifts } = book[asked.event];
  if (uplifts.length === 0) return noUplifts;
  return uplifts.filter((u) => covers(u.what, sold) && isNear(u, asked.at) && (isFor(u, terms) || (u.rung === 'group' && u.who === terms.group?.id))).map((rate) => {
    if (rate === chosen) return { rate, outcome: 'wins', why: 'raises it' };
    const fit = fitOf(rate, asked.at, asked.payment, asked.rows);
    if (fit !== 'applies') return { rate, outcome: 'does-not-apply', why: fit === 'nothing-left' ? describePayments(rate.payments!) : whyNot(fit, rate, asked, base) };
    if (sold.locked) return { rate, outcome: 'does-not-apply', why: 'the product is locked' };
    if (!isFor(rate, terms)) return { rate, outcome: 'does-not-apply', why: 'the group is paused' };
    return { rate, outcome: 'loses', why: chosen ? 'another uplift is better; two do not add up' : 'raises nothing here' };
  });
}
