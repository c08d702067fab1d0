import type { BodyOf } from '../../../../contract/endpoint';
import type { CouponOut, createCoupon } from '../../../../contract/equip/coupons';

/** What is typed of a coupon. */
export type Typed = BodyOf<typeof createCoupon> & Record<string, unknown>;

export const blankCoupon: Typed = {
  code: '',
  gives: 'percent',
  value: '',
  words: '',
  least: '',
  products: [],
  landing: '',
  terms: '',
  owner: null,
  audience: { kind: 'everybody' },
  applied: true,
  active: true,
  from: null,
  until: null,
};

/** A coupon that is there, as it is typed. */
export const typedOf = (coupon: CouponOut): Typed => sentOf(coupon);

/** What is sent of it. */
export function sentOf(coupon: BodyOf<typeof createCoupon>): BodyOf<typeof createCoupon> {
  const { code, gives, value, words, least, products, landing } = coupon;
  const { terms, owner, audience, applied, active, from, until } = coupon;
  return {
    ...{ code, gives, value, words, least, products, landing },
    ...{ terms, owner, audience, applied, active, from, until },
  };
}
