import { expect, it } from 'vitest';
import { misfitOf } from './misfit';

it.each([
  [9900, 9900, ''],
  [29_700, 9900, '€297.00 is the price of 3 units, €99.00 each; a picture reports one'],
  [100, 9900, '€1.00 is less than the price, €99.00'],
  [10_000, 9900, '€100.00 is more than the price, €99.00'],
  [100, null, 'The product has no price in EUR'],
  [100, 0, '€1.00 is more than the price, €0.00'],
  [0, 0, ''],
] as const)('%i at a price of %s: “%s”', (amount, price, words) => {
  expect(misfitOf(amount, price, 'EUR')).toBe(words);
});
