import { describe, expect, it } from 'vitest';
import { saleEconomics } from './economics';
import { mayBecome, proposeCode, readiness } from './readiness';

describe('what a sale leaves', () => {
  it('percent and flat', () => {
    expect(saleEconomics(19900, { type: 'percent', ppm: 120_000 }, 23_100)).toEqual({ price: 19900, commission: 2388, left: 17512, per100Clicks: 5516 });
    expect(saleEconomics(500, { type: 'flat-order', amount: 600 }, null)).toEqual({ price: 500, commission: 500, left: 0, per100Clicks: null });
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
