import { formatDay } from '../calendar/format';
import { formatMoney } from '../money/amount';
import { counted } from '../text/counted';
import { lastPaymentOf, paymentPrice, type ProductDetails, type ProductKind } from './product';

/**
 * What of an amount does not fit the price of one unit, in words; empty where it fits. For sales that nobody signed: price and quantity are what a
 * made-up one gets wrong.
 * @param amount, price minor units of the same currency; price null = there is none in it
 */
export function misfitOf(amount: number, price: number | null, currency: string): string {
  if (price === null) return `The product has no price in ${currency}`;
  if (amount === price) return '';
  const asked = formatMoney({ amount: price, currency });
  const said = formatMoney({ amount, currency });
  if (price > 0 && amount > price && amount % price === 0)
    return `${said} is the price of ${amount / price} units, ${asked} each; a picture reports one`;
  return `${said} is ${amount < price ? 'less' : 'more'} than the price, ${asked}`;
}

/** What was agreed with the first payment of a subscription or of instalments. */
export interface Agreed {
  kind: ProductKind;
  details: Pick<ProductDetails, 'renewals' | 'instalments' | 'renewalPrice'>;
  /** minor units of the product's currency; of instalments the total. Null = it has none */
  price: number | null;
  currency: string;
  /** the moment of the first payment, UTC milliseconds */
  startedAt: number;
  /** what of the product was paid first, minor units of the product's currency; null where it was in another */
  firstPaid: number | null;
}

/** A further payment, as it was reported. */
export interface FurtherPayment {
  /** 2 = the second */
  number: number;
  /** UTC milliseconds */
  placedAt: number;
  quantity: number;
  /** minor units of the product's currency; null where it is in another */
  amount: number | null;
}

/** A field of a report that does not fit what was agreed, and why. */
export interface Misfit {
  field: 'number' | 'placedAt' | 'lines';
  why: string;
}

const misfitIn = (field: Misfit['field'], why: string | null): Misfit[] =>
  why === null ? [] : [{ field, why }];

function beyondLast({ kind, details }: Agreed, number: number): string | null {
  const last = lastPaymentOf(kind, details);
  if (last === null || number <= last) return null;
  return kind === 'instalments'
    ? `Payment ${number} of ${last}: the product is paid in ${counted(last, 'instalment')}`
    : `Payment ${number} of ${last}: the subscription ends after ${counted(last - 1, 'renewal')}`;
}

/** @param zone the programme's: days are cut there */
function beforeFirst({ startedAt }: Agreed, { placedAt }: FurtherPayment, zone: string): string | null {
  // to the second: not every shop writes smaller ones
  if (Math.floor(placedAt / 1000) >= Math.floor(startedAt / 1000)) return null;
  return `It was paid on ${formatDay(placedAt, zone)}, before the first payment on ${formatDay(startedAt, zone)}`;
}

/** An instalment above its part of the price. One that equals the first still fits after the price was lowered. */
function tooMuch(
  { kind, details, price, currency, firstPaid }: Agreed,
  payment: FurtherPayment,
): string | null {
  const { number, quantity, amount } = payment;
  if (kind !== 'instalments' || price === null || amount === null) return null;
  const part = paymentPrice(kind, price, details, number);
  if (part === null || amount <= part * quantity) return null;
  if (amount === firstPaid && firstPaid < price * quantity) return null;
  const say = (minor: number) => formatMoney({ amount: minor, currency });
  return `${say(amount)} is more than instalment ${number} of ${details.instalments}, ${say(part * quantity)}`;
}

/**
 * What of a further payment does not fit what was agreed: a number beyond the last, a moment before the first payment, an
 * instalment above its part of the price. Empty where it fits.
 * @param zone the programme's: days are cut there
 */
export function misfitsOfPayment(agreed: Agreed, payment: FurtherPayment, zone: string): Misfit[] {
  if (agreed.kind !== 'recurring' && agreed.kind !== 'instalments') return [];
  return [
    ...misfitIn('number', beyondLast(agreed, payment.number)),
    ...misfitIn('placedAt', beforeFirst(agreed, payment, zone)),
    ...misfitIn('lines', tooMuch(agreed, payment)),
  ];
}
