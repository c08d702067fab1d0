import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { marginDown, marginOf, saleEconomics } from './economics';
import { mayBecome, proposeCode, readiness } from './readiness';

describe('what a sale leaves', () => {
  it('percent and flat', () => {
    expect(saleEconomics(19900, { type: 'percent', ppm: 120_000 }, 23_100)).toEqual({
      price: 19900,
      commission: 2388,
      left: 17512,
      per100Clicks: 5516,
    });
    expect(saleEconomics(500, { type: 'flat-order', amount: 600 }, null)).toEqual({
      price: 500,
      commission: 500,
      left: 0,
      per100Clicks: null,
    });
  });
});

const costs = { feePpm: 14_000, feeFixed: 25, refundPpm: 50_000, discountPpm: 0 };
const twelve = { pay: { type: 'percent' as const, ppm: 120_000 }, referral: null, owners: [] };
const shown = (rows: { label: string; amount: number }[]) => rows.map((r) => `${r.label} ${r.amount}`);
it('the margin of a sale: adds up: price, fees, refunds, commission, left', () => {
  expect(shown(marginOf(19_900, twelve, costs))).toEqual([
    'price 19900',
    'fees -304',
    'refunds -995',
    'commission -2269',
    'left 16332',
  ]);
});
it('the margin of a sale: takes the usual discount off first, and shares what is promised to others', () => {
  const rows = marginOf(
    10_000,
    {
      pay: { type: 'percent', ppm: 200_000 },
      referral: { ppm: 100_000, of: 'commission' },
      owners: [250_000],
    },
    { feePpm: 0, feeFixed: 0, refundPpm: 100_000, discountPpm: 100_000 },
  );
  // paid 90.00; commission 18.00, referral 1.80, a quarter of the 70.20 left = 17.55; a tenth of each comes back
  expect(shown(rows)).toEqual([
    'price 10000',
    'discount -1000',
    'fees 0',
    'refunds -900',
    'commission -1620',
    'referral -162',
    'co-owners -1579',
    'left 4739',
  ]);
});
it('the margin of a sale: costs nothing to give away', () => {
  expect(shown(marginOf(0, { ...twelve, pay: { type: 'flat-order', amount: 40 } }, costs))).toEqual([
    'price 0',
    'fees 0',
    'refunds 0',
    'commission -38',
    'left -38',
  ]);
});
it('the margin of a sale: down a funnel each offer counts as often as it is taken, and the column still adds up', () => {
  const offer = marginOf(3_200, { ...twelve, pay: { type: 'flat-order', amount: 500 } }, costs);
  const rows = marginDown(marginOf(19_900, twelve, costs), [{ takenPpm: 220_000, rows: offer }]);
  expect(shown(rows)).toEqual([
    'price 20604',
    'fees -319',
    'refunds -1030',
    'commission -2374',
    'left 16881',
  ]);
  fc.assert(
    fc.property(
      fc.nat(200_000),
      fc.nat(1_000_000),
      fc.nat(1_000_000),
      fc.nat(1_000_000),
      (price, ppm, taken, refundPpm) => {
        const one = marginOf(
          price,
          {
            pay: { type: 'percent', ppm },
            referral: { ppm: 100_000, of: 'sale' },
            owners: [300_000, 100_000],
          },
          { ...costs, refundPpm },
        );
        for (const column of [one, marginDown(one, [{ takenPpm: taken, rows: one }])])
          expect(column.slice(0, -1).reduce((sum, r) => sum + r.amount, 0)).toBe(column.at(-1)!.amount);
      },
    ),
  );
});

describe('a product', () => {
  it.each([
    ['Table-top wheel kit', 'TABLE-TOP-WHEEL'],
    ['Açaí Glaze', 'ACAI-GLAZE'],
    ['  ', ''],
    ['Kiln', 'KILN'],
    ['Studio planner 2027!', 'STUDIO-PLANNER'],
    ['Extraordinarily', 'EXTRAORDINARILY'],
    ['Extraordinarilylong', 'EXTRAORDINARILYL'],
  ])('%j gets the code %s', (name, code) => {
    expect(proposeCode(name)).toBe(code);
  });
  it('moves through its states, and comes back from retirement only as paused', () => {
    expect([
      mayBecome('draft', 'live'),
      mayBecome('live', 'draft'),
      mayBecome('retired', 'live'),
      mayBecome('retired', 'paused'),
    ]).toEqual([true, false, false, true]);
  });
  it('lists what is missing, in order', () => {
    const missing = readiness({
      name: 'Kiln',
      description: ' ',
      price: 0,
      salesPage: '',
      hasCommission: false,
    })
      .filter((r) => !r.ready)
      .map((r) => r.field);
    expect(missing).toEqual(['description', 'price', 'salesPage', 'reward']);
  });
});
