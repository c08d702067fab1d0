import { expect, it } from 'vitest';
import { addCounts, figuresOf, noCounts } from './metrics';

it('derives the figures, and none where there is nothing to divide by', () => {
  const counts = { clicks: 400, orders: 9, value: 106_560, granted: 16_480, reversed: 1_000 };
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
