import { describe, expect, it } from 'vitest';
import { consequencesOf, decidedBy, loses, noCosts, payOf, round, type Sale } from './sale';

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
      expect(decidedBy(answer(rung('Card', 'none'), rung(own, 'wins')), typed)).toEqual({
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

describe('what a sale comes to', () => {
  const sale: Sale = {
    price: 10_000,
    pay: { type: 'percent', ppm: 100_000 },
    renewal: null,
    referral: null,
    conversion: 20_000,
  };
  const costs = { ...noCosts, refundPpm: 0 };

  it('adds up, and what 100 clicks earn follows the conversion', () => {
    const found = consequencesOf(sale, costs);
    expect(found.commission).toBe(1000);
    expect(found.per100Clicks).toBe(2000);
    expect(found.rows.at(-1)).toMatchObject({ label: 'left', amount: 9000 });
    expect(found.renewal).toBeNull();
    expect(found.down).toBeNull();
  });

  it('of a renewal is worked out without the discount of the first payment', () => {
    const found = consequencesOf(
      { ...sale, renewal: { price: 5000, pay: { type: 'flat-order', amount: 400 } } },
      { ...costs, discountPpm: 500_000 },
    );
    expect(found.commission).toBe(500);
    expect(found.renewal).toMatchObject({ commission: 400 });
    expect(found.renewal?.rows.some((r) => r.label === 'discount' && r.amount !== 0)).toBe(false);
  });

  it('says so where it costs more than it brings, and pays nothing where no rate applies', () => {
    const dear = consequencesOf(
      { ...sale, pay: { type: 'flat-order', amount: 20_000 } },
      { ...costs, feeFixed: 100 },
    );
    expect(loses(dear.rows)).toBe(true);
    const none = consequencesOf({ ...sale, pay: null }, costs);
    expect([none.commission, none.per100Clicks, loses(none.rows)]).toEqual([0, null, false]);
  });

  it('comes with what follows it down the funnel', () => {
    const follow = [
      { name: 'Rolls', price: 2000, commission: 200, takenPpm: 500_000, refundPpm: 0, owners: [] },
    ];
    const found = consequencesOf(sale, { ...costs, follow });
    expect(found.down?.at(-1)?.amount).toBe(9000 + 900);
  });
});

it('a share is said in whole thousandths', () => {
  expect(round(51_234)).toBe(round(51_000));
});
