import { describe, expect, it } from 'vitest';
import { consequencesOf, loses, type Sale } from './consequences';

describe('what a sale comes to', () => {
  const sale: Sale = {
    price: 10_000,
    pay: { type: 'percent', ppm: 100_000 },
    renewal: null,
    referral: null,
    conversion: 20_000,
  };
  const costs = { feePpm: 0, feeFixed: 0, refundPpm: 0, discountPpm: 0, owners: [], follow: [] };

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
    const follow = [{ price: 2000, commission: 200, takenPpm: 500_000, refundPpm: 0, owners: [] }];
    const found = consequencesOf(sale, { ...costs, follow });
    expect(found.down?.at(-1)?.amount).toBe(9000 + 900);
  });
});
