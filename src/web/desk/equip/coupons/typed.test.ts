import { describe, expect, it } from 'vitest';
import { createCoupon, type CouponOut } from '../../../../contract/equip/coupons';
import { faultsOf } from '../../../../server/ground/http/validate';
import { blankCoupon, sentOf, typedOf } from './typed';

const filled = { ...blankCoupon, code: 'CLAY10', value: '10' };
/** What a list of coupons says beside what can be typed. */
const listed = {
  ...filled,
  ...{ id: 'cpn_1', version: 4, ownerName: null, shop: 'seen', says: '10 % off' },
} as unknown;

describe('a coupon as it is typed', () => {
  it('a blank one misses its code and what it gives, nothing else', () => {
    expect(faultsOf(createCoupon.body, blankCoupon).map((f) => f.pointer)).toEqual(['/code']);
    expect(faultsOf(createCoupon.body, filled)).toEqual([]);
  });
  it('one that is there is typed without what only a list says of it', () => {
    const typed = typedOf(listed as CouponOut);
    expect(Object.keys(typed).sort()).toEqual(Object.keys(blankCoupon).sort());
    expect(typed.code).toBe('CLAY10');
  });
  it('what is sent is what the call takes, and nothing beside', () => {
    expect(faultsOf(createCoupon.body, sentOf(listed as CouponOut))).toEqual([]);
    expect(Object.keys(sentOf(filled)).sort()).toEqual(Object.keys(createCoupon.body.properties).sort());
  });
  it('every value that was typed is sent as it is', () => {
    const typed = {
      ...filled,
      ...{ gives: 'amount' as const, value: '5.00', words: 'free shipping', least: '20.00' },
      ...{
        landing: 'https://shop.quernstone.example/sale',
        terms: 'Once each',
        applied: false,
        active: false,
      },
    };
    expect(sentOf(typed)).toEqual(typed);
  });
});
