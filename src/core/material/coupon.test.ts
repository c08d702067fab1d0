import { describe, expect, it } from 'vitest';
import { codeFault, couponFaults, givesWords, shopState, trimmedCoupon, type CouponFields } from './coupon';
import { landingFault } from './landing';

const plain: CouponFields = {
  ...{ code: 'WHEEL10', gives: 'percent', value: 100_000, words: '', least: null, products: [] },
  ...{ landing: '', terms: '', owner: null, audience: { kind: 'everybody' }, applied: true },
  ...{ active: true, from: null, until: null },
};
const faults = (more: Partial<CouponFields>) => couponFaults({ ...plain, ...more }, []).map((f) => f.field);

it.each([
  ['WHEEL10', null],
  ['A-1', null],
  ['', 'it is missing'],
  ['TWO WORDS', 'it has a blank in it, which buyers would leave out'],
  ['-A', 'letters A–Z, digits and dashes, up to 30 of them, are taken'],
  ['ÄPFEL', 'letters A–Z, digits and dashes, up to 30 of them, are taken'],
  ['A'.repeat(31), 'letters A–Z, digits and dashes, up to 30 of them, are taken'],
])('the code %s', (code, why) => {
  expect(codeFault(code)).toBe(why);
});

describe('a coupon', () => {
  it('says what a buyer gets', () => {
    const least = 5_000;
    expect(givesWords({ ...plain, least }, 'EUR')).toBe('10 % off orders from €50.00');
    expect(givesWords({ ...plain, gives: 'shipping', least }, 'EUR')).toBe(
      'free shipping of orders from €50.00',
    );
    expect(givesWords({ ...plain, gives: 'other', words: 'clay', least }, 'EUR')).toBe(
      'clay, for orders from €50.00',
    );
  });
  it('is refused where it gives nothing, or more than there is', () => {
    expect(faults({ value: 0 })).toEqual(['value']);
    expect(faults({ value: 1_000_001 })).toEqual(['value']);
    expect(faults({ gives: 'other' })).toEqual(['words']);
    expect(faults({ gives: 'amount', value: 500, least: 499 })).toEqual(['least']);
    expect(faults({ from: 5, until: 5 })).toEqual(['until']);
    expect(faults({})).toEqual([]);
  });
  it('is kept in capitals, and without what its kind has no use for', () => {
    expect(trimmedCoupon({ ...plain, code: ' wheel10 ', gives: 'shipping', words: 'x' })).toMatchObject({
      code: 'WHEEL10',
      value: 0,
      words: '',
    });
  });
});

it('how it stands in the shop is what was learned last; of the same moment an order counts most', () => {
  expect(shopState([])).toBe('never');
  expect(
    shopState([
      { kind: 'said', lastAt: 5 },
      { kind: 'refused', lastAt: 9 },
    ]),
  ).toBe('refused');
  expect(
    shopState([
      { kind: 'seen', lastAt: 10 },
      { kind: 'refused', lastAt: 9 },
    ]),
  ).toBe('seen');
  expect(
    shopState([
      { kind: 'refused', lastAt: 9 },
      { kind: 'seen', lastAt: 9 },
    ]),
  ).toBe('seen');
  expect(
    shopState([
      { kind: 'seen', lastAt: 8 },
      { kind: 'said', lastAt: 9 },
    ]),
  ).toBe('said');
});

describe('where links may lead', () => {
  const hosts = ['shop.example', 'shop.example:8080'];
  it.each([
    ['https://shop.example/a', null],
    ['http://shop.example:8080/a?b#c', null],
    ['https://shop.example:9000/', /shop\.example:9000 is not among/],
    ['https://shop.example.evil.example/', /not among/],
    ['https://a:b@shop.example/', /a name or a password/],
    ['javascript:alert(1)', /begins with javascript:/],
    ['shop.example', /no address/],
  ])('%s', (address, expected) => {
    const why = landingFault(address, hosts);
    if (expected === null) expect(why).toBeNull();
    else expect(why).toMatch(expected);
  });
});
