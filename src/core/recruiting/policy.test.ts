import { describe, expect, it } from 'vitest';
import { kindsIn, mismatch, partnerKindList } from './kinds';
import { averageEarning, effectivePpm, placeAmong, slugOf } from './offers';
import { emptyPolicy, faultsOfPolicy, policyChanges, sectionsOf, type PolicyContent } from './policy';

const policy: PolicyContent = { ...emptyPolicy, general: 'Mark your links.', accepted: ['blog'] };

describe('a policy', () => {
  it('reads in sections, facts first; what says nothing is left out', () => {
    expect(sectionsOf(policy).map((s) => s.key)).toEqual(['general', 'search', 'kinds', 'goods', 'notice']);
    expect(sectionsOf(policy)[1]!.facts).toEqual([
      { text: 'Bidding on our name', yes: false },
      { text: 'Bidding on misspellings of it', yes: false },
      { text: 'Linking advertisements straight to us', yes: false },
    ]);
    expect(sectionsOf({ ...policy, noticeWeeks: 1, atEnd: 'pause' }).at(-1)!.lines).toEqual([
      'Announced 1 week before they hold',
      'Who has not accepted by then is paused until it does',
    ]);
  });
  it('differs by section, in the order in which it is read', () => {
    expect(policyChanges(policy, policy)).toEqual([]);
    expect(
      policyChanges(policy, { ...policy, branding: 'Two words.', ownBrand: true, general: 'Mark them.' }).map(
        (c) => [c.key, c.before === null, c.after === null],
      ),
    ).toEqual([
      ['general', false, false],
      ['search', false, false],
      ['branding', true, false],
    ]);
    expect(policyChanges({ ...policy, branding: 'x' }, policy).map((c) => [c.key, c.after])).toEqual([
      ['branding', null],
    ]);
    expect(policyChanges(null, policy)).toHaveLength(5);
  });
  it('cannot want and refuse the same kind, nor be only facts', () => {
    expect(faultsOfPolicy({ ...policy, refused: ['blog', 'coupons'] }).map((f) => f.field)).toEqual([
      'refused',
    ]);
    expect(faultsOfPolicy(policy)).toEqual([]);
  });
});

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
  it('a reward as a share of a price', () => {
    expect([
      effectivePpm({ type: 'percent', ppm: 120_000 }, 19_900),
      effectivePpm({ type: 'flat-order', amount: 500 }, 3850),
      effectivePpm(null, 100),
      effectivePpm({ type: 'percent', ppm: 1 }, 0),
    ]).toEqual([120_000, 129_870, null, null]);
  });
  it('an address part of a headline', () => {
    expect([
      slugOf('Ein Töpfer-Rad: klein & fein!'),
      slugOf('日本'),
      slugOf(`${'a'.repeat(80)}`).length,
    ]).toEqual(['ein-topfer-rad-klein-fein', 'offer', 60]);
  });
});
