import type { Id } from '../text/id';
import type { Book } from './book';
import type { Spent } from './caps';
import { isLocked, termsAt, type Roll } from './members';
import type { Event } from './rate';
import { amountsAndCaps, amountsOf } from './resolve';

/** A line of the past: what was sold and what it was granted, minor units. */
export interface PastLine {
  product: Id<'product'>;
  name: string;
  kind: string;
  step: string | null;
  quantity: number;
  amount: number;
  discount: number;
  approved: boolean;
  /** commission granted, minor units of base */
  stored: number;
}

/** An order of the past that somebody was credited with. */
export interface PastOrder {
  /** what it is known by where it comes from: its id, or a row number */
  id: string;
  affiliate: Id<'affiliate'>;
  event: Event;
  payment: number;
  /** what its payments have in common, where the order was paid in several: caps count once for all of them; left out = it was not */
  whole?: string;
  /** the moment its rates were taken as of */
  at: number;
  currency: string;
  rateMicros: number;
  lines: readonly PastLine[];
}

/** Commission as it was and as it would have been, minor units of base. */
export interface Difference {
  lines: number;
  stored: number;
  drafted: number;
}

/** A line that would have come to something else. */
export interface ChangedLine<I extends string = string> {
  order: I;
  position: number;
  affiliate: Id<'affiliate'>;
  product: Id<'product'>;
  stored: number;
  drafted: number;
}

export interface RehearsalResult<I extends string = Id<'order'>> {
  orders: number;
  total: Difference;
  products: Map<Id<'product'>, Difference>;
  affiliates: Map<Id<'affiliate'>, Difference>;
  /** lines that differ at all */
  changed: number;
  /** the lines that change most, largest first */
  most: ChangedLine<I>[];
}

/** How many of the lines that change most are kept. */
export const mostKept = 50;

function bucket<I extends string>(map: Map<I, Difference>, key: I): Difference {
  let found = map.get(key);
  if (!found) map.set(key, (found = { lines: 0, stored: 0, drafted: 0 }));
  return found;
}

function add(to: Difference, stored: number, drafted: number): void {
  to.lines += 1;
  to.stored += stored;
  to.drafted += drafted;
}

const weight = (line: ChangedLine) => Math.abs(line.drafted - line.stored);

/** What a replay is run under: the terms, see `asIfAlways`, and the base currency. */
interface Under {
  book: Book;
  roll: Roll;
  base: string;
}

/** The replay of past orders under other terms: one at a time, keeping sums only. */
class Rehearsal {
  readonly #products = new Map<Id<'product'>, Difference>();
  readonly #affiliates = new Map<Id<'affiliate'>, Difference>();
  readonly #total: Difference = { lines: 0, stored: 0, drafted: 0 };
  /** what was earned under caps, by what several payments have in common */
  readonly #spent = new Map<string, Spent>();
  #most: ChangedLine[] = [];
  #least = 0;
  #orders = 0;
  #changed = 0;

  constructor(readonly under: Under) {}

  /** Replays one order. */
  take(order: PastOrder): void {
    this.#orders += 1;
    const { affiliate } = order;
    const amounts = this.#amountsOf(order);
    const own = bucket(this.#affiliates, affiliate);
    let inProduct: Id<'product'> | null = null;
    let ofProduct: Difference | null = null;
    for (let i = 0; i < order.lines.length; i += 1) {
      const { product, stored } = order.lines[i]!;
      const drafted = amounts[i]!;
      add(this.#total, stored, drafted);
      add(own, stored, drafted);
      // lines of one order are mostly of one product: its bucket is looked up once
      if (!ofProduct || product !== inProduct) ofProduct = bucket(this.#products, (inProduct = product));
      add(ofProduct, stored, drafted);
      if (drafted === stored) continue;
      this.#changed += 1;
      if (Math.abs(drafted - stored) > this.#least)
        this.#keep({ order: order.id, position: i, affiliate, product, stored, drafted });
    }
  }

  /** The sums so far. */
  result(): RehearsalResult<string> {
    return {
      orders: this.#orders,
      total: { ...this.#total },
      products: this.#products,
      affiliates: this.#affiliates,
      changed: this.#changed,
      most: [...this.#most]
        .sort((a, b) => weight(b) - weight(a) || (a.order < b.order ? -1 : 1))
        .slice(0, mostKept),
    };
  }

  /** Notes what a payment before the period earned under caps, for those of the same order that follow. */
  before(order: PastOrder): void {
    this.#amountsOf(order);
  }

  /** What payments of one order have earned under caps so far. */
  spentOf(whole: string): Spent | undefined {
    return this.#spent.get(whole);
  }

  #amountsOf(order: PastOrder): number[] {
    const { affiliate, event, payment, whole, at, currency, rateMicros, lines } = order;
    const { book, roll, base } = this.under;
    const asked = lines.some((l) => roll.locks.has(l.product))
      ? lines.map((l) => (isLocked(roll, l.product, event, at) ? { ...l, locked: true } : l))
      : lines;
    const terms = termsAt(roll, affiliate, at);
    const query = { event, at, payment, currency, base, rateMicros, lines: asked };
    if (whole === undefined) return amountsOf(book, terms, query);
    const { amounts, spent } = amountsAndCaps(book, terms, { ...query, spent: this.#spent.get(whole) });
    this.#spent.set(whole, spent);
    return amounts;
  }

  #keep(line: ChangedLine): void {
    if (this.#most.length >= mostKept * 2) {
      this.#most = this.#most.sort((a, b) => weight(b) - weight(a)).slice(0, mostKept);
      this.#least = weight(this.#most[mostKept - 1]!);
    }
    this.#most.push(line);
  }
}

/**
 * Begins a replay: the same for a worker over half a million lines and for a page over the last two thousand.
 * @param book, roll the terms to replay under, see `asIfAlways` @param base the base currency
 */
export const rehearsal = (book: Book, roll: Roll, base: string) => new Rehearsal({ book, roll, base });
