import type { Pay } from '../terms/rate';
import {
  marginDown,
  marginOf,
  saleEconomics,
  usuallyPaid,
  type MarginRow,
  type SaleCosts,
  type SalePromises,
} from './economics';

/** What stands around a sale of a product: its costs, its owners, and what follows it down a funnel. */
export interface CostsAround extends SaleCosts {
  /** the co-owners' parts per million */
  owners: readonly number[];
  follow: readonly {
    price: number;
    /** what everybody earns by it */
    commission: number;
    takenPpm: number;
    refundPpm: number;
    owners: readonly number[];
  }[];
}

/** A sale that is looked at before it happens; amounts in minor units of one currency. */
export interface Sale {
  /** the list price, minor units */
  price: number;
  pay: Pay | null;
  renewal: { price: number; pay: Pay | null } | null;
  referral: SalePromises['referral'];
  /** orders by clicks in ppm, null as long as nothing tells */
  conversion: number | null;
}

/** What a sale earns an affiliate and leaves the merchant, its renewals, and what comes down the funnel. Amounts in minor units. */
export function consequencesOf(sale: Sale, costs: CostsAround) {
  const promises = (pay: Pay | null): SalePromises => ({
    pay,
    referral: sale.referral,
    owners: costs.owners,
  });
  const rows = marginOf(sale.price, promises(sale.pay), costs);
  const paid = usuallyPaid(sale.price, costs.discountPpm);
  const earned = sale.pay
    ? saleEconomics(paid, sale.pay, sale.conversion)
    : { commission: 0, per100Clicks: null };
  const offers = costs.follow.map((f) => ({
    takenPpm: f.takenPpm,
    rows: marginOf(
      f.price,
      { pay: { type: 'flat-order', amount: f.commission }, referral: sale.referral, owners: f.owners },
      { ...costs, discountPpm: 0, refundPpm: f.refundPpm },
    ),
  }));
  return {
    ...earned,
    rows,
    renewal: sale.renewal && {
      rows: marginOf(sale.renewal.price, promises(sale.renewal.pay), { ...costs, discountPpm: 0 }),
      commission: sale.renewal.pay ? saleEconomics(sale.renewal.price, sale.renewal.pay, null).commission : 0,
    },
    down: offers.length ? marginDown(rows, offers) : null,
  };
}

/** What is left of the rows of a margin, minor units. */
export const leftOf = (rows: MarginRow[]): number => rows.at(-1)!.amount;

/** True where a sale costs more than it brings. */
export const loses = (rows: MarginRow[]): boolean => leftOf(rows) < 0;
