import { formatMoney } from '../money/amount';

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
