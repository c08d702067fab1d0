import type { Id } from '../text/id';
import { winner, type Book } from './book';
import type { SetKind } from './lists';
import { isLocked, isPaused, type Roll } from './members';
import { promiseOf, type PromiseQuestion, type Stretch } from './promise';
import { promiseOfRenewals } from './promise-periods';
import { promiseInShort, promiseInWords, renewalsInWords } from './promise-words';
import { anybody, sameWhat, type AffiliateTerms, type Event, type Rate, type Sold, type What } from './rate';
import { resolveWithWorking } from './resolve-working';

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

/** Which cell: of which column and row, for which event, payment and moment. */
interface CellQuery {
  column: Column;
  row: Row;
  event: Event;
  /** number of the payment, 1 = the first */
  payment: number;
  /** UTC milliseconds */
  at: number;
  /** the programme's */
  currency: string;
}

/** One cell of the rate book: what a column earns on a row as of a moment, in words, and where it comes from. */
export function cellOf(book: Book, roll: Roll, { column, row, currency, ...query }: CellQuery): Cell {
  const { event, at } = query;
  const terms = termsOfColumn(column, roll, at);
  const sold: Sold = row.sold ?? { product: '', kind: row.what.type === 'kind' ? row.what.kind : '' };
  const locked = isLocked(roll, sold.product, event, at);
  const question = { book, terms, sold: { ...sold, locked }, ...query, base: currency };
  const line = { ...question.sold, approved: true };
  const rate = winner(book, terms, line, { ...query, rows: [{ line, base: farAbove }] });
  const stretches = promiseOf(question);
  const origin = { rate, locked, from: originOf(rate, placeOf(column, row.what), row) };
  const uplift = raiserOf(question, stretches);
  if (!rate && !uplift) return { ...origin, uplift, text: '—', full: 'no rate applies' };
  const saying = { base: currency, event };
  const full =
    event === 'renewal'
      ? renewalsInWords(promiseOfRenewals(question, null), currency)
      : promiseInWords(stretches, saying);
  return { ...origin, uplift, text: promiseInShort(stretches, saying), full };
}

/** The uplift that raises what orders pay: of the highest values that one raises. */
function raiserOf(question: PromiseQuestion, stretches: readonly Stretch[]): Rate | null {
  const { book, terms, sold, event, payment, at, base } = question;
  if (sold.locked || book[event].uplifts.length === 0) return null;
  const hasValue = event === 'sale' || event === 'renewal';
  for (let i = stretches.length - 1; i >= 0; i -= 1) {
    const next = stretches[i + 1]?.from ?? Number.POSITIVE_INFINITY;
    const amount = hasValue ? Math.min(stretches[i]!.from + 1_000, next - 1) : 0;
    const line = { ...sold, name: '', quantity: 1, amount, discount: 0, approved: true };
    const order = { event, payment, at, currency: base, base, rateMicros: 1_000_000, lines: [line] };
    const { uplifts } = resolveWithWorking(book, terms, order).lines[0]!;
    const found = uplifts?.find((u) => u.outcome === 'wins');
    if (found) return found.rate;
  }
  return null;
}

/** Whether a rate was set in this cell, in another row of its column, or elsewhere. */
function originOf(rate: Rate | null, own: Pick<Rate, 'rung' | 'who'>, row: Row): Cell['from'] {
  if (!rate) return 'nothing';
  if (rate.rung !== own.rung || rate.who !== own.who) return 'elsewhere';
  return sameWhat(rate.what, row.what) ? 'here' : 'column';
}
