import { describe, expect, it } from 'vitest';
import { marginOf, saleEconomics } from './economics';
import { mayBecome, proposeCode, readiness } from './readiness';

describe('what a sale leaves', () => {
  it('percent and flat', () => {
    expect(saleEconomics(19900, { type: 'percent', ppm: 120_000 }, 23_100)).toEqual({ price: 19900, commission: 2388, left: 17512, per100Clicks: 5516 });
    expect(saleEconomics(500, { type: 'flat-order', amount: 600 }, null)).toEqual({ price: 500, commission: 500, left: 0, per100Clicks: null });
  });
});

describe('the margin of a sale', () => {
  it('adds up: price, fees, refunds, commission, left', () => {
    const rows = marginOf(19_900, 2_388, { feePpm: 14_000, feeFixed: 25, refundPpm: 50_000 });
    expect(rows.map((r) => r.amount)).toEqual([19_900, -304, -995, -2_269, 16_332]);
    expect(rows.slice(0, -1).reduce((sum, r) => sum + r.amount, 0)).toBe(rows.at(-1)!.amount);
  });
  it('costs nothing to give away', () => {
    expect(marginOf(0, 40, { feePpm: 14_000, feeFixed: 25, refundPpm: 50_000 }).map((r) => r.amount)).toEqual([0, -0, -0, -38, -38]);
  });
});

describe('a product', () => {
  it.each([['Table-top wheel kit', 'TABLE-TOP-WHEEL'], ['Açaí Glaze', 'ACAI-GLAZE'], ['  ', ''], ['Kiln', 'KILN'], ['Studio planner 2027!', 'STUDIO-PLANNER'], ['Extraordinarily', 'EXTRAORDINARILY'], ['Extraordinarilylong', 'EXTRAORDINARILYL']])('%j gets the code %s', (name, code) => {
    expect(proposeCode(name)).toBe(code);
  });
  it('moves through its states, and comes back from retirement only as paused', () => {
    expect([mayBecome('draft', 'live'), mayBecome('live', 'draft'), mayBecome('retired', 'live'), mayBecome('retired', 'paused')]).toEqual([true, false, false, true]);
  });
  it('lists what is missing, in order', () => {
    const missing = readiness({ name: 'Kiln', description: ' ', price: 0, salesPage: '', hasCommission: false }).filter((r) => !r.ready).map((r) => r.field);
    expect(missing).toEqual(['description', 'price', 'salesPage', 'reward']);
  });
});
