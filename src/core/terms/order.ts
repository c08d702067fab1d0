import type { Kept } from '../text/kept';
import type { Spent } from './caps';
import { type Earned } from './earned';
import { type Event, type Sold } from './rate';
import type { LineReason } from './reason';

/** A line of an order as reported; amounts are minor units of the order's currency. */
export interface OrderLine extends Sold {
  /** name for people */
  name: string;
  quantity: number;
  /** quantity × price, before discount, tax and shipping */
  amount: number;
  /** this line's share of the order's discounts */
  discount: number;
  /** false if the affiliate is not approved for the product: the line earns nothing */
  approved: boolean;
}

export interface OrderToResolve {
  event: Event;
  /** UTC milliseconds; every rate is taken as of this moment */
  at: number;
  /** number of the payment, 1 = the first; left out = 1. Of a sale: whether an earlier payment of the order has earned what counts once */
  payment?: number;
  currency: string;
  base: string;
  /** order currency bought by one unit of base, × 1,000,000; ignored where both are the same */
  rateMicros: number;
  lines: readonly OrderLine[];
  /** what earlier payments of the order earned under caps; left out = there were none */
  spent?: Spent | undefined;
}

/** What a line came to. `value` in order currency, `base` and `amount` in minor units of base. */
export interface ResolvedLine {
  product: string;
  name: string;
  quantity: number;
  gross: number;
  discount: number;
  value: number;
  base: number;
  rateId: string | null;
  reward: Earned | null;
  amount: number;
  /** why the amount is zero, where it is */
  reason: Kept<LineReason> | null;
}

/** The part of the price that commission is paid on: price paid × quantity − its discounts. */
export function commissionableValue(line: { amount: number; discount: number }): number {
  return Math.max(0, line.amount - line.discount);
}
