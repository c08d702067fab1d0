import type { Interval } from '../../core/pricing/product';
import { readSwitch, setSwitch, type StandinDb } from '../store';

/** Made-up test cards: the first pays, the second is refused. */
export const cards = { pays: '1000 2000 3000 4000', refused: '1000 2000 3000 9999' };

export interface Shelf {
  code: string;
  name: string;
  price: string;
  currency: string;
}
/** What Gravenel says of a product, as far as the shop needs it. */
export interface Offer {
  picture: string;
  brand: string;
  support: { address: string; page: string; phone: string };
  name: string;
  kind: string;
  onSale: boolean;
  price: { value: string; currency: string } | null;
  asked: { value: string; currency: string }[];
  left: number | null;
  receiptNote: string;
  delivery: string;
  accessPage: string;
  accessParameters: string[];
  recurring: {
    trialDays: number;
    renewalPrice: string;
    interval: Interval;
    intervalDays: number;
    renewals: number | null;
    name: string;
  } | null;
  instalments: string[] | null;
  steps: {
    code: string;
    product: string;
    name: string;
    price: string;
    currency: string;
    onYes: string | null;
    onNo: string | null;
  }[];
  first: string | null;
}
export interface Subscription {
  reference: string;
  purchase: string;
  product: string;
  started_at: number;
  number: number;
  buyer: string;
  ended: number;
}
export interface Told {
  call: string;
  status: number;
  said: string;
}
export interface Refund {
  reference: string;
  amount: string;
  full: boolean;
}
export interface Purchase {
  reference: string;
  at: number;
  product: string;
  name: string;
  quantity: number;
  amount: string;
  currency: string;
  buyer: string;
  visit: string | null;
  placed_at: string;
  reports: string;
  picture: string | null;
  waiting: number;
  refunds: string;
}

/** A value with its currency, as Gravenel writes it. */
export interface Priced {
  value: string;
  currency: string;
}

export const switchNames = {
  twice: 'report every order twice',
  late: 'report late: orders wait until sent by hand',
  picture: 'report by the fallback picture as well',
  onlypicture: 'report by the fallback picture only',
  lose: 'lose the click: the visit is not passed on',
  omit: 'leave out the currency',
};

/** A test, its step of a funnel, its quote; the code that it carried, what that took off, and a code that was not taken. */
type Mark = 'test' | 'step' | 'quote' | 'coupon' | 'off' | 'refused-coupon';

export type Records = ReturnType<typeof recordsOf>;

/** What the shop keeps: its shelf, its purchases, its switches. */
export function recordsOf(db: StandinDb) {
  const purchase = (reference: string) =>
    db.prepare('SELECT * FROM purchases WHERE reference = ?').get(reference) as Purchase | undefined;
  return {
    db,
    setting: (name: string, otherwise: string) => readSwitch(db, name) || otherwise,
    on: (name: keyof typeof switchNames) => readSwitch(db, `shop-${name}`) === 'on',
    /** what a purchase was marked with, beside the columns of its table */
    mark: (name: Mark, reference: string) => readSwitch(db, `${name}-${reference}`),
    setMark: (name: Mark, reference: string, value: string) => setSwitch(db, `${name}-${reference}`, value),
    item: (code: string) =>
      db.prepare('SELECT * FROM shelf WHERE code = ?').get(code.toUpperCase()) as Shelf | undefined,
    purchase,
    add: (p: Purchase) =>
      db
        .prepare('INSERT INTO purchases VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)')
        .run(
          p.reference,
          p.at,
          p.product,
          p.name,
          p.quantity,
          p.amount,
          p.currency,
          p.buyer,
          p.visit,
          p.placed_at,
          p.reports,
          p.picture,
          p.waiting,
          p.refunds,
        ),
    /** keeps what Gravenel answered to reports of a purchase */
    note: (reference: string, told: Told[]) => {
      const row = purchase(reference);
      if (row)
        db.prepare('UPDATE purchases SET reports = ?, waiting = 0 WHERE reference = ?').run(
          JSON.stringify([...(JSON.parse(row.reports) as Told[]), ...told]),
          reference,
        );
    },
    /** the next number of an order or lead: taken at once, so that two buyers who pay in the same moment never share one */
    nextNumber: (): number => {
      const sold = 10_000 + (db.prepare('SELECT count(*) FROM purchases').pluck().get() as number);
      const number = Math.max(sold, Number(readSwitch(db, 'last-number') || 0)) + 1;
      setSwitch(db, 'last-number', String(number));
      return number;
    },
  };
}
