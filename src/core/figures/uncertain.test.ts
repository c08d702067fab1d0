import fc from 'fast-check';
import { expect, it } from 'vitest';
import { wilson } from './uncertain';

it('a share of few events is said with the bounds it may well lie between', () => {
  // E. B. Wilson's interval at 95 %: 53 of 1,204 and 0 of 10, by the formula worked out apart
  expect(wilson(53, 1_204)).toEqual({ ppm: 44_020, low: 33_811, high: 57_130 });
  expect(wilson(0, 10)).toEqual({ ppm: 0, low: 0, high: 277_540 });
  expect(wilson(0, 0)).toBeNull();
});

it('the share lies between its bounds, which come closer with more events', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 100_000 }), fc.integer({ min: 0, max: 100_000 }), (tries, hits) => {
      const few = wilson(Math.min(hits, tries), tries)!;
      expect(few.low).toBeLessThanOrEqual(few.ppm);
      expect(few.high).toBeGreaterThanOrEqual(few.ppm);
      const many = wilson(Math.min(hits, tries) * 10, tries * 10)!;
      expect(many.high - many.low).toBeLessThanOrEqual(few.high - few.low);
    }),
  );
});
