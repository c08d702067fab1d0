import { describe, expect, it } from 'vitest';
import { kindsIn, mismatch, partnerKindList } from './kinds';
import { averageEarning, placeAmong, slugOf } from './offers';

describe('kinds', () => {
  it('are read from what people write', () => {
    expect(kindsIn('Newsletter, video & a Shop-Blog')).toEqual(['blog', 'newsletter', 'video', 'shop']);
    expect(kindsIn('newsletters')).toEqual([]);
    expect(kindsIn('cash return')).toEqual(['cash return']);
    expect(kindsIn('')).toEqual([]);
    for (const kind of partnerKindList) expect(kindsIn(kind)).toContain(kind);
  });
  it('fit or do not fit what is wanted', () => {
    expect(mismatch(['coupons', 'blog'], ['blog'], ['coupons'])).toBe('your policy does not take coupons');
    expect(mismatch(['video'], ['blog'], [])).toBe('video: not a kind you look for');
    expect([
      mismatch(['blog'], ['blog'], ['coupons']),
      mismatch([], ['blog'], []),
      mismatch(['video'], [], []),
    ]).toEqual([null, null, null]);
  });
});

describe('offers', () => {
  it('an average is said where there is enough to say it', () => {
    expect(averageEarning({ clicks: 200, orders: 10, granted: 5000 })).toBe(2500);
    expect([
      averageEarning({ clicks: 200, orders: 9, granted: 5000 }),
      averageEarning({ clicks: 99, orders: 10, granted: 5000 }),
    ]).toEqual([null, null]);
  });
  it('have a place among others; the same figure shares it', () => {
    expect([placeAmong(5, [9, 5, 1]), placeAmong(10, []), placeAmong(null, [1])]).toEqual([
      { place: 2, of: 4 },
      { place: 1, of: 1 },
      null,
    ]);
  });
  it('an address part of a headline', () => {
    expect([
      slugOf('Ein Töpfer-Rad: klein & fein!'),
      slugOf('日本'),
      slugOf(`${'a'.repeat(80)}`).length,
    ]).toEqual(['ein-topfer-rad-klein-fein', 'offer', 60]);
  });
});
