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

function beyondLast({ kind, details }: Agreed, number: number): string {
  const last = lastPaymentOf(kind, details);
  if (last === null || number <= last) return '';
  return kind === 'instalments'
    ? `Payment ${number} of ${last}: the product is paid in ${counted(last, 'instalment')}`
    : `Payment ${number} of ${last}: the subscription ends after ${counted(last - 1, 'renewal')}`;
}

/** Instalments at more than their part of the price; one as the first was stays fitting, also after the price was lowered. */
function tooMuch({ kind, details, price, currency, firstPaid }: Agreed, payment: FurtherPayment): string {
  const { number, quantity, amount } = payment;
  const part = kind === 'instalments' && price !== null ? paymentPrice(kind, price, details, number) : null;
  if (part === null || price === null || amount === null || amount <= part * quantity) return '';
  if (amount === firstPaid && firstPaid < price * quantity) return '';
  const say = (minor: number) => formatMoney({ amount: minor, currency });
  return `${say(amount)} is more than instalment ${number} of ${details.instalments}, ${say(part * quantity)}`;
}

/**
 * What of a further payment does not fit what was agreed, in words; empty where it fits: one beyond the last, one before
 * the first, an instalment at more than its part of the price.
 * @param zone the programme's: days are cut there
 */
export function misfitOfPayment(agreed: Agreed, payment: FurtherPayment, zone: string): string {
  if (agreed.kind !== 'recurring' && agreed.kind !== 'instalments') return '';
  const { startedAt } = agreed;
  const isEarly = Math.floor(payment.placedAt / 1000) < Math.floor(startedAt / 1000);
  const early = isEarly
    ? `It was paid on ${formatDay(payment.placedAt, zone)}, before the first payment on ${formatDay(startedAt, zone)}`
    : '';
  return [beyondLast(agreed, payment.number), early, tooMuch(agreed, payment)].filter(Boolean).join('; ');
}
