import { formatMoney } from '../money/amount';
import { describeKept, type Kept } from '../text/kept';
import { describePayments, type Rate } from './rate';

/** Why a line earns nothing. `not-approved`: the affiliate is not approved for its product; `used-up`: the payments that earn; `earned-before`: a flat reward per order, with its first payment; `cap-earned`: the most an order earns, by earlier payments. */
export type LineReason =
  | { code: 'not-approved' }
  | { code: 'no-rate' }
  | { code: 'used-up' }
  | { code: 'earned-before' }
  | { code: 'cap-earned' };

const lineWords: Record<LineReason['code'], string> = {
  'not-approved': 'not approved for this product',
  'no-rate': 'no rate applies on any rung',
  'used-up': 'the payments that earn are used up, and nothing comes after',
  'earned-before': 'a flat reward per order is earned once, with the first payment',
  'cap-earned': 'earlier payments earned the most that an order earns',
};

/** Why a line earns nothing, in words. */
export function describeLineReason(reason: Kept<LineReason>): string {
  return describeKept(reason, ({ code }) => lineWords[code]);
}

/** True if the line earns nothing because the affiliate is not approved for its product. */
export function isNotApproved(reason: Kept<LineReason> | null): boolean {
  return reason !== null && typeof reason !== 'string' && reason.code === 'not-approved';
}

/**
 * Why a rate beside a line decides it, loses or does not apply. `payment` is the number of the payment asked about, `worth` what the bands of
 * the rate are asked by, minor units of base.
 */
export type RateReason =
  | { code: 'decides' }
  | { code: 'raises' }
  | { code: 'begins-later' }
  | { code: 'had-ended' }
  | { code: 'other-payment'; payment: number }
  | { code: 'payments-over' }
  | { code: 'below-bands'; worth: number }
  | { code: 'product-locked' }
  | { code: 'group-paused' }
  | { code: 'earlier-start' }
  | { code: 'lower-rung' }
  | { code: 'wider' }
  | { code: 'tag-before' }
  | { code: 'better-uplift' }
  | { code: 'raises-nothing' };

const rateWords: Record<
  Exclude<RateReason['code'], 'other-payment' | 'payments-over' | 'below-bands'>,
  string
> = {
  decides: 'decides',
  raises: 'raises it',
  'begins-later': 'begins later',
  'had-ended': 'had ended',
  'product-locked': 'the product is locked',
  'group-paused': 'the group is paused',
  'earlier-start': 'an earlier start',
  'lower-rung': 'lower rung',
  wider: 'wider',
  'tag-before': 'a tag before it decides',
  'better-uplift': 'another uplift is better; two do not add up',
  'raises-nothing': 'raises nothing here',
};

/** Why a rate decides, loses or does not apply, in words. @param base currency that amounts are said in */
export function describeRateReason(
  reason: Kept<RateReason>,
  { payments }: Pick<Rate, 'payments'>,
  base: string,
): string {
  return describeKept(reason, (known) => {
    switch (known.code) {
      case 'other-payment':
        return `${describePayments(payments!)}; this is payment ${known.payment}`;
      case 'payments-over':
        return describePayments(payments!);
      case 'below-bands':
        return `the order’s ${formatMoney({ amount: known.worth, currency: base })} is below its lowest band`;
      default:
        return rateWords[known.code];
    }
  });
}
