import { describe, expect, it } from 'vitest';
import { costsBeforeSales, decidedBy, payOf, priceOfNextSale, round } from './sale';

describe('a reward as it is typed', () => {
  it('is a flat amount, a percent, or the programme’s own percent where the product has none', () => {
    expect(payOf('flat', '6.00', '8', 'EUR')).toEqual({ type: 'flat-order', amount: 600 });
    expect(payOf('percent', '12.5', '8', 'EUR')).toEqual({ type: 'percent', ppm: 125_000 });
    expect(payOf('none', '', '8', 'EUR')).toEqual({ type: 'percent', ppm: 80_000 });
  });

  it('is nothing while it cannot be read', () => {
    expect(payOf('flat', '6,x', '8', 'EUR')).toBeNull();
    expect(payOf('percent', '', '8', 'EUR')).toBeNull();
    expect(payOf('none', '', '', 'EUR')).toBeNull();
  });
});

describe('what decides for a chosen affiliate while a rate is typed', () => {
  type Answer = Parameters<typeof decidedBy>[0];
  type Rung = Answer['lines'][number]['rungs'][number];
  const rung = (name: string, outcome: Rung['rows'][number]['outcome']): Rung => ({
    rung: name,
    rows: [{ text: '', why: '', outcome }],
  });
  const answer = (...rungs: Rung[]): Answer => ({
    total: { amount: 1500, currency: 'EUR' },
    lines: [{ product: 'Wheel', reason: null, locked: false, rungs, sums: [] }],
  });
  const typed = { type: 'percent', ppm: 120_000 } as const;

  it('is the typed rate where the product’s or the programme’s own decided', () => {
    for (const own of ['Product', 'Programme'])
      expect(decidedBy(answer(rung('Card', 'loses'), rung(own, 'wins')), typed)).toEqual({
        pay: typed,
        rung: own,
        typed: true,
      });
  });

  it('is what the saved book says where a narrower one decided, or an uplift raised it', () => {
    expect(decidedBy(answer(rung('Card', 'wins')), typed)).toEqual({
      pay: { type: 'flat-order', amount: 1500 },
      rung: 'Card',
      typed: false,
    });
    expect(decidedBy(answer(rung('Product', 'wins'), rung('Uplift', 'wins')), typed)).toMatchObject({
      pay: { type: 'flat-order', amount: 1500 },
      typed: false,
    });
    expect(decidedBy(answer(), typed).rung).toBe('none');
  });
});

it('a share is said in whole thousandths', () => {
  expect(round(51_234)).toBe(round(51_000));
});

describe('what a sale costs before anything was sold', () => {
  const settings = {
    ...{ feePercent: '1.5', feeFixed: '0.25', lowEarning: '3.00' },
    ...{ referralPercent: '10', referralOf: 'commission' as const },
  };
  it('is what the settings say of fees, small earnings and referrals, and the usual refunds', () => {
    expect(costsBeforeSales(settings, 'EUR')).toMatchObject({
      ...{ feePpm: 15_000, feeFixed: 25, lowEarning: 300, refundPpm: 50_000 },
      referral: { ppm: 100_000, of: 'commission' },
    });
  });
  it('is without a referral share where none is promised, and nothing while the settings are read', () => {
    expect(costsBeforeSales({ ...settings, referralPercent: '' }, 'EUR').referral).toBeNull();
    expect(costsBeforeSales(undefined, 'EUR')).toMatchObject({ feePpm: 0, feeFixed: 0, lowEarning: 0 });
  });
});

describe('the price of the next sale', () => {
  const stepped = { currency: 'EUR', step: '0.50', stepEvery: '5', stepCeiling: '14.00' };
  const next = (fields: object, sold: number) =>
    priceOfNextSale({ ...stepped, ...fields }, { price: 1_200, sold });
  it('rises with what was sold, up to the ceiling', () => {
    expect([0, 4, 5, 12, 900].map((sold) => next({}, sold))).toEqual([1_200, 1_200, 1_250, 1_300, 1_400]);
  });
  it('is the one typed where nothing rises, or what is typed cannot be read yet', () => {
    const typed = [{ step: '' }, { step: '0' }, { stepEvery: '' }, { stepCeiling: '' }, { stepCeiling: '9' }];
    expect(typed.map((fields) => next(fields, 40))).toEqual([1_200, 1_200, 1_200, 1_200, 1_200]);
  });
});
