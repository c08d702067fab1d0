import type { Book } from './book';
import { isLocked, termsAt, type Roll } from './members';
import type { Event } from './rate';
import { amountsOf } from './resolve';

/** A line of the past: what was sold and what it was granted, minor units. */
export interface PastLine {
  product: string;
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
  id: string;
  affiliate: string;
  event: Event;
  payment: number;
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
export interface ChangedLine {
  order: string;
  position: number;
  affiliate: string;
  product: string;
  stored: number;
  drafted: number;
}

export interface RehearsalResult {
  orders: number;
  total: Difference;
  /** by product id and by affiliate id */
  products: Map<string, Difference>;
  affiliates: Map<string, Difference>;
  /** lines that differ at all */
  changed: number;
  /** the lines that change most, largest first */
  most: ChangedLine[];
}

/** How many of the lines that change most are kept. */
export const mostKept = 50;

function bucket(map: Map<string, Difference>, key: string): Difference {
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

/**
 * Replays past orders under other terms, one at a time, keeping sums only: the same for a worker over half a million lines and
 * for a page over the last two thousand.
 * @param book, roll the terms to replay under, see `asIfAlways` @param base the base currency
 */
export function rehearsal(book: Book, roll: Roll, base: string) {
  const products = new Map<string, Difference>();
  const affiliates = new Map<string, Difference>();
  const total: Difference = { lines: 0, stored: 0, drafted: 0 };
  let most: ChangedLine[] = [];
  let least = 0;
  let orders = 0;
  let changed = 0;

  const keep = (line: ChangedLine) => {
    if (most.length >= mostKept * 2) {
      most = most.sort((a, b) => weight(b) - weight(a)).slice(0, mostKept);
      least = weight(most[mostKept - 1]!);
    }
    most.push(line);
  };

  return {
    /** Replays one order. */
    take(order: PastOrder): void {
      orders += 1;
      const { affiliate, event, payment, at, currency, rateMicros } = order;
      const lines = order.lines.some((l) => roll.locks.has(l.product))
        ? order.lines.map((l) => (isLocked(roll, l.product, event, at) ? { ...l, locked: true } : l))
        : order.lines;
      const amounts = amountsOf(book, termsAt(roll, affiliate, at), {
        event,
        at,
        payment,
        currency,
        base,
        rateMicros,
        lines,
      });
      const own = bucket(affiliates, affiliate);
      let inProduct = '';
      let ofProduct: Difference | null = null;
      for (let i = 0; i < lines.length; i += 1) {
        const { product, stored } = lines[i]!;
        const drafted = amounts[i]!;
        add(total, stored, drafted);
        add(own, stored, drafted);
        // lines of one order are mostly of one product: its bucket is looked up once
        if (!ofProduct || product !== inProduct) ofProduct = bucket(products, (inProduct = product));
        add(ofProduct, stored, drafted);
        if (drafted === stored) continue;
        changed += 1;
        if (Math.abs(drafted - stored) > least)
          keep({ order: order.id, position: i, affiliate, product, stored, drafted });
      }
    },
    /** The sums so far. */
    result(): RehearsalResult {
      return {
        orders,
        total: { ...total },
        products,
        affiliates,
        changed,
        most: [...most]
          .sort((a, b) => weight(b) - weight(a) || (a.order < b.order ? -1 : 1))
          .slice(0, mostKept),
      };
    },
  };
}
