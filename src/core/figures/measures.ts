import { mulDiv } from '../money/rounding';

/**
 * What figures count, in a period and for a selection. Money in minor units of base. The conditions of SQL that count
 * them stand in `server/totals/facts`.
 */
export interface Counts {
  /** visits that a person opened by a tracking link; automated visits, and those that nobody opened, are left out */
  clicks: number;
  /** first sales that are credited to an affiliate; renewals, leads and test orders are not among them */
  orders: number;
  /** further payments of subscriptions */
  renewals: number;
  /** commissionable value of first sales and renewals */
  value: number;
  /** commissionable value of first sales alone */
  firstValue: number;
  /** commission as it was granted; shares and rewards by the click are not in it */
  granted: number;
  /** what people corrected of it since */
  corrected: number;
  /** what refunds and declines took back of it */
  reversed: number;
}

/** The figures people read, each null where its denominator is zero. */
export interface Figures extends Counts {
  /** orders ÷ clicks, parts per million */
  conversion: number | null;
  /** value of first sales ÷ orders, minor units */
  averageOrder: number | null;
  /** commission per 100 clicks, minor units */
  epc: number | null;
  /** reversed ÷ granted, parts per million */
  shareReversed: number | null;
}

/** What each measure is called and how it is worked out: the help beside a figure, wherever it stands. */
export const measures = {
  clicks: {
    name: 'Clicks',
    how: 'visits opened by a tracking link; automated visits and visits that nobody opened are left out',
  },
  orders: { name: 'Orders', how: 'first sales credited to an affiliate, without renewals and leads' },
  conversion: { name: 'Conversion rate', how: 'orders ÷ clicks' },
  averageOrder: { name: 'Average order', how: 'value of first sales ÷ orders' },
  epc: { name: 'Earnings per 100 clicks', how: 'commission ÷ clicks × 100, with corrections' },
  shareReversed: { name: 'Share reversed', how: 'commission reversed ÷ commission granted' },
} as const satisfies Partial<Record<keyof Figures, { name: string; how: string }>>;

const ratio = (part: number, whole: number, scale: number) => (whole > 0 ? mulDiv(part, scale, whole) : null);

/** Derives the figures from the counts. */
export function figuresOf(counts: Counts): Figures {
  return {
    ...counts,
    conversion: ratio(counts.orders, counts.clicks, 1_000_000),
    averageOrder: ratio(counts.firstValue, counts.orders, 1),
    epc: ratio(counts.granted + counts.corrected, counts.clicks, 100),
    shareReversed: ratio(counts.reversed, counts.granted, 1_000_000),
  };
}

export const noCounts: Counts = {
  ...{ clicks: 0, orders: 0, renewals: 0, value: 0, firstValue: 0 },
  ...{ granted: 0, corrected: 0, reversed: 0 },
};

/** Adds two sets of counts. */
export function addCounts(a: Counts, b: Counts): Counts {
  const sum = { ...noCounts };
  for (const key of Object.keys(noCounts) as (keyof Counts)[]) sum[key] = a[key] + b[key];
  return sum;
}

/** Days of "the last 30 days", today among them. */
export const usualDays = 30;
