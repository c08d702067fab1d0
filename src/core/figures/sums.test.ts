import fc from 'fast-check';
import { expect, it } from 'vitest';
import { addSums, noSums, sumsByKey } from './sums';

it('what comes for a key is added up, and a day without anything stands with nothing', () => {
  const sums = sumsByKey(
    ['2027-03-11', '2027-03-12'],
    [
      ['2027-03-12', { clicks: 2 }],
      ['2027-03-12', { orders: 1, value: 19_900, commission: 1990 }],
      ['2027-03-13', { commission: -5 }],
    ],
  );
  expect([...sums]).toEqual([
    ['2027-03-11', noSums],
    ['2027-03-12', { clicks: 2, orders: 1, value: 19_900, commission: 1990 }],
    ['2027-03-13', { clicks: 0, orders: 0, value: 0, commission: -5 }],
  ]);
  expect(noSums).toEqual({ clicks: 0, orders: 0, value: 0, commission: 0 });
});

it('whatever comes in whatever order: the sums of the keys are the sum of the parts', () => {
  const amount = fc.integer({ min: -1_000_000, max: 1_000_000 });
  const part = fc.record({ clicks: amount, orders: amount, value: amount, commission: amount });
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.constantFrom('a', 'b', ''), part)), (parts) => {
      const all = [...sumsByKey(['a'], parts).values()].reduce(addSums, noSums);
      const backwards = [...sumsByKey([], [...parts].reverse()).values()].reduce(addSums, noSums);
      expect(all).toEqual(parts.reduce((sum, [, own]) => addSums(sum, own), noSums));
      expect(backwards).toEqual(all);
    }),
    { seed: 20270312 },
  );
});
