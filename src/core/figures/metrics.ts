import { mulDiv } from '../money/rounding';

/** Counts and sums of a period; money in minor units of base. */
export interface Counts {
  clicks: number;
  orders: number;
  /** commissionable value of the orders */
  value: number;
  granted: number;
  reversed: number;
}

/** The figures people read, each null where its denominator is zero. */
export interface Figures extends Counts {
  /** orders ÷ clicks, parts per million */
  conversion: number | null;
  /** value ÷ orders, minor units */
  averageOrder: number | null;
  /** commission per 100 clicks, minor units */
  epc: number | null;
  /** reversed ÷ granted, parts per million */
  shareReversed: number | null;
}

const ratio = (part: number, whole: number, scale: number) => (whole > 0 ? mulDiv(part, scale, whole) : null);

/** Derives the figures from the counts. */
export function figuresOf(counts: Counts): Figures {
  return {
    ...counts,
    conversion: ratio(counts.orders, counts.clicks, 1_000_000),
    averageOrder: ratio(counts.value, counts.orders, 1),
    epc: ratio(counts.granted, counts.clicks, 100),
    shareReversed: ratio(counts.reversed, counts.granted, 1_000_000),
  };
}

/** Adds two sets of counts. */
export function addCounts(a: Counts, b: Counts): Counts {
  return {
    clicks: a.clicks + b.clicks,
    orders: a.orders + b.orders,
    value: a.value + b.value,
    granted: a.granted + b.granted,
    reversed: a.reversed + b.reversed,
  };
}

export const noCounts: Counts = { clicks: 0, orders: 0, value: 0, granted: 0, reversed: 0 };
