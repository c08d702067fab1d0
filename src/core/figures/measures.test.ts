import { expect, it } from 'vitest';
import { addCounts, figuresOf, noCounts } from './measures';

it('derives the figures, and none where there is nothing to divide by', () => {
  const counts = {
    ...noCounts,
    ...{ clicks: 400, orders: 9, renewals: 2, value: 111_360, firstValue: 106_560 },
    ...{ granted: 16_480, reversed: 1_000 },
  };
  expect(figuresOf(counts)).toMatchObject({
    conversion: 22_500,
    averageOrder: 11_840,
    epc: 4_120,
    shareReversed: 60_680,
  });
  expect(figuresOf(noCounts)).toMatchObject({
    conversion: null,
    averageOrder: null,
    epc: null,
    shareReversed: null,
  });
  expect(addCounts(counts, counts).clicks).toBe(800);
});

it('an average order is of first sales alone, and earnings have corrections in them', () => {
  const counts = {
    ...noCounts,
    ...{ clicks: 100, orders: 2, renewals: 3, value: 27_200, firstValue: 20_000 },
    ...{ granted: 2_000, corrected: -500 },
  };
  expect(figuresOf(counts)).toMatchObject({ averageOrder: 10_000, epc: 1_500 });
});
