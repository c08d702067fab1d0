import type { Id } from '../text/id';
import { winner, type Book } from './book';
import type { SetKind } from './lists';
import { isLocked, isPaused, type Roll } from './members';
import {
  anybody,
  describePay,
  describePayments,
  describeRate,
  isUsedUp,
  payAt,
  sameWhat,
  shortReward,
  type AffiliateTerms,
  type Event,
  type Pay,
  type Rate,
  type Sold,
  type What,
} from './rate';
import { upliftsFor } from './uplift';

/** A column of the rate book: everyone, or somebody that rates can be for. */
export type Column =
  | { of: 'everyone' }
  | { of: SetKind; id: Id<'set'> }
  | { of: 'affiliate'; id: Id<'affiliate'>; terms: AffiliateTerms };

/** A row of the rate book: what is sold, and what of it a rate set here would cover. */
export interface Row {
  what: What;
  /** null where the row is not one product: everything, or a kind */
  sold: Sold | null;
}

export interface Cell {
  /** the effective rate in words; "—" where nothing applies */
  text: string;
  /** the same in full: cap, payments, amounts in other currencies */
  full: string;
  /** set here, by a wider rate of the same column, or from a rung below */
  from: 'here' | 'column' | 'elsewhere' | 'nothing';
  /** the rate that decides, if one does */
  rate: Rate | null;
  /** rungs 1–4 are skipped on this row and event */
  locked: boolean;
  /** the uplift that raises it, if one does */
  uplift: Rate | null;
}

/** The terms that stand for a column: those on the default card who are in nothing else, but for what the column says. */
export function termsOfColumn(column: Column, roll: Roll, at: number): AffiliateTerms {
  const plain: AffiliateTerms = { affiliate: anybody, card: null, group: null, tags: [] };
  switch (column.of) {
    case 'everyone':
      return plain;
    case 'card':
      return { ...plain, card: column.id };
    case 'group':
      return {
        ...plain,
        card: roll.defaultCard,
        group: { id: column.id, paused: isPaused(roll, column.id, at) },
      };
    case 'tag':
      return { ...plain, card: roll.defaultCard, tags: [column.id] };
    case 'affiliate':
      return column.terms;
  }
}

/** The rung and the owner that a rate set in a column and row has. */
export function placeOf(column: Column, what: What): Pick<Rate, 'rung' | 'who'> {
  switch (column.of) {
    case 'everyone':
      return { rung: what.type === 'product' || what.type === 'step' ? 'product' : 'programme', who: null };
    case 'affiliate':
      return { rung: 'personal', who: column.id };
    default:
      return { rung: column.of, who: column.id };
  }
}

const farAbove = Number.MAX_SAFE_INTEGER;

function raisedText(base: Pay | null, uplift: Rate, currency: string, event: Event): string | null {
  const by = uplift.reward as Pay;
  if (by.type !== 'percent' || (base !== null && base.type !== 'percent')) return null;
  const ppm = uplift.mode === 'plus' ? (base?.ppm ?? 0) + by.ppm : Math.max(base?.ppm ?? 0, by.ppm);
  return describePay({ type: 'percent', ppm: Math.min(1_000_000, ppm) }, currency, event);
}

/** How much an uplift raises a plain percentage; the one that raises most is shown. */
function liftOf(uplift: Rate, base: Pay | null): number {
  const by = uplift.reward as Pay;
  if (by.type !== 'percent') return uplift.mode === 'plus' ? 1 : 0;
  const own = base?.type === 'percent' ? base.ppm : 0;
  return uplift.mode === 'plus' ? by.ppm : Math.max(0, by.ppm - own);
}

/**
 * One cell of the rate book: what a column earns on a row as of a moment, and where it comes from. Rates with bands show all of
 * their bands, as an order high enough for the top one would find them.
 * @param payment number of the payment, 1 = the first
 */
export function cellOf(
  book: Book,
  roll: Roll,
  {
    column,
    row,
    event,
    payment,
    at,
    currency,
  }: { column: Column; row: Row; event: Event; payment: number; at: number; currency: string },
): Cell {
  const terms = termsOfColumn(column, roll, at);
  const sold: Sold = row.sold ?? { product: '', kind: row.what.type === 'kind' ? row.what.kind : '' };
  const locked = isLocked(roll, sold.product, event, at);
  const line = { ...sold, locked, approved: true };
  const asked = { event, at, payment, rows: [{ line, base: farAbove }] };
  const rate = winner(book, terms, line, asked);
  const pay = rate ? payAt(rate.reward, farAbove) : null;
  const uplift = locked ? null : bestUplift(upliftsFor(book, terms, asked), row, pay);
  const from = originOf(rate, placeOf(column, row.what), row);
  const raised = uplift && rate?.reward.type !== 'bands' ? raisedText(pay, uplift, currency, event) : null;
  if (raised !== null) return { text: raised, full: raised, from, rate, locked, uplift };
  return { ...rateInWords(rate, payment, currency), from, rate, locked, uplift };
}

/** The uplift that raises a plain percentage most; null where none raises it. */
function bestUplift(uplifts: readonly Rate[], row: Row, pay: Pay | null): Rate | null {
  const raising = uplifts
    .filter((u) => coversRow(u.what, row))
    .map((u) => ({ u, lift: liftOf(u, pay) }))
    .filter(({ lift }) => lift > 0)
    .sort((a, b) => b.lift - a.lift);
  return raising[0]?.u ?? null;
}

/** Whether a rate was set in this cell, in another row of its column, or elsewhere. */
function originOf(rate: Rate | null, own: Pick<Rate, 'rung' | 'who'>, row: Row): Cell['from'] {
  if (!rate) return 'nothing';
  if (rate.rung !== own.rung || rate.who !== own.who) return 'elsewhere';
  return sameWhat(rate.what, row.what) ? 'here' : 'column';
}

/** A rate in a word or two, and in full. */
function rateInWords(rate: Rate | null, payment: number, currency: string): Pick<Cell, 'text' | 'full'> {
  if (!rate) return { text: '—', full: 'no rate applies' };
  return isUsedUp(rate, payment)
    ? { text: 'nothing', full: `nothing: ${describePayments(rate.payments!)}` }
    : { text: shortReward(rate.reward, currency), full: describeRate(rate, currency) };
}

/** True if what a rate covers takes in a row of the book. */
function coversRow(what: What, row: Row): boolean {
  if (what.type === 'everything') return true;
  if (row.sold === null) return sameWhat(what, row.what);
  return what.type === 'kind'
    ? what.kind === row.sold.kind
    : what.type === 'product'
      ? what.product === row.sold.product
      : what.step === row.sold.step;
}
