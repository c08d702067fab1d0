import { addZonedDays, addZonedMonths } from '../calendar/zone';
import type { Handing } from '../material/handed';
import { split } from '../money/amount';
import type { Delivery, Recruiting } from './lists';

/** The kinds of sale. */
export const productKinds = ['one-off', 'recurring', 'instalments', 'free'] as const;
export type ProductKind = (typeof productKinds)[number];

export const intervals = ['week', 'month', 'quarter', 'year', 'days'] as const;
export type Interval = (typeof intervals)[number];

/** A price that rises by a step every n sales, minor units. */
export interface SteppedPrice {
  step: number;
  every: number;
  ceiling: number;
}

/** What a product has beside name, price and page; only what its kind needs is asked for. Amounts in minor units of its currency. */
export interface ProductDetails {
  language: string;
  contentKind: string;
  categories: string[];
  keywords: string[];
  supportAddress: string;
  supportPage: string;
  receiptNote: string;
  saleNotice: boolean;
  delivery: Delivery;
  /** so many days a link to the file is good for */
  downloadDays: number;
  /** offered on the confirmation page of other sales, but not after these codes */
  confirmOffer: boolean;
  confirmNotAfter: string[];
  /** of an access page, and which details of the sale are passed on to it */
  accessPage: string;
  accessParameters: string[];
  mobilePage: string;
  fallbackPage: string;
  furtherPages: string[];
  prelaunchPage: string;
  /** under which name the sales page is told who led a buyer there, empty: it is not; and what it is told */
  handParameter: string;
  handAs: Handing;
  launchAt: number | null;
  /** prices in further currencies, minor units of each */
  prices: Record<string, number>;
  stepped: SteppedPrice | null;
  stock: number | null;
  listed: boolean;
  /** a person decides; rules decide and leave the rest to a person; everybody is let in, after hold; nobody may promote it */
  recruiting: Recruiting;
  /** where affiliates may not promote it: from when, UTC milliseconds; null = from ever */
  closedFrom: number | null;
  // recurring: `price` of the product is the first payment
  trialDays: number;
  renewalPrice: number | null;
  interval: Interval;
  intervalDays: number;
  /** payments after the first; null = until cancelled */
  renewals: number | null;
  renewalName: string;
  renewalAbout: string;
  noticeDays: number;
  // instalments: `price` is the total
  instalments: number;
}

/** What a product has that says nothing about it. */
export const plainDetails: ProductDetails = {
  language: 'en',
  contentKind: '',
  categories: [],
  keywords: [],
  supportAddress: '',
  supportPage: '',
  receiptNote: '',
  saleNotice: false,
  delivery: 'none',
  downloadDays: 7,
  confirmOffer: false,
  confirmNotAfter: [],
  accessPage: '',
  accessParameters: [],
  mobilePage: '',
  fallbackPage: '',
  furtherPages: [],
  prelaunchPage: '',
  handParameter: '',
  handAs: 'handle',
  launchAt: null,
  prices: {},
  stepped: null,
  stock: null,
  listed: true,
  recruiting: 'reviewed',
  closedFrom: null,
  trialDays: 0,
  renewalPrice: null,
  interval: 'month',
  intervalDays: 30,
  renewals: null,
  renewalName: '',
  renewalAbout: '',
  noticeDays: 3,
  instalments: 3,
};

/** True where affiliates may promote a product at a moment: one that was closed to them is open until its notice has ended. */
export const isOpenToAffiliates = (
  { recruiting, closedFrom }: Pick<ProductDetails, 'recruiting' | 'closedFrom'>,
  at: number,
): boolean => recruiting !== 'none' || (closedFrom !== null && at < closedFrom);

/**
 * Price of the k-th sale of a stepped price: min(ceiling, start + step × ⌊(k − 1) / n⌋).
 * @param start minor units @param k counted from 1
 */
export function steppedPrice(start: number, { step, every, ceiling }: SteppedPrice, k: number): number {
  return Math.min(ceiling, start + step * Math.floor((k - 1) / every));
}

/** How many are left at the price of the k-th sale, that one included; null at the ceiling, where there is no next price. */
export function leftAtPrice(start: number, stepped: SteppedPrice, k: number): number | null {
  return steppedPrice(start, stepped, k) >= stepped.ceiling
    ? null
    : stepped.every - ((k - 1) % stepped.every);
}

/**
 * What the next buyer is asked, how many units are in stock (null = no limit), and how many are left at the price: of the step, and of the stock.
 * @param price where it begins, minor units @param taken units sold, and those that buyers hold at checkout
 */
export function offerNow(
  price: number,
  { stepped, stock }: Pick<ProductDetails, 'stepped' | 'stock'>,
  taken: number,
): { price: number; inStock: number | null; left: number | null } {
  const inStock = stock === null ? null : Math.max(0, stock - taken);
  if (!stepped) return { price, inStock, left: inStock };
  const atPrice = leftAtPrice(price, stepped, taken + 1);
  return {
    price: steppedPrice(price, stepped, taken + 1),
    inStock,
    left: atPrice === null ? inStock : inStock === null ? atPrice : Math.min(atPrice, inStock),
  };
}

/** A total in n payments that lose and make nothing: 100.00 in 3 → 33.34, 33.33, 33.33. */
export function instalmentsOf(total: number, n: number): number[] {
  return split(
    total,
    Array.from({ length: n }, () => 1),
  );
}

/** What a payment of a subscription or of instalments comes to; null past the last. @param number 1 = the first */
export function paymentPrice(
  kind: ProductKind,
  price: number,
  details: Pick<ProductDetails, 'renewalPrice' | 'renewals' | 'instalments'>,
  number: number,
): number | null {
  if (kind === 'instalments') return instalmentsOf(price, details.instalments)[number - 1] ?? null;
  if (number === 1) return price;
  if (kind !== 'recurring' || (details.renewals !== null && number > details.renewals + 1)) return null;
  return details.renewalPrice ?? price;
}

/** The number of the last payment of a product; null where it goes on until it is cancelled. */
export function lastPaymentOf(
  kind: ProductKind,
  { renewals, instalments }: Pick<ProductDetails, 'renewals' | 'instalments'>,
): number | null {
  if (kind === 'instalments') return instalments;
  if (kind !== 'recurring') return 1;
  return renewals === null ? null : renewals + 1;
}

/**
 * When a payment of a subscription falls due: the first renewal after the trial, or one interval after the sale where there is none,
 * then interval by interval counted from there, so that the day of month is kept: 31 Jan → 28 Feb → 31 Mar.
 * @param number 2 = the first renewal @param zone the programme's: days are cut there
 */
export function renewalMoment(
  sold: number,
  details: Pick<ProductDetails, 'trialDays' | 'interval' | 'intervalDays'>,
  number: number,
  zone: string,
): number {
  const { trialDays, interval, intervalDays } = details;
  const anchor = trialDays > 0 ? addZonedDays(sold, trialDays, zone) : sold;
  const steps = trialDays > 0 ? number - 2 : number - 1;
  if (interval === 'days') return addZonedDays(anchor, steps * intervalDays, zone);
  if (interval === 'week') return addZonedDays(anchor, steps * 7, zone);
  const months = interval === 'month' ? 1 : interval === 'quarter' ? 3 : 12;
  return addZonedMonths(anchor, steps * months, zone);
}

/** True before the launch moment, while links lead to the pre-launch page. */
export function beforeLaunch(
  details: Pick<ProductDetails, 'launchAt' | 'prelaunchPage'>,
  at: number,
): boolean {
  return details.launchAt !== null && details.prelaunchPage !== '' && at < details.launchAt;
}
