import { expect, it } from 'vitest';
import { countChange, shareChange } from './change';

it.each([
  [13, 7, {}, '+6'],
  [7, 13, {}, '−6'],
  [5, 5, {}, '='],
  [330, 268, { asShare: true }, '+23 %'],
  [268, 330, { asShare: true }, '−19 %'],
  [30, 49, { asShare: true }, '−19'],
  [9, 0, { asShare: true }, '+9'],
  [12_000, 2_000, {}, '+10,000'],
])('%i after %i, %j: %s', (now, before, how, said) => {
  expect(countChange(now, before, how)).toBe(said);
});

it.each([
  [39_000, 26_000, '+1.3'],
  [26_000, 39_000, '−1.3'],
  [26_000, 26_499, '='],
  [26_000, 26_500, '−0.1'],
  [null, 26_000, ''],
  [26_000, null, ''],
])('a share of %s after %s parts per million: %s', (now, before, said) => {
  expect(shareChange(now, before)).toBe(said);
});
